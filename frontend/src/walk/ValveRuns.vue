<script setup lang="ts">
// The valve in both modes side by side, after switching mode, and the valves of several circuits.
import { computed } from 'vue'
import type { RunExamination } from '../api/types'
import { useCatalogue } from '../stores/catalogue'
import { signed } from './figures'

const props = defineProps<{ runs: RunExamination[] }>()
const catalogue = useCatalogue()
const NAMES = [
  ['valve_suction_rise', 'suction rise'],
  ['valve_discharge_drop', 'discharge drop'],
  ['valve_bypass_fraction', 'bypassing'],
] as const
const read = computed(() => props.runs.filter((run) => NAMES.some(([name]) => run.indicators[name])))
const MAGNETS: Record<string, string> = { pass: 'full travel', fail: 'not all the way' }
const magnets = (run: RunExamination) => MAGNETS[run.checks.find((c) => c.code === 'valve.magnets')?.status ?? ''] ?? '–'
</script>

<template>
  <table v-if="read.length">
    <thead>
      <tr>
        <th scope="col">calling for</th><th scope="col">running in</th><th v-for="[name, title] in NAMES" :key="name" scope="col">{{ title }}</th><th scope="col">magnets</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="run in read" :key="run.id">
        <th scope="row"><template v-if="run.circuit">circuit {{ run.circuit }}, </template>{{ catalogue.word('mode', run.commanded_mode) }}</th>
        <td :class="{ other: !['unknown', run.commanded_mode].includes(run.apparent_mode) && run.commanded_mode !== 'defrost' }">{{ catalogue.word('apparent_mode', run.apparent_mode) }}</td>
        <td v-for="[name] in NAMES" :key="name" class="figure">
          <template v-if="run.indicators[name]">{{ signed(run.indicators[name]!.value) }} ± {{ signed(run.indicators[name]!.uncertainty) }} {{ catalogue.symbol(run.indicators[name]!.unit) }}</template>
          <template v-else>–</template>
        </td>
        <td>{{ magnets(run) }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
table {
  margin: 0 auto;
  font-size: 0.9rem;
}
th,
td {
  padding: 0.1rem 0.9rem;
  border-bottom: 1px solid var(--hair);
  text-align: left;
}
.other {
  font-weight: 700;
  text-decoration: underline;
}
thead th {
  font-weight: 400;
  color: var(--quiet);
}
</style>
