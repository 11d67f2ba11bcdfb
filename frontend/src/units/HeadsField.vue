<script setup lang="ts">
// How many heads a ductless unit has, and what each is.
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { BFormSelect } from 'bootstrap-vue-next/components/BFormSelect'
import type { Unit } from '../api/types'
import QuantityField from './QuantityField.vue'

type Head = NonNullable<Unit['heads']>[number]
/** Null for one head. */
const heads = defineModel<Head[] | null>({ required: true })
const MOST = 8
const COUNTS = Array.from({ length: MOST }, (_, n) => ({ value: n + 1, text: n ? `${n + 1}` : 'one' }))

function count(wanted: unknown) {
  const many = Number(wanted)
  const now = heads.value ?? []
  heads.value = many < 2 ? null : Array.from({ length: many }, (_, n) => now[n] ?? { label: `room ${n + 1}` })
}
const put = (at: number, part: Partial<Head>) => (heads.value = (heads.value ?? []).map((one, n) => (n === at ? { ...one, ...part } : one)))
</script>

<template>
  <fieldset class="heads">
    <div>
      <label for="b-heads">Heads</label>
      <BFormSelect id="b-heads" :model-value="heads?.length ?? 1" :options="COUNTS" @update:model-value="count" />
    </div>
    <div v-for="(one, at) in heads ?? []" :key="at" class="one">
      <div>
        <label :for="`b-head-${at}`">Head {{ at + 1 }}, its room</label>
        <BFormInput :id="`b-head-${at}`" :model-value="one.label" maxlength="200" autocomplete="off" @update:model-value="(v) => put(at, { label: String(v) })" />
      </div>
      <QuantityField :id="`b-head-capacity-${at}`" :at="`/heads/${at}/nominal_capacity`" label="its capacity" :units="['Btu/h', 'kW', 'W']" :model-value="one.nominal_capacity" @update:model-value="(v) => put(at, { nominal_capacity: v })" />
    </div>
    <p v-if="heads" class="quiet">
      One EEV for each, in the outdoor unit. Outdoors a head's number is that of its port, indoors that of its room; where
      every head states its capacity, the machine is that of those that call.
    </p>
  </fieldset>
</template>

<style scoped>
.heads {
  grid-column: 1 / -1;
  display: grid;
  gap: 0.45rem;
}
.one {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(9rem, 1fr));
  gap: 0.45rem 0.6rem;
}
p {
  margin: 0;
  font-size: 0.9rem;
}
</style>
