<script setup lang="ts">
// Which calls are listed.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormSelect } from 'bootstrap-vue-next/components/BFormSelect'
import { computed, onScopeDispose, ref, watch } from 'vue'
import type { UnitsFound, VisitsAsked } from '../api/types'
import { useCatalogue } from '../stores/catalogue'

const props = defineProps<{ asked: VisitsAsked; found: UnitsFound; silent: boolean }>()
const emit = defineEmits<{ ask: [asked: VisitsAsked] }>()
const catalogue = useCatalogue()
const AFTER_MS = 250
const ANY = { value: 0, text: 'any unit' }

const put = (part: Partial<VisitsAsked>) => emit('ask', { ...props.asked, page: undefined, ...part })
const options = (vocabulary: string, any: string) => [
  { value: '', text: any },
  ...Object.entries(catalogue.catalogue?.words[vocabulary] ?? {}).map(([value, text]) => ({ value, text })),
]

/** Too many to choose from in a list: they are found by their words. */
const many = computed(() => props.found.found > props.found.units.length)
const unitOptions = computed(() => [
  ANY,
  ...props.found.units
    .filter((one) => !many.value || one.id === props.asked.unit)
    .map((one) => ({ value: one.id, text: `${one.site} · ${one.label}` })),
])

// What is being typed is asked for once it stands still.
const words = ref(props.asked.words ?? '')
let waiting: ReturnType<typeof setTimeout> | undefined
const type = () => {
  clearTimeout(waiting)
  waiting = setTimeout(() => put({ words: words.value.trim() || undefined }), AFTER_MS)
}
onScopeDispose(() => clearTimeout(waiting))
watch(() => props.asked.words, (now) => {
  if (now !== (words.value.trim() || undefined)) words.value = now ?? ''
})
const filtered = computed(() => Object.entries(props.asked).some(([name, value]) => name !== 'page' && value !== undefined))
</script>

<template>
  <form class="filter" role="search" @submit.prevent>
    <div class="words">
      <label for="calls-words">Find</label>
      <input id="calls-words" v-model="words" type="search" class="form-control" autocomplete="off" maxlength="200" placeholder="site, unit, complaint, finding, note" :disabled="silent" @input="type" />
    </div>
    <div>
      <label for="calls-outcome">Outcome</label>
      <BFormSelect id="calls-outcome" :model-value="asked.outcome ?? ''" :options="options('status', 'any')" :disabled="silent" @update:model-value="(v) => put({ outcome: (v || undefined) as VisitsAsked['outcome'] })" />
    </div>
    <div>
      <label for="calls-mode">Mode</label>
      <BFormSelect id="calls-mode" :model-value="asked.mode ?? ''" :options="options('mode', 'any')" :disabled="silent" @update:model-value="(v) => put({ mode: (v || undefined) as VisitsAsked['mode'] })" />
    </div>
    <div>
      <label for="calls-since">Since</label>
      <input id="calls-since" :value="asked.since ?? ''" type="date" class="form-control" :disabled="silent" @change="put({ since: ($event.target as HTMLInputElement).value || undefined })" />
    </div>
    <div v-if="asked.unit || !many" class="unit">
      <label for="calls-of">On unit</label>
      <BFormSelect id="calls-of" :model-value="asked.unit ?? ANY.value" :options="unitOptions" :disabled="silent" @update:model-value="(unit) => put({ unit: Number(unit) || undefined })" />
    </div>
    <BButton v-if="filtered" :disabled="silent" @click="emit('ask', {})">show all</BButton>
    <p v-if="silent" class="quiet">Searching needs the server, which does not answer.</p>
  </form>
</template>

<style scoped>
.filter {
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
  align-items: end;
  padding: 3px;
  margin-bottom: 0.6rem;
}
.words {
  flex: 1 1 12rem;
}
.unit {
  flex: 1 1 10rem;
  min-width: 0;
  max-width: 20rem;
}
p {
  margin: 0;
  flex-basis: 100%;
}
</style>
