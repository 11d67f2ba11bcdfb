<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, defineAsyncComponent, onScopeDispose, ref, watch } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { silentSince } from '../api/line'
import type { Happening, Mode, Way } from '../api/types'
import { useAlarm } from '../composables/useAlarm'
import { useAttempt } from '../composables/useAttempt'
import { useKeys } from '../composables/useKeys'
import { useNarrow } from '../composables/useMedia'
import { afterHeadline } from '../recorder/afterHeadline'
import FindingsNow from '../recorder/FindingsNow.vue'
import LivePane from '../recorder/LivePane.vue'
import ProbeList, { type Chosen } from '../recorder/ProbeList.vue'
import SimulatedPane from '../recorder/SimulatedPane.vue'
import WaysPanel from '../recorder/WaysPanel.vue'
import { bytes } from '../recorder/manyLines'
import KeysHelp from '../shell/KeysHelp.vue'
import { useCatalogue } from '../stores/catalogue'
import { useLive } from '../stores/live'
import { useNearby } from '../stores/nearby'
import { useSettings } from '../stores/settings'
import { spotKey, useVisit, type Shown, type Spot } from '../stores/visit'
import CircuitPicture from '../walk/CircuitPicture.vue'
import { clock } from '../walk/defrostLines'
import { StaircasePicture } from '../walk/pictures'

const props = defineProps<{ id: number }>()
const RecordedPane = defineAsyncComponent(() => import('../recorder/RecordedPane.vue'))
const visit = useVisit()
const live = useLive()
const nearby = useNearby()
const catalogue = useCatalogue()
const settings = useSettings()
const narrow = useNarrow()
const { trouble, busy, attempt, once } = useAttempt()
// A mark right after another press is a press of its own.
const marker = useAttempt()

watch(() => props.id, (id) => attempt(() => visit.open(id)), { immediate: true })
let leave = () => {}
watch(
  () => props.id,
  (id) => {
    leave()
    leave = live.follow(id, () => visit.runId)
  },
  { immediate: true },
)
const poll = setInterval(() => void visit.keepUp(), 2000)
onScopeDispose(() => {
  leave()
  clearInterval(poll)
})

const PICTURES = [
  { key: '1', name: 'circuit' },
  { key: '2', name: 'staircase' },
  { key: '3', name: 'lines' },
  { key: '4', name: 'recordings' },
] as const
const picture = ref<(typeof PICTURES)[number]['name']>(useRoute().query.picture === 'recordings' ? 'recordings' : 'circuit')
const half = ref<'indoors' | 'outdoors'>('outdoors')
const side = ref<'probes' | 'findings'>('probes')

const run = computed(() => live.findings?.run ?? visit.examined)
const danger = computed(() => (live.on && live.findings?.lead === 'danger' ? live.findings : null))
// Silence lasts as long as this page: the next visit is heard again.
const loud = ref(true)
useAlarm(() => danger.value?.headline ?? '', () => loud.value)
const flows = computed(() => run.value !== null && run.value.commanded_mode !== 'off')
const stations = computed(() => visit.examined?.stations ?? [])
const shown = computed(() => {
  const tags = new Map<string, Shown>()
  // What was typed where no probe sits stays in sight.
  for (const reading of visit.examined?.readings ?? []) {
    tags.set(spotKey(reading), { value: reading.value, unit: reading.unit, early: reading.early, infrared: reading.method === 'infrared', doubted: false, state: 'kept' })
  }
  for (const { value } of live.values) {
    if (!value.station || !value.quantity || value.value === null || value.state === 'lost') continue
    tags.set(spotKey({ station: value.station, quantity: value.quantity as Spot['quantity'] }), {
      value: value.value, unit: value.unit, early: false, drifts: value.state !== 'settled', infrared: false, doubted: false, state: 'kept',
    })
  }
  return tags
})
const counts = computed(() => {
  const of = (state: string) => live.values.filter((one) => one.value.state === state).length
  return { all: live.values.length, settled: of('settled'), lost: of('lost') }
})

