<script setup lang="ts">
// An attempt: the same pictures and strip as in a visit, where pressing a place takes a reading from the simulated unit.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import type { BenchStep, Saying } from '../api/types'
import BenchBar from '../bench/BenchBar.vue'
import DoPanel from '../bench/DoPanel.vue'
import PracticeMark from '../bench/PracticeMark.vue'
import RecordedLines from '../bench/RecordedLines.vue'
import { rush } from '../bench/rush'
import SayDialog from '../bench/SayDialog.vue'
import TakeStrip from '../bench/TakeStrip.vue'
import { useAttempt } from '../composables/useAttempt'
import { useKeys } from '../composables/useKeys'
import { useNarrow } from '../composables/useMedia'
import { useAttemptAtBench } from '../stores/attempt'
import { useSettings } from '../stores/settings'
import { keep, kept } from '../stores/shelf'
import type { Spot } from '../stores/visit'
import KeysHelp from '../shell/KeysHelp.vue'
import CircuitPicture from '../walk/CircuitPicture.vue'
import StationFinder from '../walk/StationFinder.vue'
import { CoilsPicture, CommandPicture, CyclePane, fetchPictures, StaircasePicture, ValvePicture } from '../walk/pictures'

const props = defineProps<{ id: number }>()
const attempt = useAttemptAtBench()
const settings = useSettings()
const router = useRouter()
const narrow = useNarrow()
const { trouble, busy, attempt: tried } = useAttempt()
const strip = useTemplateRef<InstanceType<typeof TakeStrip>>('strip')
const PICTURES = [
  { key: '1', name: 'circuit' },
  { key: '2', name: 'valve' },
  { key: '3', name: 'coils' },
  { key: '4', name: 'staircase' },
  { key: '5', name: 'controls' },
  { key: '6', name: 'cycle' },
  { key: '7', name: 'recorded' },
] as const
const picture = ref<(typeof PICTURES)[number]['name']>('circuit')
const half = ref<'indoors' | 'outdoors'>('outdoors')
const infrared = ref(false)
const sound = ref(kept('icepick.bench.sound') === 'on')
const saying = ref(false)
const helping = ref(false)
const finding = ref(false)
const heard = ref('')

watch(
  () => props.id,
  (id) => tried(async () => {
    await attempt.load(id)
    await nextTick()
    strip.value?.focus()
    fetchPictures()
  }),
  { immediate: true },
)

const shut = computed(() => Boolean(attempt.view?.said))
const flows = computed(() => attempt.examined?.commanded_mode !== 'off')
const everySpot = computed(() => [...attempt.spots.values()].flat())

/** One thing after the other: what is pressed while the unit still answers is not lost, and not done twice. */
let queue = Promise.resolve()
function doing(work: () => Promise<unknown>) {
  if (shut.value) return
  busy.value = true
  queue = queue.then(() => tried(work)).then(() => {
    busy.value = false
    void nextTick(() => strip.value?.focus())
  })
}
const take = (spot: Spot) => doing(() => attempt.take(spot, infrared.value && spot.quantity === 'temperature' && ['pipes', 'circuits'].includes(attempt.trayOf(spot.station)) && (attempt.view?.kit.includes('infrared') ?? false)))
function press(spot: Spot) {
  attempt.goTo(spot)
  if (attempt.isNow) take(spot)
}
const pressPipe = (station: string) => press({ station, quantity: 'temperature' })
const act = (step: BenchStep) => doing(async () => {
  const done = await attempt.step(step)
  heard.value = done.shifted ? 'A clear rush: the valve went over.' : step.act === 'switch' && step.mode !== 'off' ? 'Nothing was heard from the valve.' : ''
  if (done.shifted && sound.value) rush()
  if (step.act === 'defrost' || step.act === 'logger') picture.value = 'recorded'
})
const waitOn = () => act({ act: 'wait', minutes: Math.max(1, Math.ceil(attempt.view!.settles || 10)) })
const turn = () => act({ act: 'switch', mode: attempt.view!.mode === 'heating' ? 'cooling' : 'heating' })
function toggleSound() {
  sound.value = !sound.value
  keep('icepick.bench.sound', sound.value ? 'on' : 'off')
}
const say = (what: Saying) => {
  if (busy.value) return
  busy.value = true
  void tried(async () => {
    await attempt.say(what)
    saying.value = false
    await router.push({ name: 'debrief', params: { id: props.id } })
  }).then(() => (busy.value = false))
}
async function found(spot: Spot) {
  await nextTick()
  attempt.goTo(spot)
  strip.value?.focus()
}

// Enter presses a button that has the cursor; anywhere else it takes the reading where the cursor stands.
function enter(event: KeyboardEvent) {
  const on = (event.target as Element).closest('button, a, summary, [role=button]')
  if (on) on.dispatchEvent(new MouseEvent('click', { bubbles: true, cancelable: true }))
  else take(attempt.spot)
}
const KEYS = [
  { key: 'Enter', does: 'take the reading at the cursor, and go on' },
  { key: '← → ↑ ↓', does: 'step between places' },
  { key: 'Page Up, Page Down', does: 'the tray before, the tray after' },
  ...PICTURES.map(({ key, name }) => ({ key, does: name })),
  { key: '/', does: 'jump to a place by name' },
  { key: 'i', does: 'infrared gun or clamp' },
  { key: 'm', does: 'call for the other mode' },
  { key: 'w', does: 'wait until it has settled, or ten minutes' },
  { key: '[ ]', does: 'the run before, the run after' },
  { key: 'y', does: 'say what it is' },
]
useKeys({
  ...Object.fromEntries(PICTURES.map(({ key, name }) => [key, () => (picture.value = name)])),
  Enter: enter,
  ArrowLeft: () => attempt.stepSpot(-1),
  ArrowUp: () => attempt.stepSpot(-1),
  ArrowRight: () => attempt.stepSpot(1),
  ArrowDown: () => attempt.stepSpot(1),
  PageUp: () => attempt.stepTray(-1),
  PageDown: () => attempt.stepTray(1),
  '/': () => (finding.value = true),
  '?': () => (helping.value = true),
  i: () => (infrared.value = !infrared.value),
  m: () => !shut.value && turn(),
  w: () => !shut.value && waitOn(),
  y: () => (saying.value = !shut.value),
  '[': () => attempt.stepRun(-1),
  ']': () => attempt.stepRun(1),
})
</script>

