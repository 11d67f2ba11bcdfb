<script setup lang="ts" generic="U extends string">
// A number with its unit, or nothing. What can't be read as a number stays in the field, marked.
import { BFormSelect } from 'bootstrap-vue-next/components/BFormSelect'
import { computed, ref, shallowRef, watch } from 'vue'
import { useCatalogue } from '../stores/catalogue'

interface Quantity {
  value: number
  unit: U
}
const props = defineProps<{ id: string; label: string; units: readonly U[]; modelValue: Quantity | null | undefined }>()
const emit = defineEmits<{ 'update:modelValue': [quantity: Quantity | null] }>()
const catalogue = useCatalogue()

const text = ref('')
const unit = shallowRef<U>(props.units[0]!)
const wrong = ref(false)
watch(
  () => props.modelValue,
  (now) => {
    if (now && Number(text.value.replace(',', '.')) === now.value && unit.value === now.unit) return
    text.value = now ? String(now.value) : ''
    if (now) unit.value = now.unit
  },
  { immediate: true },
)
const options = computed(() => props.units.map((value) => ({ value, text: catalogue.symbol(value) })))

function put() {
  const typed = text.value.trim().replace(',', '.')
  const value = Number(typed)
  wrong.value = typed !== '' && !Number.isFinite(value)
  if (!wrong.value) emit('update:modelValue', typed === '' ? null : { value, unit: unit.value })
}
function putUnit(chosen: unknown) {
  unit.value = chosen as U
  put()
}
</script>

<template>
  <div>
    <label :for="id">{{ label }}</label>
    <div class="line">
      <input :id="id" v-model="text" class="form-control" inputmode="decimal" autocomplete="off" :aria-invalid="wrong" @change="put" />
      <span v-if="units.length === 1" class="unit">{{ catalogue.symbol(units[0]!) }}</span>
      <BFormSelect v-else :model-value="unit" :options="options" :aria-label="`${label}, unit`" @update:model-value="putUnit" />
    </div>
    <p v-if="wrong" class="fail" role="alert">“{{ text }}” is not a number.</p>
  </div>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 0.3rem;
  align-items: center;
}
.unit {
  min-width: 2rem;
}
p {
  margin: 0;
  font-size: 0.9rem;
}
</style>