// Choose a value, press its station.
const chosen = ref<Chosen | null>(null)
const chosenStation = computed(() => live.values.find((one) => one.probe.address === chosen.value?.address && one.value.measures === chosen.value.measures)?.value.station ?? '')
async function put(value: Chosen, station: string | null) {
  chosen.value = null
  await attempt(() => live.put(value.address, value.measures, station))
}
function press(spot: Spot) {
  if (chosen.value) return void put(chosen.value, spot.station)
  const there = live.values.find((one) => one.value.station === spot.station && one.value.quantity === spot.quantity)
  if (!there) return
  chosen.value = { address: there.probe.address, measures: there.value.measures }
  side.value = 'probes'
}

const shut = computed(() => visit.shut)
const said = ref('')
const take = (everything: boolean) =>
  once(async () => {
    const { taken, left_out } = await live.take(visit.runId, everything)
    const without = left_out.length ? `; left out, not settled: ${left_out.map(catalogue.short).join(', ')}` : ''
    said.value = `${taken} ${taken === 1 ? 'reading' : 'readings'} taken into ${visit.runId.replace('-', ' ')}${without}.`
    await visit.load(props.id)
  })
const growing = computed(() => live.live?.recording ?? null)
const record = () =>
  once(async () => {
    if (growing.value) await live.stop()
    else await live.record((visit.run?.mode ?? 'heating') as Mode, null, visit.run?.circuit ?? null)
    await visit.load(props.id)
  })
const marks = computed(() => Object.entries(catalogue.catalogue?.words.mark ?? {}))
const marking = ref('defrost_forced')
const mark = () =>
  marker.once(async () => {
    if (!growing.value) return
    const { recording, seconds } = growing.value
    await live.mark(recording, seconds, marking.value)
    said.value = `Marked at ${clock(seconds)}: ${catalogue.word('mark', marking.value)}.`
  })
// The browser's own window opens only right after a press: nothing may be waited for before it.
const listen = (by: Way) => once(() => (by === 'relayed' ? nearby.add(props.id) : live.listen(by)))
const happen = (what: Partial<Happening>) => attempt(() => live.happen(what))
const helping = ref(false)
const KEYS = [
  ...PICTURES.map(({ key, name }) => ({ key, does: name })),
  { key: 't', does: 'take all that has settled as readings of this run' },
  { key: 'r', does: 'record, and stop' },
  { key: 'm', does: 'set the chosen mark, while it records' },
  { key: 'f', does: 'probes or findings' },
  { key: '[ ]', does: 'the run before, the run after' },
  { key: 'Esc', does: 'choose no probe' },
  { key: 'g, then c u h w p r', does: 'go to Calls, Units, Handbook, Walk, Recorder, Report' },
]
useKeys({
  ...Object.fromEntries(PICTURES.map(({ key, name }) => [key, () => (picture.value = name)])),
  t: () => !shut.value && live.on && void take(false),
  r: () => !shut.value && live.on && void record(),
  m: () => !shut.value && growing.value && void mark(),
  f: () => (side.value = side.value === 'probes' ? 'findings' : 'probes'),
  '[': () => visit.stepRun(-1),
  ']': () => visit.stepRun(1),
  Escape: () => (chosen.value = null),
  '?': () => (helping.value = true),
})
</script>

