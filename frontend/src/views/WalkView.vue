<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, nextTick, onScopeDispose, ref, useTemplateRef, watch } from 'vue'
import { silentSince } from '../api/line'
import { RouterLink, useRouter } from 'vue-router'
import type { FirstRun, NextReading } from '../api/types'
import { useAttempt } from '../composables/useAttempt'
import { useKeys } from '../composables/useKeys'
import { useNarrow } from '../composables/useMedia'
import { useCatalogue } from '../stores/catalogue'
import { useSession } from '../stores/session'
import { useSettings } from '../stores/settings'
import { useOutbox } from '../stores/outbox'
import { useVisit, type Spot } from '../stores/visit'
import KeysHelp from '../shell/KeysHelp.vue'
import SetAside from '../shell/SetAside.vue'
import AnotherRun from '../walk/AnotherRun.vue'
import CircuitPicture from '../walk/CircuitPicture.vue'
import CircuitTabs from '../walk/CircuitTabs.vue'
import HeadsCalling from '../walk/HeadsCalling.vue'
import HeadTabs from '../walk/HeadTabs.vue'
import FindingsPane from '../walk/FindingsPane.vue'
import StatusMark from '../shell/StatusMark.vue'
import ReadingStrip from '../walk/ReadingStrip.vue'
import OutcomeDialog from '../walk/OutcomeDialog.vue'
import ReopenVisit from '../walk/ReopenVisit.vue'
import { clockTime } from '../walk/figures'
import RunBar from '../walk/RunBar.vue'
import StationFinder from '../walk/StationFinder.vue'
import VisitsOfUnit from '../walk/VisitsOfUnit.vue'
import {
  CoilsPicture, CommandPicture, CyclePane, DefrostPane, fetchPictures, FlowPicture, HeadsPicture, MarksPane, NotesField, PhotosPane,
  RunsPicture, StaircasePicture, ValvePicture, ValveRuns,
} from '../walk/pictures'

const props = defineProps<{ id: number }>()
const visit = useVisit()
const outbox = useOutbox()
const strip = useTemplateRef<InstanceType<typeof ReadingStrip>>('strip')
const PICTURES = [
  { key: '1', name: 'circuit' },
  { key: '2', name: 'valve' },
  { key: '3', name: 'flow line' },
  { key: '4', name: 'coils' },
  { key: '5', name: 'staircase' },
  { key: '6', name: 'controls' },
  { key: '7', name: 'runs' },
  { key: '8', name: 'marks' },
  { key: '9', name: 'notes, photos' },
  { key: '0', name: 'cycle' },
  { key: 'd', name: 'defrost' },
] as const
const HEADS = { key: 'a', name: 'all heads' } as const
const picture = ref<(typeof PICTURES)[number]['name'] | typeof HEADS.name>('circuit')
const narrow = useNarrow()
const half = ref<'indoors' | 'outdoors'>('outdoors')
const catalogue = useCatalogue()
const settings = useSettings()
const session = useSession()
const { trouble, busy, attempt, once } = useAttempt()

watch(
  () => props.id,
  (id) => attempt(async () => {
    await visit.open(id)
    await nextTick()
    strip.value?.focus()
    fetchPictures()
  }),
  { immediate: true },
)

// Others may work on the same visit: look for what they changed.
const poll = setInterval(() => void visit.keepUp(), 500)
onScopeDispose(() => clearInterval(poll))

function press(spot: Spot) {
  visit.goTo(spot)
  strip.value?.focus()
}
const pressPipe = (station: string) => press({ station, quantity: 'temperature' })

function pressIn(station: string, run: string) {
  if (run !== visit.runId) visit.chooseRun(run)
  pressPipe(station)
}

