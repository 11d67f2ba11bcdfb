<script setup lang="ts">
// Recordings of a visit: which one, which of its defrosts, another laid over it; brought in as a file, or begun by hand.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import type { Drawn, RecordingExamination, RecordingLine } from '../api/types'
import { useAttempt } from '../composables/useAttempt'
import CsvButton from '../recorder/CsvButton.vue'
import LazyDetails from '../shell/LazyDetails.vue'
import StatusMark from '../shell/StatusMark.vue'
import { useRecordings } from '../stores/recordings'
import { useSettings } from '../stores/settings'
import { useVisit } from '../stores/visit'
import DefrostLive from './DefrostLive.vue'
import DefrostPicture from './DefrostPicture.vue'
import { clock, linesOf, windowOf } from './defrostLines'

const props = defineProps<{ visit: number; recordings: RecordingLine[]; examined: RecordingExamination[]; closed: boolean }>()
const settings = useSettings()
const store = useRecordings()
const onScreen = useVisit()
const { trouble, attempt } = useAttempt()

const chosen = ref('')
const line = computed(() => props.recordings.find((one) => one.id === chosen.value) ?? props.recordings.at(-1))
const seen = computed(() => props.examined.find((one) => one.id === line.value?.id))
const byHand = computed(() => line.value && !line.value.series.length)

/** Which defrost is looked at: its place, or −1 for all of the recording. */
const which = ref(-1)
const other = ref('')
watch(() => line.value?.id, () => ((which.value = -1), (other.value = '')))

const drawn = ref<Drawn | null>(null)
watch(
  () => [line.value?.entry_key, settings.units],
  () => attempt(async () => (drawn.value = line.value && !byHand.value ? await store.drawn(props.visit, line.value) : null)),
  { immediate: true },
)
const lines = computed(() => (drawn.value ? linesOf(drawn.value) : []))
const defrost = computed(() => seen.value?.defrosts[which.value])
const span = computed(() => windowOf(line.value?.seconds ?? 0, defrost.value))

// Every other defrost of the visit, to be laid over the one looked at.
const others = computed(() =>
  props.examined.flatMap((recording) =>
    recording.defrosts.flatMap((one, place) =>
      one.started === null || (recording.id === line.value?.id && place === which.value)
        ? []
        : [{ key: `${recording.id} ${place}`, recording: recording.id, started: one.started, words: `${recording.id === line.value?.id ? '' : `${recording.id}, `}the one at ${clock(one.started)}` }],
    ),
  ),
)
const over = ref<(ReturnType<typeof linesOf>[number] & { shift: number })[]>([])
watch(
  () => [other.value, which.value, settings.units, defrost.value?.started],
  () => attempt(async () => {
    const found = others.value.find((one) => one.key === other.value)
    const from = props.recordings.find((one) => one.id === found?.recording)
    const begun = defrost.value?.started
    over.value =
      found && from && begun != null
        ? linesOf(await store.drawn(props.visit, from)).map((one) => ({ ...one, shift: begun - found.started }))
        : []
  }),
)

const ORDER = { fail: 0, watch: 1, pass: 2, needs_readings: 3 }
const checks = computed(() => [...(seen.value?.checks ?? [])].sort((a, b) => ORDER[a.status] - ORDER[b.status]))
const limit = computed(() => {
  const found = seen.value?.settings.find((one) => one.name === 'limit')?.setting
  return found ? found.value * (found.unit === 'min' ? 60 : 1) : 600
})

async function begin() {
  await attempt(async () => {
    chosen.value = await store.add(props.visit, { mode: 'heating', circuit: onScreen.circuitId || null, started_at: new Date().toISOString() })
    await onScreen.load(props.visit)
  })
}

const day = (at: string) => new Date(at).toLocaleString('en-US', { month: 'short', day: 'numeric', hour: 'numeric', minute: '2-digit' })
</script>