<template>
  <p v-if="trouble && !attempt.view" class="alert-line m-3" role="alert">{{ trouble }} <RouterLink class="btn btn-sm" to="/bench">back to the bench</RouterLink></p>
  <div v-if="attempt.view?.id === id && attempt.run && attempt.examined" class="walk">
    <h1 class="visually-hidden">Practice: {{ attempt.view.title }}</h1>
    <div class="bar">
      <PracticeMark :code="attempt.view.code" />
      <BenchBar :view="attempt.view" :run-id="attempt.runId" :busy="busy" :settles="attempt.view.settles" @choose="attempt.chooseRun" @switch="(mode) => act({ act: 'switch', mode })" @wait="waitOn" @say="saying = true" />
      <p v-if="heard" class="heard" role="status">{{ heard }}</p>
      <RouterLink v-if="shut" class="btn btn-primary" :to="{ name: 'debrief', params: { id } }">debrief</RouterLink>
    </div>
    <div class="stage panel">
      <div class="pictures" role="group" aria-label="Pictures">
        <BButton v-for="p in PICTURES" :key="p.key" :aria-pressed="picture === p.name" @click="picture = p.name">{{ p.key }} {{ p.name }}</BButton>
        <BButton class="help" :aria-pressed="sound" @click="toggleSound">sound {{ sound ? 'on' : 'off' }}</BButton>
        <BButton aria-label="Keys" @click="helping = true">?</BButton>
      </div>
      <div v-if="narrow && picture === 'circuit'" class="pictures" role="group" aria-label="Half of the circuit">
        <BButton v-for="side in ['indoors', 'outdoors'] as const" :key="side" :aria-pressed="half === side" @click="half = side">{{ side }}</BButton>
      </div>
      <div class="frame">
        <p v-if="!flows && picture !== 'recorded'" class="still quiet">The unit is off and nothing flows. Read the pressures once everything is at one temperature.</p>
        <CircuitPicture
          v-else-if="picture === 'circuit'" :path="attempt.examined.path" :taps="attempt.examined.taps" :meters="attempt.examined.meters"
          :commanded="attempt.examined.commanded_mode" apparent="unknown" :shown="attempt.shown" :selected="attempt.spot.station" :fold="narrow ? half : 'whole'" @press="press"
        />
        <StaircasePicture
          v-else-if="picture === 'staircase'" :path="attempt.examined.path" :legs="attempt.examined.legs" :levels="attempt.examined.levels" :expected="{}" basis="" :departure="null" :laid="null"
          :shown="attempt.shown" :selected="attempt.spot.station" :unit="settings.units === 'field' ? 'degF' : 'degC'" @press="pressPipe"
        />
        <CoilsPicture v-else-if="picture === 'coils'" :unit="attempt.view.unit" :run="attempt.examined" :shown="attempt.shown" :selected="attempt.spot" @press="press" />
        <CommandPicture
          v-else-if="picture === 'controls'" :terminals="attempt.examined.terminals" :checks="[]" :board="[]" :energized-in="attempt.view.unit.reversing_valve.energized_in"
          :selected="attempt.spot.station" @press="press"
        />
        <CyclePane v-else-if="picture === 'cycle'" :refrigerant="attempt.view.unit.refrigerant" :corners="attempt.examined.cycle" :expected="[]" :shown="attempt.shown" :selected="attempt.spot" @press="press" />
        <div v-else-if="picture === 'recorded'" class="recorded">
          <RecordedLines v-for="one in attempt.view.recordings" :key="one.id" :recorded="one" />
          <p v-if="!attempt.view.recordings.length" class="still quiet">Nothing was recorded yet. A defrost is forced out of heating; where a logger was left, it holds the last hours.</p>
        </div>
        <ValvePicture v-else :commanded="attempt.examined.commanded_mode" apparent="unknown" :indicators="attempt.examined.indicators" :checks="[]" :shown="attempt.shown" :selected="attempt.spot.station" @press="pressPipe" />
      </div>
    </div>
    <TakeStrip ref="strip" v-model:infrared="infrared" class="strip" :busy="busy" :closed="shut" @take="take" />
    <div class="side"><DoPanel class="pane" :view="attempt.view" :indicators="attempt.examined.indicators" :busy="busy" :trouble="saying ? '' : trouble" @do="act" /></div>
  </div>
  <SayDialog v-if="attempt.view?.id === id" v-model="saying" :view="attempt.view" :busy="busy" :trouble="trouble" @say="say" />
  <StationFinder v-model="finding" :spots="everySpot" @go="found" />
  <KeysHelp v-model="helping" :keys="KEYS" />
</template>

<style scoped src="../walk/work.css"></style>
<style scoped>
.heard {
  margin: 0.2rem 0 0;
}
.still {
  max-width: 32rem;
  margin: 0 auto;
}
.recorded {
  align-self: start;
}
</style>
