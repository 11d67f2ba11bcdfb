<script setup lang="ts" generic="U extends string">
// A number with its unit, or nothing. What can't be read as a number stays in the field, marked.
import { BFormSelect } from 'bootstrap-vue-next/components/BFormSelect'
import { computed, ref, shallowRef, watch } from 'vue'
import { figure } from '../walk/figures'
import { inOneMessage, readNumber } from '../numbers/readNumber'
import { useBook } from '../stores/book'
import { useCatalogue } from '../stores/catalogue'

interface Quantity {
  value: number
  unit: U
}
/** `at` is where it stands in the unit (JSON pointer); a `difference` of pressures is above nothing: psi, not psig. */
const props = defineProps<{ id: string; label: string; units: readonly U[]; modelValue: Quantity | null | undefined; at?: string; difference?: boolean | undefined }>()
const emit = defineEmits<{ 'update:modelValue': [quantity: Quantity | null] }>()
const catalogue = useCatalogue()
const book = useBook()

const text = ref('')
/** An empty field is in the units the screen is in. */
const usual = () => props.units.find((one) => catalogue.displayUnits.includes(one)) ?? props.units[0]!
const unit = shallowRef<U>(usual())
const wrong = ref('')
const read = () => readNumber(text.value, [unit.value, ...props.units], catalogue.catalogue?.suffixes ?? {})
watch(
  () => props.modelValue,
  (now) => {
    const shown = read()
    if (now && 'value' in shown && shown.value === now.value && shown.unit === now.unit) return
    text.value = now ? String(now.value) : ''
    unit.value = now ? now.unit : usual()
  },
  { immediate: true },
)
watch(() => catalogue.displayUnits, () => {
  if (!text.value.trim()) unit.value = usual()
})
/** The same in the units the screen is in, where it was typed in others: what is printed on a plate stays as printed. */
const converted = computed(() => (props.at && props.modelValue ? book.stated[props.at] : undefined))
const symbol = (name: string) => (props.difference ? catalogue.symbolOfDifference(name) : catalogue.symbol(name))
const options = computed(() => props.units.map((value) => ({ value, text: symbol(value) })))

function put() {
  wrong.value = ''
  if (!text.value.trim()) return emit('update:modelValue', null)
  const found = read()
  if ('problem' in found) {
    wrong.value = inOneMessage(found)
    return
  }
  // `3.5kW` names its unit by itself.
  text.value = String(found.value)
  unit.value = found.unit as U
  emit('update:modelValue', { value: found.value, unit: unit.value })
}
function putUnit(chosen: unknown) {
  unit.value = chosen as U
  put()
}
</script>

<template>
  <div>
    <label :for="id">{{ label }}</label>
    <span v-if="converted" class="quiet converted"> = {{ figure(converted.value) }} {{ symbol(converted.unit) }}</span>
    <div class="line">
      <input :id="id" v-model="text" class="form-control" inputmode="decimal" autocomplete="off" :aria-invalid="!!wrong" @change="put" />
      <span v-if="units.length === 1" class="unit">{{ symbol(units[0]!) }}</span>
      <BFormSelect v-else :model-value="unit" :options="options" :aria-label="`${label}, unit`" @update:model-value="putUnit" />
    </div>
    <p v-if="wrong" class="fail" role="alert">{{ wrong }}</p>
  </div>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 0.3rem;
  align-items: center;
}
.converted {
  font-size: 0.9rem;
  white-space: nowrap;
}
.unit {
  min-width: 2rem;
}
p {
  margin: 0;
  font-size: 0.9rem;
}
</style>