const helping = ref(false)
const finding = ref(false)
const adding = ref(false)
const looking = ref(false)
const everySpot = computed(() => [...visit.spots.values()].flat())
async function found(spot: Spot) {
  await nextTick()
  press(spot)
}
const KEYS = [
  { key: 'Enter', does: 'take the number, or a row of them (168 166 52), and go on; with nothing typed, skip this place' },
  { key: '← → ↑ ↓', does: 'step between stations, from the reading field' },
  { key: 'Page Up, Page Down', does: 'the tray before, the tray after' },
  { key: '=', does: 'as it was read in the run before' },
  { key: 'Esc', does: 'leave the reading field, so that the digits below choose a picture; letters work while it is empty' },
  ...PICTURES.map(({ key, name }) => ({ key, does: name })),
  { key: '/', does: 'jump to a station by name' },
  { key: '[ ]', does: 'the run before, the run after' },
  { key: 'x', does: "can't reach the next place: it is not asked for again" },
  { key: 'c', does: 'the next circuit, where the unit has several' },
  { key: 'h', does: 'the next head, where the unit has several; a: all of them' },
  { key: 'u, U', does: 'take the last reading back, enter it again' },
  { key: 'm', does: 'another run: switch mode' },
  { key: 'o', does: 'what it was in the end' },
  { key: 'b, then 1 … 9', does: 'another visit to this unit' },
  { key: 'e', does: 'show what this unit should read beside what was read' },
  { key: 'g, then c u h w p r', does: 'go to Calls, Units, Handbook, Walk, Recorder, Report' },
]

async function go(next: NextReading) {
  if (next.run === null && !open()) return
  if (next.run === null) await once(() => visit.addRun({ mode: next.mode, circuit: next.circuit ?? null, heads_calling: next.heads_calling ?? visit.run?.heads_calling ?? null, ...beginning(next.mode, next.circuit ?? null) }))
  else if (next.run !== visit.runId) visit.chooseRun(next.run)
  visit.goTo(next)
  strip.value?.focus()
}

function look(next: NextReading, seen: boolean) {
  if (!open()) return
  if (next.run && next.run !== visit.runId) visit.chooseRun(next.run)
  if (next.observe) visit.look(next.observe, seen)
}

/** The next place can't be got at: then everything is weighed without it. */
function cantReach(spot: Spot | undefined = next.value.find((one) => !one.stop)) {
  if (spot?.station && open()) visit.cantReach(spot)
  strip.value?.focus()
}

// The fault whose staircase is laid over the measured one.
const laid = ref('')
const stage = useTemplateRef<HTMLElement>('stage')
const over = computed(() => {
  const fault = visit.findings?.ranking.find((one) => one.fault === laid.value)
  const places = fault?.foretold[visit.runId]
  return fault && places ? { title: fault.title, places } : null
})
function lay(fault: string) {
  laid.value = laid.value === fault ? '' : fault
  if (!laid.value) return
  picture.value = 'staircase'
  if (narrow.value) stage.value?.scrollIntoView({ block: 'start' })
}

const flows = computed(() => visit.examined?.commanded_mode !== 'off')
const next = computed(() => {
  const all = visit.findings?.next_readings ?? []
  // The plan's own order; what belongs to a run made before, which is not the one being read, comes after.
  const elsewhere = (n: NextReading) => n.run !== null && n.run !== visit.runId
  return [...all.filter((n) => !elsewhere(n)), ...all.filter(elsewhere)]
})
const refused = computed(() => outbox.entries.filter((entry) => outbox.isOf(entry, props.id) && entry.refused))

// Enter presses a button that has the cursor; anywhere else it goes back to the reading field.
function enter(event: KeyboardEvent) {
  const on = (event.target as Element).closest('button, a, summary, [role=button]')
  // What is drawn has no click() of its own.
  if (on) on.dispatchEvent(new MouseEvent('click', { bubbles: true, cancelable: true }))
  else strip.value?.focus()
}

// What adds to a closed visit asks first.
const asking = ref(false)
const telling = ref(false)
const open = () => !visit.isReader && (visit.closedAt ? !(asking.value = true) : true)
const setClosed = (closed: boolean) =>
  once(async () => {
    await visit.setClosed(closed)
    // Whoever closes a call mostly knows.
    if (closed && !visit.view?.outcome) telling.value = true
    await nextTick()
    strip.value?.focus()
  })
const addRun = (run: FirstRun) =>
  once(async () => {
    await visit.addRun(run)
    strip.value?.focus()
  })
