<script setup lang="ts">
// What stands on every report: the shop's name, its license, how it is reached. What is typed stays on this device until it is said.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { computed, onMounted, ref, watch } from 'vue'
import { useAttempt } from '../composables/useAttempt'
import { forget, keep, kept } from '../stores/shelf'
import { useShop } from '../stores/shop'

const SHELF = 'icepick.shop'
const FIELDS = [
  { name: 'name', label: 'Name', most: 120 },
  { name: 'license', label: 'License line', most: 120 },
  { name: 'contact', label: 'Address and telephone', most: 120 },
] as const
type Draft = Record<(typeof FIELDS)[number]['name'], string>

const store = useShop()
const { trouble, busy, attempt, once } = useAttempt()
const draft = ref<Draft>({ name: '', license: '', contact: '' })
const said = ref(false)
const stands = computed<Draft>(() => ({ name: '', license: '', contact: '', ...store.shop }))
const changed = computed(() => FIELDS.some(({ name }) => draft.value[name].trim() !== stands.value[name]))

onMounted(() => attempt(async () => {
  await store.load()
  try {
    draft.value = { ...stands.value, ...(JSON.parse(kept(SHELF) ?? '{}') as Partial<Draft>) }
  } catch {
    draft.value = { ...stands.value }
  }
}))
watch(draft, (now) => {
  if (changed.value) keep(SHELF, JSON.stringify(now))
  else forget(SHELF)
}, { deep: true })
const say = () => once(async () => {
  said.value = false
  await store.say(draft.value)
  draft.value = { ...stands.value }
  forget(SHELF)
  said.value = true
})
</script>

<template>
  <section class="panel" aria-labelledby="shop-title">
    <h2 id="shop-title">The shop on its reports</h2>
    <form @submit.prevent="say">
      <div v-for="field in FIELDS" :key="field.name">
        <label :for="`shop-${field.name}`">{{ field.label }}</label>
        <BFormInput :id="`shop-${field.name}`" v-model="draft[field.name]" :maxlength="field.most" autocomplete="off" />
      </div>
      <BButton type="submit" variant="primary" :disabled="busy || !changed">Put it on the reports</BButton>
    </form>
    <p v-if="said && !changed" role="status">From now on it stands on every report.</p>
    <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
  </section>
</template>

<style scoped>
section {
  padding: 0.9rem 1rem;
}
h2 {
  font-size: 1.1rem;
}
form {
  display: grid;
  gap: 0.6rem;
  justify-items: start;
}
form > div {
  width: 100%;
}
section > p {
  margin: 0.5rem 0 0;
}
</style>