<template>
  <p v-if="trouble || marker.trouble.value" class="alert-line m-3" role="alert">{{ trouble || marker.trouble.value }} <RouterLink v-if="!visit.view" class="btn btn-sm" to="/calls">back to Calls</RouterLink></p>
  <div v-if="visit.view && visit.run && live.live" class="recorder">
    <h1 class="visually-hidden">Recorder: {{ visit.view.visit.site.name }}, {{ visit.view.visit.unit.label }}</h1>
    <div v-if="danger" class="danger panel" role="alert">
      <p><strong>{{ danger.headline }}.</strong> {{ afterHeadline(danger) }}</p>
      <BButton size="sm" @click="loud = !loud">{{ loud ? 'silence' : 'sound on' }}</BButton>
    </div>
    <div class="bar panel">
      <label>run
        <select aria-label="Run" :value="visit.runId" @change="visit.chooseRun(($event.target as HTMLSelectElement).value)">
          <option v-for="one in visit.view.visit.runs" :key="one.id" :value="one.id">{{ one.id.replace('run-', '') }}<template v-if="one.circuit"> circuit {{ one.circuit }}</template> {{ catalogue.word('mode', one.mode) }}</option>
        </select>
      </label>
      <template v-if="live.on">
        <p class="still" role="status">
          <strong :class="live.live.settled ? 'pass' : 'watch'">{{ live.live.settled ? `✓ all ${counts.all} settled` : live.live.still }}</strong>
          <span v-if="counts.lost" class="quiet"> · {{ counts.lost }} lost</span>
        </p>
        <BButton variant="primary" :disabled="shut !== '' || busy || !counts.settled" @click="take(false)">t take all settled</BButton>
        <BButton :disabled="shut !== '' || busy || (!counts.all && !growing)" :aria-pressed="growing !== null" @click="record">
          <template v-if="growing">r stop · {{ clock(growing.seconds) }} · {{ bytes(growing.bytes) }}</template><template v-else>r record</template>
        </BButton>
        <span v-if="growing" class="marking">
          <select v-model="marking" aria-label="Mark"><option v-for="[code, words] in marks" :key="code" :value="code">{{ words }}</option></select>
          <BButton :disabled="shut !== ''" @click="mark">m mark</BButton>
        </span>
      </template>
      <BButton class="help" aria-label="Keys" @click="helping = true">?</BButton>
    </div>
    <p v-if="growing?.trouble" class="alert-line" role="alert">The records can't be written just now ({{ growing.trouble }}): what the probes say is kept until they can.</p>
    <p v-if="silentSince || live.silent" class="alert-line" role="status">No answer from the server: what it hears it goes on recording; what is shown here is from before.</p>
    <p v-if="said" class="said" role="status">{{ said }}</p>
    <WaysPanel v-if="!live.on" :offers="live.live.offers as Way[]" :shut="shut" :busy="busy" :here="nearby.here" @listen="listen" />
    <div class="both" :class="{ beside: live.on }">
      <div class="stage panel">
        <div class="pictures" role="group" aria-label="Pictures">
          <BButton v-for="p in PICTURES" :key="p.key" :aria-pressed="picture === p.name" @click="picture = p.name">{{ p.key }} {{ p.name }}</BButton>
          <span v-if="chosen" class="hint" role="status">Now press the station it sits on, or choose it in the list.</span>
        </div>
        <div v-if="narrow && picture === 'circuit'" class="pictures" role="group" aria-label="Half of the circuit">
          <BButton v-for="one in ['indoors', 'outdoors'] as const" :key="one" :aria-pressed="half === one" @click="half = one">{{ one }}</BButton>
        </div>
        <div class="frame">
          <CircuitPicture
            v-if="picture === 'circuit' && flows && run" :path="run.path" :taps="run.taps" :meters="run.meters" :commanded="run.commanded_mode"
            :apparent="run.apparent_mode" :shown="shown" :selected="chosenStation" :fold="narrow ? half : 'whole'" @press="press"
          />
          <StaircasePicture
            v-else-if="picture === 'staircase' && flows && run" :path="run.path" :legs="run.legs" :levels="run.levels" :expected="run.expected" :basis="run.expected_basis"
            :departure="run.departure" :laid="null" :shown="shown" :selected="chosenStation" :unit="settings.units === 'field' ? 'degF' : 'degC'"
            @press="(station) => press({ station, quantity: 'temperature' })"
          />
          <LivePane v-else-if="picture === 'lines'" class="full" :tracks="live.tracks" :now="live.live.second" :theme="settings.theme" />
          <RecordedPane v-else-if="picture === 'recordings'" class="full" :visit="id" :recordings="visit.view.recordings" :growing="growing" :run="visit.runId" :shut="shut" :theme="settings.theme" @said="(words) => (said = words)" />
          <p v-else class="quiet still">The unit is off and nothing flows: see the lines.</p>
        </div>
      </div>
      <div v-if="live.on" class="side panel">
        <div class="pictures" role="group" aria-label="Beside the picture">
          <BButton v-for="one in ['probes', 'findings'] as const" :key="one" :aria-pressed="side === one" @click="side = one">{{ one }}</BButton>
        </div>
        <div class="scroll">
          <p v-if="live.live.trouble || nearby.trouble" class="alert-line" role="alert">{{ live.live.trouble || nearby.trouble }}</p>
          <template v-if="side === 'probes'">
            <SimulatedPane :live="live.live" :shut="shut" @happen="happen" />
            <ProbeList :live="live.live" :tracks="live.tracks" :stations="stations" :chosen="chosen" :shut="shut" @choose="(value) => (chosen = value)" @put="put" @connect="(address, connected) => attempt(() => live.connect(address, connected))" />
            <p class="ends">
              <BButton v-if="live.live.ways.includes('relayed')" :disabled="shut !== '' || busy || !nearby.here" @click="listen('relayed')">add a probe</BButton>
              <BButton :disabled="shut !== '' || busy || !counts.all" @click="take(true)">take all, settled or not</BButton>
              <BButton :disabled="shut !== '' || busy" @click="once(live.end)">let all probes go</BButton>
            </p>
          </template>
          <FindingsNow v-else-if="live.findings" :findings="live.findings" />
          <p v-else class="quiet p-2">Nothing to say yet: no probe sits on this unit.</p>
        </div>
      </div>
    </div>
  </div>
  <KeysHelp v-model="helping" :keys="KEYS" />