// The circuit that a run is begun on.
const onCircuit = ref('')
/** When it began: what another circuit is called for it has been called for as long as this one. */
const beginning = (mode: string, circuit: string | null) => {
  const now = visit.run
  const called = now && circuit !== null && circuit !== visit.circuitId && mode === now.mode
  return called ? { started_at: now.started_at ?? null, minutes_running: now.minutes_running ?? null } : { started_at: new Date().toISOString() }
}
function chooseCircuit(id: string) {
  if (visit.chooseCircuit(id)) return strip.value?.focus()
  onCircuit.value = id
  if (open()) adding.value = silentSince.value === null
}
const calling = ref<number[] | null>(null)
const headLabels = computed(() => visit.heads.map((one) => one.label))
function nextHead() {
  const numbers = visit.heads.map((one) => one.number)
  if (numbers.length) visit.chooseHead(numbers[(numbers.indexOf(visit.head?.number ?? 0) + 1) % numbers.length]!)
}
function anotherRun() {
  onCircuit.value = visit.circuitId
  calling.value = visit.run?.heads_calling ?? null
  adding.value = true
}
function nextCircuit() {
  const ids = visit.circuits.map((one) => one.id)
  if (ids.length) chooseCircuit(ids[(ids.indexOf(visit.circuitId) + 1) % ids.length]!)
}
const router = useRouter()
/** A run that holds nothing goes; the last of a visit, and the visit with it. */
async function removeRun() {
  if (await visit.removeRun()) await router.push('/calls')
}

const toggleExpected = () => (settings.expected = settings.expected === 'shown' ? 'hidden' : 'shown')
useKeys({
  ...Object.fromEntries(PICTURES.map(({ key, name }) => [key, () => (picture.value = name)])),
  u: () => open() && visit.undo(),
  U: () => open() && visit.redo(),
  m: () => open() && silentSince.value === null && anotherRun(),
  x: () => cantReach(),
  c: nextCircuit,
  h: nextHead,
  a: () => visit.heads.length && (picture.value = HEADS.name),
  o: () => !visit.isReader && (telling.value = true),
  '=': () => strip.value?.takeSame(),
  b: () => (looking.value = true),
  e: toggleExpected,
  '[': () => visit.stepRun(-1),
  ']': () => visit.stepRun(1),
  '/': () => (finding.value = true),
  '?': () => (helping.value = true),
  Enter: enter,
})
</script>

