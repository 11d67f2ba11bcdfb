<script setup lang="ts">
// The runs side by side: the same station in every run; or this run beside earlier visits.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref } from 'vue'
import type { RunExamination } from '../api/types'
import { useCatalogue } from '../stores/catalogue'
import { spotKey } from '../stores/visit'
import BeforePane from './BeforePane.vue'
import { figure } from './figures'

const props = defineProps<{ visit: number; runs: RunExamination[]; current: string }>()
const catalogue = useCatalogue()
const VIEWS = { visit: 'this visit', before: 'earlier visits' } as const
const view = ref<keyof typeof VIEWS>('visit')
const count = computed(() => props.runs.reduce((sum, run) => sum + run.readings.reduce((n, r) => n + 1 + r.earlier, 0), 0))

const columns = computed(() =>
  props.runs.map((run) => ({ run, values: new Map(run.readings.map((r) => [spotKey(r), r])) })),
)
const rows = computed(() => {
  const seen = new Map(props.runs.flatMap((run) => run.readings.map((r) => [spotKey(r), r] as const)))
  const order = catalogue.inWalkingOrder([...seen.values()].map((r) => r.station))
  return [...seen.values()].sort((a, b) => order.indexOf(a.station) - order.indexOf(b.station))
})
</script>

<template>
  <div class="runs-table" tabindex="0" role="region" aria-label="Runs side by side">
    <div class="views" role="group" aria-label="Compare with">
      <BButton v-for="(name, key) in VIEWS" :key="key" :aria-pressed="view === key" @click="view = key">{{ name }}</BButton>
    </div>
    <BeforePane v-if="view === 'before'" :visit="visit" :run="current" :readings="count" />
    <p v-else-if="!rows.length">No readings yet.</p>
    <table v-else>
      <thead>
        <tr>
          <th scope="col">station</th>
          <th v-for="(column, index) in columns" :key="column.run.id" scope="col">
            run {{ index + 1 }}<template v-if="column.run.circuit">, circuit {{ column.run.circuit }}</template> {{ catalogue.word('mode', column.run.commanded_mode) }}
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="spotKey(row)">
          <th scope="row">{{ catalogue.titleOf(row.station, row.quantity) }}</th>
          <td v-for="column in columns" :key="column.run.id" class="figure">
            <template v-if="column.values.get(spotKey(row))">
              {{ figure(column.values.get(spotKey(row))!.value) }} <span class="quiet">{{ catalogue.symbol(row.unit) }}</span>
            </template>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.runs-table {
  height: 100cqh;
  overflow: auto;
  padding: 0 0.75rem;
}
.views {
  display: flex;
  gap: 0.4rem;
  margin: 0.3rem 0;
}
.views .btn[aria-pressed='true'] {
  border: 2px solid var(--ink);
  font-weight: 600;
}
table {
  width: 100%;
}
th,
td {
  padding: 0.15rem 0.75rem 0.15rem 0;
  border-bottom: 1px solid var(--hair);
}
thead th {
  position: sticky;
  top: 0;
  background: var(--panel);
}
td,
th + th {
  text-align: right;
}
tbody th {
  font-weight: 400;
}
@media (max-width: 64rem) {
  .runs-table {
    height: auto;
  }
}
</style>
