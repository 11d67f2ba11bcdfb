<script setup lang="ts">
// A file that probes or a logger wrote: its columns as they are written, what each of them holds, what can't be used of it.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import type { FileSaid, Mode } from '../api/types'
import { useAttempt } from '../composables/useAttempt'
import FileColumns, { type Said } from '../recorder/FileColumns.vue'
import { fieldOf, inHours, inMinutes, offsetOf, startOf } from '../recorder/fileClock'
import { bytes } from '../recorder/manyLines'
import ChooseFile from '../shell/ChooseFile.vue'
import FileProgress from '../shell/FileProgress.vue'
import { useCatalogue } from '../stores/catalogue'
import { useRecordingFile } from '../stores/recordingFile'
import { useVisit } from '../stores/visit'
import { clock } from '../walk/defrostLines'

const props = defineProps<{ id: number }>()
const catalogue = useCatalogue()
const visit = useVisit()
const file = useRecordingFile()
const { trouble, busy, attempt, once } = useAttempt()
watch(() => props.id, (id) => attempt(() => Promise.all([visit.open(id), file.resume(id)])), { immediate: true })

const now = computed(() => (file.visit === props.id ? file.now : null))
const found = computed(() => now.value?.found ?? null)
const shut = computed(() => visit.shut)

// What is said of it here; the server answers what that means.
const said = ref<Said[]>([])
const unit = ref<FileSaid['clock_unit']>(null)
const started = ref('')
const offset = ref('')
const mode = ref<Mode>('heating')
const circuit = ref('')
const circuits = computed(() => visit.circuits.map((one) => one.id))
const minutes = ref<number | ''>('')
const leaveOut = ref(false)
const recording = ref('')

watch(
  () => now.value?.id,
  () => {
    recording.value = started.value = offset.value = ''
    leaveOut.value = false
  },
)
watch(
  () => found.value !== null && now.value?.id,
  (fresh) => {
    if (!fresh || !found.value) return
    said.value = found.value.columns.map((one) => ({ known: one.known !== null, place: one.place }))
    const { counts, has_offset, first, ...its } = found.value.clock
    unit.value = its.unit
    started.value = fieldOf(its.started_at)
    offset.value = its.offset === null ? '' : inHours(its.offset)
    // Times without an offset are mostly those of the place where they were written.
    if (!counts && !has_offset && !offset.value) {
      offset.value = offsetOf(first)
      void tell()
    }
  },
  { immediate: true },
)

const tell = () =>
  attempt(() =>
    file.say({
      columns: said.value.flatMap((one, column) => (one.known ? [{ column, place: one.place }] : [])),
      clock_unit: unit.value ?? null,
      started_at: startOf(started.value),
      offset: inMinutes(offset.value),
    }),
  )
function change(column: number, one: Said) {
  said.value[column] = one
  void tell()
}

const wanting = computed(() => found.value?.wanting ?? [])
const ofClock = computed(() => wanting.value.filter((one) => one.where === 'clock'))
const refused = computed(() => (found.value ? found.value.refused_rows + found.value.refused_cells : 0))
const many = (count: number, what: string) => `${count.toLocaleString('en-US')} ${what}${count === 1 ? '' : 's'}`
const inWords = computed(() =>
  [found.value?.refused_rows ? many(found.value.refused_rows, 'row') : '', found.value?.refused_cells ? many(found.value.refused_cells, 'cell') : ''].filter(Boolean).join(' and '),
)
const ready = computed(() => found.value && !wanting.value.length && (!refused.value || leaveOut.value))
const doing = computed(() => {
  const one = now.value
  if (one?.state === 'arriving') return { words: 'sending', done: one.received, of: one.bytes }
  if (one?.state === 'reading') return { words: 'reading', done: one.done, of: one.of }
  if (one?.state === 'entering') return { words: 'entering', done: 1, of: 1 }
  return null
})

const enter = () =>
  once(async () => {
    const made = await file.enter({ mode: mode.value, circuit: circuit.value || null, minutes_running: minutes.value === '' ? null : minutes.value, leave_out: leaveOut.value })
    if (!made) return
    recording.value = made
    await visit.load(props.id)
  })
</script>