<template>
  <p v-if="trouble" class="alert-line m-3" role="alert">
    {{ trouble }} <BButton size="sm" @click="attempt(() => visit.load(id))">Try again</BButton>
    <RouterLink class="btn btn-sm" to="/calls">back to Calls</RouterLink>
  </p>
  <div v-if="visit.view && visit.run && visit.examined" class="walk">
    <h1 class="visually-hidden">Walk: {{ visit.view.visit.site.name }}, {{ visit.view.visit.unit.label }}</h1>
    <RunBar
      class="bar" :compressor="visit.view.visit.unit.compressor.kind" :runs="visit.view.visit.runs" :examined="visit.view.examination.runs" :current="visit.runId" :silent="silentSince !== null" :busy="busy" :empty="visit.runIsEmpty" :closed="visit.closedAt !== null" :reader="visit.isReader" :may-close="session.may('close')" :outcome="visit.view.outcome"
      @choose="visit.chooseRun" @add="addRun" @another="anotherRun" @remove="once(removeRun)" @close="setClosed(true)" @reopen="asking = true" @outcome="telling = true"
      @clock="(clock) => attempt(() => visit.setClock(clock))" @load="(load) => attempt(() => visit.setCompressor(load))"
    />
    <div ref="stage" class="stage panel">
      <div class="pictures" role="group" aria-label="Pictures">
        <BButton v-for="p in PICTURES" :key="p.key" :aria-pressed="picture === p.name" @click="picture = p.name">
          {{ p.key }} {{ p.name }}
        </BButton>
        <BButton class="help" aria-label="Keys" @click="helping = true">?</BButton>
      </div>
      <div v-if="narrow && picture === 'circuit'" class="pictures" role="group" aria-label="Half of the circuit">
        <BButton v-for="side in ['indoors', 'outdoors'] as const" :key="side" :aria-pressed="half === side" @click="half = side">
          {{ side }}
        </BButton>
      </div>
      <BButton
        v-if="picture === 'circuit' && flows" class="beside" :aria-pressed="settings.expected === 'shown'"
        @click="toggleExpected"
      >e expected</BButton>
      <div class="frame">
        <CircuitPicture
          v-if="picture === 'circuit' && flows" :path="visit.line!.path" :taps="visit.examined.taps" :meters="visit.examined.meters"
          :commanded="visit.examined.commanded_mode" :apparent="visit.examined.apparent_mode"
          :shown="visit.shown" :selected="visit.spot.station" :fold="narrow ? half : 'whole'"
          :expected="settings.expected === 'shown' ? visit.line!.expected : {}" @press="press"
        />
        <StaircasePicture
          v-else-if="picture === 'staircase' && flows" :path="visit.line!.path" :legs="visit.line!.legs"
          :levels="visit.line!.levels" :expected="visit.line!.expected" :basis="visit.examined.expected_basis"
          :departure="visit.line!.departure" :laid="over" :shown="visit.shown" :selected="visit.spot.station"
          :unit="settings.units === 'field' ? 'degF' : 'degC'" @press="pressPipe"
        />
        <FlowPicture
          v-else-if="picture === 'flow line' && flows" :runs="visit.view.examination.runs" :current="visit.runId"
          :shown="visit.shown" :selected="visit.spot.station" @press="pressIn"
        />
        <CoilsPicture
          v-else-if="picture === 'coils' && flows" :unit="visit.view.visit.unit" :run="visit.examined"
          :shown="visit.shown" :selected="visit.spot" @press="press"
        />
        <HeadsPicture
          v-else-if="picture === 'all heads' && flows" :heads="visit.heads" :mode="visit.examined.running_mode" :shown="visit.shown"
          :selected="visit.spot.station" :current="visit.head?.number ?? 0" @press="pressPipe" @choose="visit.chooseHead"
        />
        <CyclePane
          v-else-if="picture === 'cycle' && flows" :refrigerant="visit.view.visit.unit.refrigerant" :corners="visit.examined.cycle"
          :expected="visit.examined.expected_cycle"
          :shown="visit.shown" :selected="visit.spot" @press="press"
        />
        <CommandPicture
          v-else-if="picture === 'controls' && flows" :terminals="visit.examined.terminals" :checks="visit.examined.checks" :board="visit.findings?.board ?? []"
          :energized-in="visit.view.visit.unit.reversing_valve.energized_in" :selected="visit.spot.station" @press="press"
        />
        <DefrostPane
          v-else-if="picture === 'defrost'" :visit="id" :recordings="visit.view.recordings" :examined="visit.view.examination.recordings" :closed="visit.shut !== ''"
        />
        <RunsPicture v-else-if="picture === 'runs'" :visit="id" :runs="visit.view.examination.runs" :current="visit.runId" />
        <MarksPane
          v-else-if="picture === 'marks'" :words="catalogue.catalogue?.words.sight ?? {}" :made="visit.marks" :closed="visit.shut !== ''"
          @mark="visit.mark"
        />
        <div v-else-if="picture === 'notes, photos'" class="written">
          <NotesField
            :key="visit.runId" :shelf="`icepick.notes.${visit.view.key}.${visit.runId}`"
            :text="visit.run.notes ?? ''" :revision="visit.view.notes_revision[visit.runId] ?? 0" :shut="visit.shut" :write="visit.writeNotes"
          />
          <PhotosPane :visit="id" :photos="visit.photos" :words="catalogue.catalogue?.words.photo ?? {}" :shut="visit.shut" :silent="silentSince !== null" :largest="catalogue.catalogue?.largest_photo ?? Infinity" @take-back="visit.takeBack" />
        </div>
        <p v-else-if="!flows" class="still quiet">
          The unit is off and nothing flows. Take a pressure and the air around the unit once everything is at one
          temperature: the findings say whether noncondensables, or no liquid at all, are in the circuit.
        </p>
        <template v-else>
          <ValvePicture
            :commanded="visit.examined.commanded_mode" :apparent="visit.examined.apparent_mode"
            :indicators="visit.examined.indicators" :checks="visit.examined.checks" :shown="visit.shown"
            :selected="visit.spot.station" @press="pressPipe"
          />
          <ValveRuns :runs="visit.view.examination.runs" />
        </template>
      </div>
    </div>
    <ReadingStrip ref="strip" class="strip" @reopen="asking = true" />
    <div class="side">
      <p v-if="visit.replaced" class="alert-line" role="alert">
        The records were put back, and visit {{ id }} is another call now: {{ visit.view.visit.site.name }}. What was entered for
        the one before is kept on this device.
      </p>
      <SetAside :words="visit.view.set_aside" />
      <p v-if="silentSince" class="alert-line stale" role="status">
        No answer from the server since {{ clockTime(silentSince) }}. What you enter is kept on this device; the findings are
        from then and don't count it in yet.
      </p>
      <p v-for="entry in refused" :key="entry.body.entry_key" class="alert-line" role="alert">
        <template v-if="entry.what === 'readings'">{{ catalogue.title(entry.body.reading.station) }}: </template>
        {{ entry.refused }} <BButton v-if="entry.closed && !visit.isReader" size="sm" @click="asking = true">Add to it …</BButton>
        <BButton size="sm" @click="outbox.drop(entry)">Discard</BButton>
      </p>
      <CircuitTabs v-if="visit.circuits.length" :circuits="visit.circuits" :runs="visit.view.examination.runs" :current="visit.circuitId" :mode="visit.run.mode" @choose="chooseCircuit" />
      <HeadTabs v-if="visit.heads.length" :heads="visit.heads" :current="visit.head?.number ?? 0" :all="picture === 'all heads'" @choose="(head) => { visit.chooseHead(head); strip?.focus() }" @all="picture = picture === 'all heads' ? 'circuit' : 'all heads'" />
      <HeadsCalling v-if="visit.heads.length && !visit.shut && flows" class="calling" :model-value="visit.run.heads_calling ?? null" :labels="headLabels" :disabled="silentSince !== null" @update:model-value="(heads) => attempt(() => visit.setHeads(heads))" />
      <p v-if="visit.findings?.after_repair" class="left panel"><StatusMark :status="visit.findings.after_repair.outcome" /> <span>After the repair: {{ visit.findings.after_repair.headline }}</span></p>
      <FindingsPane v-if="visit.findings" class="pane" :visit="id" :headline="visit.findings.headline" :outcome="visit.findings.outcome" :verdict="visit.findings.verdict" :ranking="visit.findings.ranking" :run="visit.examined" :runs="visit.view.examination.runs" :next="next" :baseline="visit.findings.baseline" :earlier="visit.view.earlier" :history="visit.history" :place="catalogue.title(visit.spot.station)" :pending="visit.pending" :laid="laid" :out-of-reach="visit.outOfReach" :closed="visit.shut !== ''" @go="go" @cant-reach="cantReach" @look="look" @lay="lay" @take-back="visit.takeBack" />
    </div>
  </div>
  <KeysHelp v-model="helping" :keys="KEYS" />
  <AnotherRun v-if="visit.run" v-model="adding" v-model:circuit="onCircuit" v-model:calling="calling" :circuits="visit.circuits.map((one) => one.id)" :heads="headLabels" :now="visit.run.mode" :same="onCircuit !== visit.circuitId" :repaired="visit.run.after_repair ?? false" @add="(mode, after_repair) => addRun({ mode, after_repair, circuit: onCircuit || null, heads_calling: calling, ...beginning(mode, onCircuit || null) })" />
  <OutcomeDialog v-if="visit.view" v-model="telling" :visit="visit.view.key" :told="visit.view.outcome" :ranking="visit.view.examination.ranking" :silent="silentSince !== null" :busy="busy" :trouble="trouble" @tell="(outcome) => once(() => visit.tellOutcome(outcome))" />
  <ReopenVisit v-if="visit.closedAt" v-model="asking" :may="session.may('close')" :of="visit.view?.opened_at ?? ''" :unit="visit.view?.unit_id ?? 0" :silent="silentSince !== null" :busy="busy" @reopen="setClosed(false)" />
  <VisitsOfUnit v-if="visit.view" v-model="looking" :unit="visit.view.unit_id" :visit="id" />
  <StationFinder v-model="finding" :spots="everySpot" @go="found" />
</template>

<style scoped src="../walk/work.css"></style>
<style scoped>
.left {
  display: flex;
  gap: 0.5rem;
  margin: 0 0 0.5rem;
  padding: 0.5rem 0.7rem;
}
.written {
  align-self: start;
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.4fr);
  gap: 0.5rem;
}
.calling {
  margin-bottom: 0.5rem;
}
.still {
  max-width: 32rem;
  margin: 0 auto;
}
.beside {
  position: absolute;
  left: 0.6rem;
  bottom: 0.5rem;
  z-index: 1;
}
.beside[aria-pressed='true'] {
  outline: 2px solid var(--ink);
  font-weight: 600;
}
@media (max-width: 64rem) {
  .written {
    grid-template-columns: minmax(0, 1fr);
  }
  .beside {
    position: static;
    align-self: start;
    margin-left: 0.6rem;
  }
}
</style>
