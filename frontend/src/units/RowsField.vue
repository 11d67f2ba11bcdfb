<script setup lang="ts" generic="A extends string, B extends string">
// A manufacturer's table of two columns; rows are added and taken away.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { ref, watch } from 'vue'
import QuantityField from './QuantityField.vue'

interface Column<U> {
  name: string
  units: readonly U[]
  difference?: boolean
}
type Cell<U> = { value: number; unit: U } | null
type Row = [Cell<A>, Cell<B>]
defineProps<{ id: string; label: string; first: Column<A>; second: Column<B>; at: string }>()
/** Whole rows only; a half-filled one waits here. */
const rows = defineModel<[{ value: number; unit: A }, { value: number; unit: B }][]>({ required: true })

const drafts = ref<Row[]>([]) as { value: Row[] }
const whole = () => drafts.value.filter((row) => row[0] && row[1]) as typeof rows.value
watch(
  rows,
  (now) => {
    if (JSON.stringify(now) !== JSON.stringify(whole())) drafts.value = now.map((row) => [...row])
  },
  { immediate: true },
)
const keep = () => (rows.value = whole())
function put(index: number, column: 0 | 1, cell: Cell<A> | Cell<B>) {
  drafts.value[index]![column] = cell as never
  keep()
}
function remove(index: number) {
  drafts.value.splice(index, 1)
  keep()
}
</script>

<template>
  <fieldset>
    <legend>{{ label }}</legend>
    <div v-for="(row, index) in drafts" :key="index" class="row-line">
      <QuantityField :id="`${id}-a-${index}`" :at="`${at}/${index}/${first.name}`" :label="first.name" :units="first.units" :difference="first.difference" :model-value="row[0]" @update:model-value="(cell) => put(index, 0, cell)" />
      <QuantityField :id="`${id}-b-${index}`" :at="`${at}/${index}/${second.name}`" :label="second.name" :units="second.units" :difference="second.difference" :model-value="row[1]" @update:model-value="(cell) => put(index, 1, cell)" />
      <BButton :aria-label="`Remove row ${index + 1}`" @click="remove(index)">−</BButton>
    </div>
    <BButton @click="drafts.push([null, null])">+ row</BButton>
  </fieldset>
</template>

<style scoped>
.row-line {
  display: grid;
  grid-template-columns: 1fr 1fr auto;
  gap: 0.4rem;
  align-items: end;
  margin-bottom: 0.4rem;
}
</style>