</template>

<style scoped>
.danger {
  display: flex;
  align-items: center;
  gap: 0.75rem;
  border: 2px solid var(--fail);
  padding: 0.5rem 0.75rem;
}
.danger p {
  flex: 1;
  margin: 0;
}
.danger strong {
  color: var(--fail);
  font-size: 1.15rem;
}
.recorder {
  flex: 1;
  min-height: 0;
  display: flex;
  flex-direction: column;
  gap: 0.5rem;
  padding: 0.5rem 0.75rem 0.6rem;
}
.both {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 0.5rem;
}
.both.beside {
  grid-template-columns: minmax(0, 1fr) 24rem;
}
.ends {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem;
  margin: 0;
  padding: 0.6rem 0.75rem;
}
.bar {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.4rem;
  padding: 0.3rem 0.6rem;
}
.bar p {
  margin: 0;
}
.help {
  margin-left: auto;
}
.still {
  flex: 1 1 16rem;
}
.pass {
  color: var(--pass);
}
.watch {
  color: var(--watch);
}
select {
  min-height: var(--target);
}
.marking {
  display: inline-flex;
  gap: 0.3rem;
}
.said {
  margin: 0;
}
.stage,
.side {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.pictures {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.08rem;
  padding: 0.3rem 0.4rem 0;
}
.pictures .btn {
  padding: 0.1rem 0.45rem;
  border-color: transparent;
}
.pictures .btn[aria-pressed='true'] {
  border-color: var(--ink);
  font-weight: 600;
}
.hint {
  color: var(--focus);
  font-weight: 600;
}
.frame {
  flex: 1;
  min-height: 0;
  margin: 0.3rem;
  overflow: auto;
  container-type: size;
  display: grid;
  align-content: safe center;
}
.frame > .full {
  align-self: stretch;
  height: 100cqh;
}
.scroll {
  flex: 1;
  overflow: auto;
  min-height: 0;
}
@media (max-width: 60rem) {
  .both,
  .both.beside {
    display: flex;
    flex-direction: column;
  }
  .frame {
    flex: none;
    container-type: inline-size;
    overflow: auto;
  }
  .frame > .full {
    height: auto;
  }
}
</style>
