<script setup lang="ts">
// Recordings of the visit: zoomed into, and a stretch cut out whose means become readings of a run.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref, shallowRef, watch } from 'vue'
import { RouterLink } from 'vue-router'
import type { Live, RecordingLine, WindowShown } from '../api/types'
import { useAttempt } from '../composables/useAttempt'
import { useCatalogue } from '../stores/catalogue'
import { useLive } from '../stores/live'
import { useSettings } from '../stores/settings'
import { useVisit } from '../stores/visit'
import { clock } from '../walk/defrostLines'
import CsvButton from './CsvButton.vue'
import ManyLines from './ManyLines.vue'
import { bytes, inOrder, lookOf, type ManySeries } from './manyLines'

const props = defineProps<{ visit: number; recordings: RecordingLine[]; growing: Live['recording']; run: string; shut: string; theme: string }>()
const emit = defineEmits<{ said: [words: string] }>()
const catalogue = useCatalogue()
const live = useLive()
const settings = useSettings()
const { trouble, busy, attempt, once } = useAttempt()

const END = 2_592_000
const MOST = 1500
const name = ref('')
const shown = shallowRef<WindowShown | null>(null)
const zoom = ref<[number, number] | null>(null)
const cut = ref<[number, number] | null>(null)
const hidden = ref(new Set<string>())
watch(
  () => props.recordings.map((one) => one.id).join(),
  () => {
    if (!props.recordings.some((one) => one.id === name.value)) name.value = props.growing?.recording ?? props.recordings.at(-1)?.id ?? ''
  },
  { immediate: true },
)
const isGrowing = computed(() => props.growing?.recording === name.value)
const line = computed(() => props.recordings.find((one) => one.id === name.value))

watch(
  // One that grows is looked at again every few seconds.
  () => [name.value, zoom.value, settings.units, isGrowing.value ? Math.floor((props.growing?.seconds ?? 0) / 3) : line.value?.seconds],
  () =>
    attempt(async () => {
      if (!name.value) return void (shown.value = null)
      const [from, to] = zoom.value ?? [0, END]
      shown.value = await live.window(name.value, Math.max(0, from), to, MOST)
    }),
  { immediate: true },
)
watch(name, () => {
  zoom.value = null
  cut.value = null
})

const seconds = computed(() => shown.value?.seconds ?? [])
const span = computed<[number, number]>(() => zoom.value ?? [seconds.value[0] ?? 0, Math.max(seconds.value.at(-1) ?? 60, 1)])
const series = computed<ManySeries[]>(() =>
  inOrder(shown.value?.series ?? [])
    .filter((one) => one.quantity !== 'state')
    .map((one, n) => ({ ...one, key: `${one.station} ${one.quantity}`, name: catalogue.titleOf(one.station, one.quantity).length > 30 ? catalogue.short(one.station) : catalogue.titleOf(one.station, one.quantity), ...lookOf(n) })),
)
const marks = computed(() => (line.value?.marks ?? []).map((mark) => ({ seconds: mark.seconds, words: catalogue.word('mark', mark.code) })))
const toggle = (key: string) => {
  const next = new Set(hidden.value)
  if (!next.delete(key)) next.add(key)
  hidden.value = next
}
const within = (value: number) => Math.min(Math.max(value, 0), END)
const from = computed({ get: () => Math.round((cut.value ?? span.value)[0]), set: (value) => (cut.value = [within(value), (cut.value ?? span.value)[1]]) })
const to = computed({ get: () => Math.round((cut.value ?? span.value)[1]), set: (value) => (cut.value = [(cut.value ?? span.value)[0], within(value)]) })
const samples = computed(() => (line.value?.series ?? []).reduce((sum, one) => sum + one.samples, 0))
const takeMeans = () =>
  once(async () => {
    const { taken } = await live.takeMeans(name.value, props.run, from.value, to.value)
    emit('said', `Means of ${clock(from.value)} to ${clock(to.value)} taken as ${taken} readings of ${props.run.replace('-', ' ')}.`)
    await useVisit().load(props.visit)
  })
</script>

<template>
  <div class="recorded">
    <p v-if="!recordings.length" class="quiet">No recordings in this visit yet. Press r while probes are heard, or <RouterLink :to="{ name: 'file', params: { id: visit } }">bring in a file</RouterLink>.</p>
    <template v-else>
      <div class="controls">
        <select v-model="name" aria-label="Recording">
          <option v-for="one in recordings" :key="one.id" :value="one.id">{{ one.id.replace('-', ' ') }}, {{ catalogue.word('mode', one.mode) }}{{ growing?.recording === one.id ? ', being recorded' : `, ${clock(one.seconds)}` }}</option>
        </select>
        <span class="quiet">{{ isGrowing && growing ? `${clock(growing.seconds)}, ${growing.samples.toLocaleString('en-US')} samples, ${bytes(growing.bytes)} on disk` : `${samples.toLocaleString('en-US')} samples` }}{{ shown && shown.every > 1 ? `; means of ${shown.every}` : '' }}</span>
        <BButton size="sm" :disabled="!zoom" @click="zoom = null">all of it</BButton>
        <BButton size="sm" :disabled="!cut" @click="zoom = cut">zoom in</BButton>
        <CsvButton v-if="line && !isGrowing" :visit="visit" :recording="name" />
        <RouterLink class="btn bring" :to="{ name: 'file', params: { id: visit } }">bring in a file</RouterLink>
      </div>
      <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
      <ManyLines v-if="shown && series.length" :seconds="seconds" :series="series" :span="span" :marks="marks" :theme="theme" :hidden="hidden" @toggle="toggle" @cut="(a, b) => (cut = [a, b])" />
      <p v-else class="quiet">Nothing recorded yet.</p>
      <div class="controls cut">
        <label>from <input v-model.number="from" type="number" min="0" step="1" /> s</label>
        <label>to <input v-model.number="to" type="number" min="0" step="1" /> s</label>
        <span class="quiet">{{ clock(from) }} to {{ clock(to) }}</span>
        <BButton :disabled="shut !== '' || busy || to <= from" @click="takeMeans">take its means into {{ run.replace('-', ' ') }}</BButton>
      </div>
    </template>
  </div>
</template>

<style scoped>
.recorded {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) auto;
  height: 100%;
  padding: 0 0.5rem 0.4rem;
}
.controls {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.4rem;
}
select,
input {
  min-height: var(--target);
}
input {
  width: 5.5rem;
}
@media (max-width: 60rem) {
  .recorded {
    height: auto;
  }
}
.bring {
  margin-left: auto;
}
</style>
