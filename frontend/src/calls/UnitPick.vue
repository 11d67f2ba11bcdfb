<script setup lang="ts">
// A unit of the book; where they are many, they are searched.
import { BFormSelect } from 'bootstrap-vue-next/components/BFormSelect'
import { computed, onScopeDispose, ref } from 'vue'
import type { UnitsFound } from '../api/types'

/** `found` are those there are to choose from, `other` what else can be chosen. */
const props = defineProps<{
  id: string
  label: string
  found: UnitsFound
  other: { value: number; text: string }
  silent: boolean
}>()
const emit = defineEmits<{ find: [words: string] }>()
const chosen = defineModel<number>({ required: true })
const AFTER_MS = 250

const words = ref('')
const many = computed(() => words.value !== '' || props.found.found > props.found.units.length)
const left = computed(() => props.found.found - props.found.units.length)
const options = computed(() => {
  const units = props.found.units.map((one) => ({ value: one.id, text: `${one.site} · ${one.label}` }))
  const more = left.value ? [{ value: -1, text: `… and ${left.value.toLocaleString()} more: find them above`, disabled: true }] : []
  return [...units, ...more, props.other]
})
let waiting: ReturnType<typeof setTimeout> | undefined
function type() {
  clearTimeout(waiting)
  waiting = setTimeout(() => emit('find', words.value.trim()), AFTER_MS)
}
onScopeDispose(() => clearTimeout(waiting))
</script>

<template>
  <div>
    <label :for="id">{{ label }}</label>
    <input v-if="many" v-model="words" type="search" class="form-control find" autocomplete="off" maxlength="200" :aria-label="`${label}: find`" placeholder="find: site, label, model …" :disabled="silent" @input="type" />
    <BFormSelect :id="id" v-model="chosen" :options="options" :disabled="silent" />
  </div>
</template>

<style scoped>
.find {
  margin-bottom: 0.3rem;
}
</style>
