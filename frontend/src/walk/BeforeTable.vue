<script setup lang="ts">
// Each indicator of a run beside its value at the nearest conditions before.
import type { Comparison, PastRun } from '../api/types'
import { useCatalogue } from '../stores/catalogue'
import { figure, signed } from './figures'

defineProps<{ comparison: Comparison; now: PastRun; chosen: string }>()
defineEmits<{ choose: [indicator: string] }>()
const catalogue = useCatalogue()
const day = (at: string) => new Date(at).toLocaleDateString(undefined, { year: 'numeric', month: 'short', day: 'numeric' })
const conditions = (run: PastRun) =>
  [['outdoors', run.outdoors], ['indoors', run.indoors]]
    .flatMap(([where, one]) => (one && typeof one !== 'string' ? [`${where} ${signed(one.value)} ${catalogue.symbol(one.unit)}`] : []))
    .join(', ')
const step = (value: number, like: number) => (value > 0 ? '+' : '') + figure(value, like)
</script>

<template>
  <p>
    Now: {{ conditions(now) || 'conditions not read' }}. Before:
    <RouterLink :to="{ name: 'walk', params: { id: comparison.before.visit } }">{{ day(comparison.before.opened_at) }}</RouterLink>,
    {{ conditions(comparison.before) || 'conditions not read' }}.
    <b v-if="!comparison.near">
      <template v-if="comparison.apart">{{ signed(comparison.apart.value) }} {{ catalogue.symbol(comparison.apart.unit) }} apart: a change may be the weather's.</template>
      <template v-else>No condition was read both times: a change may be the weather's.</template>
    </b>
  </p>
  <p v-if="!comparison.changes.length" class="quiet">Nothing could be worked out on both visits.</p>
  <table v-else>
    <thead>
      <tr><th scope="col">figure</th><th scope="col">now</th><th scope="col">before</th><th scope="col">change</th><th scope="col">beyond band</th></tr>
    </thead>
    <tbody>
      <tr v-for="one in comparison.changes" :key="one.indicator" :class="{ clear: one.clear }">
        <th scope="row">
          <button type="button" :aria-pressed="chosen === one.indicator" @click="$emit('choose', one.indicator)">{{ catalogue.word('indicator', one.indicator) }}</button>
        </th>
        <td class="figure">{{ figure(one.now) }}</td>
        <td class="figure">{{ figure(one.before, one.now) }}</td>
        <td class="figure">{{ step(one.change, one.now) }} <span class="quiet">± {{ figure(one.uncertainty, one.now) }} {{ catalogue.symbolOf(one.indicator, one.unit) }}</span></td>
        <td>{{ one.clear ? 'yes' : 'no' }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
p {
  margin: 0 0 0.4rem;
}
table {
  width: 100%;
}
th,
td {
  padding: 0 0.75rem 0 0;
  border-bottom: 1px solid var(--hair);
  text-align: right;
  font-weight: 400;
}
th:first-child {
  text-align: left;
}
.clear td,
.clear button {
  font-weight: 700;
}
button {
  min-height: 2.2rem;
  padding: 0 0.3rem;
  background: none;
  border: 1px solid transparent;
  color: var(--ink);
  text-align: left;
}
button[aria-pressed='true'] {
  border-color: var(--ink);
}
@media (max-width: 40rem) {
  table {
    font-size: 0.88rem;
  }
  th,
  td {
    padding-right: 0.3rem;
  }
}
@media (pointer: coarse) {
  button {
    min-height: var(--target);
  }
}
</style>