<template>
  <div class="recordings">
    <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
    <div class="choose">
      <label v-if="recordings.length > 1">
        <span class="visually-hidden">Recording</span>
        <select :value="line?.id" class="form-select" @change="chosen = ($event.target as HTMLSelectElement).value">
          <option v-for="one in recordings" :key="one.id" :value="one.id">{{ one.id }}, {{ day(one.started_at) }}</option>
        </select>
      </label>
      <div v-if="seen && !byHand" role="group" aria-label="Which part" class="parts">
        <BButton :aria-pressed="which === -1" @click="which = -1">all</BButton>
        <BButton v-for="(one, place) in seen.defrosts" :key="place" :aria-pressed="which === place" @click="which = place">
          defrost{{ one.started === null ? '' : ` ${clock(one.started)}` }}
        </BButton>
      </div>
      <label v-if="which >= 0 && others.length">
        lay over
        <select v-model="other" class="form-select">
          <option value="">none</option>
          <option v-for="one in others" :key="one.key" :value="one.key">{{ one.words }}</option>
        </select>
      </label>
      <BButton v-if="!closed" class="hand" @click="begin">by hand, now</BButton>
      <RouterLink v-if="!closed" class="btn" :to="{ name: 'file', params: { id: visit } }">bring in a file</RouterLink>
      <CsvButton v-if="line && !byHand" :visit="visit" :recording="line.id" />
    </div>
    <div v-if="line && seen" class="both">
      <DefrostLive v-if="byHand" :line="line" :closed="closed" :limit="limit" @mark="(code, at) => onScreen.markRecording(line!.id, code, at)" />
      <DefrostPicture v-else-if="drawn" :lines="lines" :unit="drawn.unit" :examined="seen" :span="span" :over="over" :theme="settings.theme" />
      <div class="steps">
        <p v-if="defrost" class="told">{{ defrost.words }}.</p>
        <ul aria-label="Each step">
          <li v-for="check in checks" :key="check.code">
            <LazyDetails>
              <template #summary><summary><StatusMark :status="check.status" :word="false" /> {{ check.title }}</summary></template>
              <p>{{ check.explain }}</p>
              <p class="quiet">{{ check.basis }}</p>
            </LazyDetails>
            <p v-if="check.status === 'fail' || check.status === 'watch'" class="said">{{ check.explain }}</p>
          </li>
        </ul>
        <p v-for="doubt in seen.doubts" :key="doubt.explain" class="alert-line">{{ doubt.explain }}</p>
      </div>
    </div>
    <p v-else class="quiet none">
      No recording yet. Force a defrost and press each moment by hand, or bring in what probes recorded as a CSV file: the
      outdoor coil, the supply air and the outdoor air are enough.
    </p>
  </div>
</template>

<style scoped>
.recordings {
  display: flex;
  flex-direction: column;
  gap: 0.3rem;
  align-self: stretch;
  min-height: 100%;
  padding: 0.2rem 0.4rem;
}
.choose {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.3rem 0.6rem;
}
.choose label {
  display: inline-flex;
  align-items: center;
  gap: 0.4rem;
}
.form-select {
  width: auto;
}
.parts {
  display: flex;
  flex-wrap: wrap;
  gap: 0.25rem;
}
.btn[aria-pressed='true'] {
  border-color: var(--ink);
  font-weight: 600;
}
.hand {
  margin-left: auto;
}
.both {
  display: grid;
  align-items: start;
  grid-template-columns: minmax(0, 1fr) 15.5rem;
  gap: 0.7rem;
}
.steps ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
.steps li {
  border-bottom: 1px solid var(--hair);
}
summary {
  display: flex;
  align-items: center;
  gap: 0.5rem;
  min-height: var(--target);
  cursor: pointer;
  font-weight: 600;
}
.steps p {
  margin: 0 0 0.4rem;
  font-size: 0.92rem;
}
.steps details[open] + .said {
  display: none;
}
.none {
  max-width: 34rem;
  margin: 1rem auto;
}
@media (max-width: 64rem) {
  .both {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
