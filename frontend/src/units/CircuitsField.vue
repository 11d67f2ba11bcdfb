<script setup lang="ts">
// How many refrigerant circuits a unit has, and what each has of its own.
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { BFormSelect } from 'bootstrap-vue-next/components/BFormSelect'
import { computed } from 'vue'
import type { Unit } from '../api/types'
import { useCatalogue } from '../stores/catalogue'
import QuantityField from './QuantityField.vue'

type Circuit = NonNullable<Unit['circuits']>[number]
/** Null for one circuit. */
const circuits = defineModel<Circuit[] | null>({ required: true })
const catalogue = useCatalogue()
const MOST = 8
const COUNTS = Array.from({ length: MOST }, (_, n) => ({ value: n + 1, text: n ? `${n + 1}` : 'one' }))
const COMPRESSORS = computed(() => [
  { value: '', text: 'as above' },
  ...Object.entries(catalogue.catalogue?.words.compressor ?? {}).map(([value, text]) => ({ value, text })),
])

function count(wanted: unknown) {
  const many = Number(wanted)
  const now = circuits.value ?? []
  circuits.value = many < 2 ? null : Array.from({ length: many }, (_, n) => now[n] ?? { id: String(n + 1) })
}
const put = (at: number, part: Partial<Circuit>) =>
  (circuits.value = (circuits.value ?? []).map((one, n) => (n === at ? { ...one, ...part } : one)))
</script>

<template>
  <fieldset class="circuits">
    <div>
      <label for="b-circuits">Circuits</label>
      <BFormSelect id="b-circuits" :model-value="circuits?.length ?? 1" :options="COUNTS" @update:model-value="count" />
    </div>
    <div v-for="(one, at) in circuits ?? []" :key="at" class="one">
      <div>
        <label :for="`b-circuit-${at}`">Circuit {{ at + 1 }} is called</label>
        <BFormInput :id="`b-circuit-${at}`" :model-value="one.id" maxlength="20" autocomplete="off" @update:model-value="(v) => put(at, { id: String(v) })" />
      </div>
      <QuantityField :id="`b-circuit-capacity-${at}`" :at="`/circuits/${at}/nominal_capacity`" label="its capacity" :units="['Btu/h', 'kW', 'W']" :model-value="one.nominal_capacity" @update:model-value="(v) => put(at, { nominal_capacity: v })" />
      <div>
        <label :for="`b-circuit-compressor-${at}`">its compressor</label>
        <BFormSelect :id="`b-circuit-compressor-${at}`" :model-value="one.compressor?.kind ?? ''" :options="COMPRESSORS" @update:model-value="(v) => put(at, { compressor: v ? { ...one.compressor, kind: v as 'single' } : null })" />
      </div>
    </div>
    <p v-if="circuits" class="quiet">
      Each has the metering devices, drier, accumulator and reversing valve above, and shares the air or water. Without a
      capacity of its own it has an equal share.
    </p>
  </fieldset>
</template>

<style scoped>
.circuits {
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