<template>
  <div class="page">
    <h1>Bring in a recording<template v-if="visit.view">: {{ visit.view.visit.site.name }}, {{ visit.view.visit.unit.label }}</template></h1>
    <p v-if="trouble || now?.trouble" class="alert-line" role="alert">{{ trouble || now?.trouble }}</p>
    <p v-if="shut" class="quiet">{{ shut }}</p>
    <section v-if="!now" class="panel empty">
      <p>What probes or a logger recorded, as a CSV file: the first row names the columns, the first column is the clock. First it is shown as it would be understood; nothing is entered before you say so.</p>
      <p><ChooseFile accept=".csv,.txt,.tsv,text/csv" :disabled="shut !== ''" @chosen="(one) => attempt(() => file.send(id, one))" /> <span class="quiet">or drop it anywhere on this page</span></p>
      <p class="quiet">Columns headed as <code>outdoor_coil temperature [degF]</code> say everything themselves; of any other heading you say once what it holds, and it is known the next time.</p>
    </section>
    <template v-else>
      <p class="name"><strong>{{ now.name }}</strong> <span class="quiet">{{ bytes(now.bytes) }}</span>
        <span v-if="found" class="quiet"> · {{ many(found.rows, 'row') }}<template v-if="found.marks">, {{ many(found.marks, 'mark') }}</template>, separated by {{ found.separator }}{{ found.decimal === ',' ? '; a comma is the decimal sign' : '' }}</span>
      </p>
      <FileProgress v-if="doing" v-bind="doing" :counted="false" :stops="now.state !== 'entering'" @stop="file.leave" />
      <div v-if="found" class="beside">
        <section class="panel" aria-labelledby="columns-title">
          <h2 id="columns-title">What each column holds</h2>
          <FileColumns :columns="found.columns" :said="said" :choices="found.choices" :shut="shut" @change="change" />
        </section>
        <section class="panel entry" aria-labelledby="clock-title">
          <h2 id="clock-title">Its clock</h2>
          <p>
            <strong>{{ found.clock.heading }}</strong>
            <span v-if="found.clock.every !== null" class="quiet"> · {{ clock(found.clock.seconds) }} long, a row each {{ found.clock.every < 0.1 ? found.clock.every.toPrecision(2) : Math.round(found.clock.every * 10) / 10 }} s</span>
          </p>
          <div class="fields">
            <template v-if="found.clock.counts">
              <label>counts
                <select v-model="unit" class="form-select" @change="tell">
                  <option :value="null">choose …</option>
                  <option value="ms">milliseconds</option><option value="s">seconds</option><option value="min">minutes</option><option value="h">hours</option>
                </select>
              </label>
              <label>was at zero <input v-model="started" type="datetime-local" step="1" class="form-control" @change="tell" /></label>
            </template>
            <template v-else>
              <span>begins {{ found.clock.first?.replace('T', ' ') }}</span>
              <label v-if="!found.clock.has_offset">offset from UTC <input v-model="offset" class="form-control short" placeholder="-05:00" @change="tell" /></label>
            </template>
          </div>
          <p v-for="one in ofClock" :key="one.message" class="wants">{{ one.message }}</p>
          <h2>Enter it</h2>
          <div class="fields">
            <label>called for
              <select v-model="mode" class="form-select">
                <option v-for="m in ['heating', 'cooling', 'defrost', 'off'] as const" :key="m" :value="m">{{ catalogue.word('mode', m) }}</option>
              </select>
            </label>
            <label v-if="circuits.length">on circuit
              <select v-model="circuit" class="form-select">
                <option value="">not known</option>
                <option v-for="one in circuits" :key="one" :value="one">{{ one }}</option>
              </select>
            </label>
            <label>had run for <input v-model="minutes" type="number" min="0" step="1" class="form-control short" placeholder="unknown" /> min</label>
          </div>
          <template v-if="refused">
            <p class="alert-line">{{ inWords }} can’t be used.</p>
            <ul class="refused" tabindex="0" aria-label="What can’t be used">
              <li v-for="one in found.refused" :key="`${one.row} ${one.column}`"><strong>row {{ one.row }}<template v-if="one.column">, {{ one.column }}</template></strong> {{ one.message }}</li>
            </ul>
            <p v-if="found.refused.length < refused" class="quiet">and {{ (refused - found.refused.length).toLocaleString('en-US') }} more</p>
            <label class="tick"><input v-model="leaveOut" type="checkbox" class="form-check-input" /> leave them out</label>
          </template>
          <p v-if="found.keeps_every > 1" class="quiet">It holds more samples than a recording does: of {{ found.keeps_every }} of a column one is kept.</p>
          <p v-if="wanting.length" class="quiet">{{ many(wanting.length, 'thing') }} to be said first: {{ wanting.slice(0, 4).map((one) => (one.where && one.where !== 'clock' ? `${one.where}: ${one.message}` : one.message)).join(' ') }}</p>
          <p class="actions">
            <BButton variant="primary" :disabled="shut !== '' || busy || !ready" @click="enter">Enter it as a recording</BButton>
            <BButton :disabled="busy" @click="file.leave">another file</BButton>
          </p>
        </section>
      </div>
      <div v-if="now.state === 'done'" role="status">
        <p><strong>Entered</strong> as {{ (recording || now.recording || '').replace('-', ' ') }}.</p>
        <p class="actions">
          <RouterLink class="btn btn-primary" :to="{ name: 'recorder', params: { id }, query: { picture: 'recordings' } }">see it drawn</RouterLink>
          <RouterLink class="btn" :to="{ name: 'walk', params: { id } }">to the walk</RouterLink>
          <BButton @click="file.leave">another file</BButton>
        </p>
      </div>
      <p v-if="now.state === 'refused'"><BButton @click="file.leave">another file</BButton></p>
    </template>
  </div>
</template>

<style scoped>
h2 {
  margin: 0.3rem 0;
  font-size: 1.1rem;
}
.panel {
  padding: 0.7rem 1rem;
}
.empty {
  max-width: 44rem;
}
.beside {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 23rem;
  gap: 1rem;
  align-items: start;
}
.name {
  overflow-wrap: anywhere;
}
code {
  color: inherit;
  font-family: var(--figure);
}
.fields {
  display: grid;
  gap: 0.4rem;
}
.fields label {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem;
  align-items: center;
}
.form-select,
.form-control {
  width: auto;
}
.form-control.short {
  width: 7rem;
}
.wants {
  margin: 0.3rem 0;
  font-weight: 600;
}
.refused {
  max-height: 12rem;
  overflow: auto;
  margin: 0 0 0.4rem;
  padding-left: 1.1rem;
  overflow-wrap: anywhere;
}
.tick {
  display: flex;
  gap: 0.5rem;
  align-items: center;
  min-height: var(--target);
}
.actions {
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
  margin: 0.6rem 0 0;
}
@media (max-width: 64rem) {
  .beside {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
