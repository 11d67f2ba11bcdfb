<script setup lang="ts">
// The machine of a unit: what it does at its rating points, every number of its parts and what each rests on, and what nobody
// knows of it.
import { computed } from 'vue'
import type { MachineSheet } from '../api/types'
import { useCatalogue } from '../stores/catalogue'
import { signed } from '../walk/figures'

const props = defineProps<{ sheet: MachineSheet }>()
const catalogue = useCatalogue()
const symbol = (unit: string) => (unit === '1' ? '' : catalogue.symbol(unit))
/** What a part has of pressure it loses. */
const ofPart = (unit: string) => (unit === '1' ? '' : catalogue.symbolOfDifference(unit))
const amount = (value: number) => value.toLocaleString('en-US', { maximumFractionDigits: value < 100 ? 1 : 0 })
const parts = computed(() => [...new Set(props.sheet.rows.map((row) => row.part))])
</script>

<template>
  <p v-if="!sheet.sized" class="alert-line" role="alert">This machine can't be sized. {{ sheet.field }}: {{ sheet.why }}</p>
  <template v-else>
    <table>
      <caption>At its rating points</caption>
      <thead>
        <tr><th scope="col">mode</th><th scope="col">outdoor / indoor</th><th scope="col">capacity</th><th scope="col">compressor</th><th scope="col">suction / head</th><th scope="col">superheat / subcooling</th></tr>
      </thead>
      <tbody>
        <tr v-for="duty in sheet.duties" :key="duty.mode">
          <th scope="row">{{ duty.mode }}, {{ duty.standard }}</th>
          <td class="figure">{{ signed(duty.outdoor, 0) }} / {{ signed(duty.indoor, 0) }} {{ symbol(duty.temperature_unit) }}</td>
          <td class="figure">{{ amount(duty.capacity) }} {{ symbol(duty.capacity_unit) }}</td>
          <td class="figure">{{ amount(duty.power) }} {{ symbol(duty.power_unit) }}</td>
          <td class="figure">{{ signed(duty.suction, 0) }} / {{ signed(duty.head, 0) }} {{ symbol(duty.pressure_unit) }}</td>
          <td class="figure">{{ signed(duty.superheat) }} / {{ signed(duty.subcooling) }} {{ symbol(duty.difference_unit) }}</td>
        </tr>
      </tbody>
    </table>
    <table>
      <caption>Its parts</caption>
      <tbody v-for="part in parts" :key="part">
        <tr><th class="part" colspan="3" scope="rowgroup">{{ part }}</th></tr>
        <tr v-for="row in sheet.rows.filter((one) => one.part === part)" :key="row.title">
          <th scope="row">{{ row.title }}</th>
          <td class="figure">{{ row.value.toLocaleString('en-US') }} {{ ofPart(row.unit) }}</td>
          <td class="quiet">{{ row.rests_on }}</td>
        </tr>
      </tbody>
    </table>
    <table>
      <caption>What is not known of it, and how far off it may be (two units in three are closer)</caption>
      <tbody>
        <tr v-for="row in sheet.unknown" :key="row.name">
          <th scope="row">{{ row.title }}</th>
          <td class="figure">± {{ row.value.toLocaleString('en-US') }} {{ symbol(row.unit) }}</td>
          <td class="quiet">{{ row.reason }}</td>
        </tr>
      </tbody>
    </table>
  </template>
</template>

<style scoped>
table {
  width: 100%;
  margin-bottom: 0.8rem;
  border-collapse: collapse;
  font-size: 0.88rem;
}
caption {
  caption-side: top;
  padding: 0.2rem 0;
  color: var(--ink);
  font-weight: 600;
}
th,
td {
  padding: 0.15rem 0.5rem 0.15rem 0;
  text-align: left;
  vertical-align: top;
  font-weight: 400;
  border-bottom: 1px solid var(--hair);
}
td.figure {
  white-space: nowrap;
}
thead th {
  color: var(--quiet);
}
@media (max-width: 40rem) {
  tbody tr {
    display: grid;
    grid-template-columns: 1fr auto;
    border-bottom: 1px solid var(--hair);
  }
  tbody th,
  tbody td {
    border: 0;
  }
  tbody td.quiet {
    grid-column: 1 / -1;
  }
  thead {
    display: none;
  }
}
.part {
  padding-top: 0.5rem;
  font-weight: 600;
}
</style>
