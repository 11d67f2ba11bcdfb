<script setup lang="ts">
// A number among the reasons: what was measured beside what a sound unit and one with the fault would show, on one scale, and
// the readings it was made of.
import { computed } from 'vue'
import type { Compared, RunExamination } from '../api/types'
import LazyDetails from '../shell/LazyDetails.vue'
import { useCatalogue } from '../stores/catalogue'
import { figure } from './figures'

const props = defineProps<{ compared: Compared; runs: RunExamination[]; sound: boolean }>()
const catalogue = useCatalogue()

const rows = computed(() => [
  { name: 'measured', of: props.compared.measured },
  { name: 'sound', of: props.compared.sound },
  { name: props.sound ? 'with the likeliest fault' : 'with this fault', of: props.compared.fault },
])
const LEFT = 4
const RIGHT = 96
const ends = computed(() => {
  const values = rows.value.flatMap(({ of }) => [of.value - of.uncertainty, of.value + of.uncertainty])
  return [Math.min(...values), Math.max(...values)] as const
})
const at = (value: number) => LEFT + ((RIGHT - LEFT) * (value - ends.value[0])) / (ends.value[1] - ends.value[0] || 1)
const made = computed(() => {
  const { run, name, quantity } = props.compared
  const uses = quantity ? [name] : (props.runs.find((one) => one.id === run)?.indicators[name]?.uses ?? [])
  return uses.map(catalogue.short).join('; ')
})
</script>

<template>
  <LazyDetails class="compared">
    <template #summary><summary>{{ compared.words }}</summary></template>
    <div v-for="row in rows" :key="row.name" class="beside">
      <span class="quiet">{{ row.name }}</span>
      <span class="figure">{{ figure(row.of.value) }} ± {{ figure(row.of.uncertainty) }} {{ catalogue.symbol(row.of.unit) }}</span>
      <span class="scale" aria-hidden="true">
        <span class="band" :style="{ left: `${at(row.of.value - row.of.uncertainty)}%`, right: `${100 - at(row.of.value + row.of.uncertainty)}%` }" />
        <span class="point" :style="{ left: `${at(row.of.value)}%` }" />
      </span>
    </div>
    <p v-if="made" class="quiet">from: {{ made }}</p>
  </LazyDetails>
</template>

<style scoped>
summary {
  cursor: pointer;
  min-height: var(--target);
  align-content: center;
}
.beside {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 0 0.5rem;
}
.scale {
  grid-column: 1 / -1;
  position: relative;
  height: 9px;
  margin-bottom: 0.2rem;
  background: var(--raised);
}
.band,
.point {
  position: absolute;
  top: 0;
  bottom: 0;
}
.band {
  background: var(--edge);
}
.point {
  width: 3px;
  margin-left: -1.5px;
  background: var(--ink);
}
p {
  margin: 0 0 0.3rem;
}
</style>
