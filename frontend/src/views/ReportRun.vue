<script setup lang="ts">
// One run in the report: its checks and every reading in force.
import { computed } from 'vue'
import type { RunExamination } from '../api/types'
import StatusMark from '../shell/StatusMark.vue'
import { useCatalogue } from '../stores/catalogue'
import { plain, signed } from '../walk/figures'

const props = defineProps<{ run: RunExamination; number: number; notes: string | null }>()
const catalogue = useCatalogue()

const readings = computed(() => {
  const order = catalogue.inWalkingOrder(props.run.readings.map((reading) => reading.station))
  return [...props.run.readings].sort((a, b) => order.indexOf(a.station) - order.indexOf(b.station))
})
/** Which heads called, where the unit has several. */
const calling = computed(() => {
  const heads = props.run.heads ?? []
  const called = heads.filter((head) => head.calls).map((head) => `${head.number} ${head.label}`)
  if (!heads.length) return ''
  return heads.every((head) => head.calls === null) ? 'nobody noted which heads called' : `heads calling: ${called.join(', ') || 'none'}`
})
const telling = computed(() => props.run.checks.filter((check) => check.status === 'fail' || check.status === 'watch'))
const passed = computed(() => props.run.checks.filter((check) => check.status === 'pass').map((check) => check.title).join('; '))
const name = (reading: RunExamination['readings'][number]) =>
  catalogue.title(reading.station) + (reading.quantity === 'temperature' ? '' : `, ${catalogue.word('quantity', reading.quantity)}`)
</script>

<template>
  <section>
    <h2>
      Run {{ number }}<template v-if="run.circuit"> on circuit {{ run.circuit }}</template><template v-if="calling">, {{ calling }}</template>: calling for {{ catalogue.word('mode', run.commanded_mode) }} · running in
      {{ catalogue.word('apparent_mode', run.apparent_mode) }}
    </h2>
    <p v-if="!readings.length" class="notes">No readings were taken.</p>
    <p v-if="passed" class="notes">Passed: {{ passed }}.</p>
    <table v-if="telling.length" class="checks">
      <thead class="visually-hidden"><tr><th>Outcome</th><th>Check</th><th>Measured and limit</th><th>Why</th></tr></thead>
      <tbody>
        <tr v-for="check in telling" :key="check.code">
          <td><StatusMark :status="check.status" /></td>
          <th scope="row">{{ check.title }}</th>
          <td class="figure">
            <template v-if="check.measured">{{ signed(check.measured.value) }}<template v-if="check.limit"> | {{ plain(check.limit.value) }}
              {{ catalogue.symbolOf(check.code, check.limit.unit) }}</template></template>
          </td>
          <td>{{ check.explain }}</td>
        </tr>
      </tbody>
    </table>
    <ul class="readings" aria-label="Readings">
      <li v-for="reading in readings" :key="`${reading.station} ${reading.quantity}`">
        <span>{{ name(reading) }}<template v-if="reading.early"> (early)</template></span>
        <span class="figure">{{ signed(reading.value) }} {{ catalogue.symbol(reading.unit) }}</span>
      </li>
    </ul>
    <p v-if="notes" class="notes">{{ notes }}</p>
  </section>
</template>

<style scoped>
section {
  break-inside: avoid;
  margin-top: 0.6rem;
}
h2 {
  border-bottom: 1px solid var(--hair);
  padding-bottom: 0.2rem;
}
.checks {
  width: 100%;
  margin: 0.3rem 0;
}
.checks td,
.checks th {
  padding: 0.1rem 0.8rem 0.1rem 0;
  vertical-align: top;
}
.checks th,
.checks .figure {
  white-space: nowrap;
}
.readings {
  list-style: none;
  padding: 0;
  margin: 0.4rem 0;
  columns: 2;
  column-gap: 2rem;
}
.readings li {
  display: flex;
  justify-content: space-between;
  gap: 0.5rem;
  border-bottom: 1px dotted var(--hair);
  break-inside: avoid;
}
.readings .figure {
  white-space: nowrap;
}
.notes {
  margin: 0.3rem 0 0;
}
@media screen and (max-width: 40rem) {
  .readings {
    columns: 1;
  }
  .checks,
  .checks tbody,
  .checks tr {
    display: block;
  }
  .checks td,
  .checks th {
    display: inline-block;
  }
}
</style>
