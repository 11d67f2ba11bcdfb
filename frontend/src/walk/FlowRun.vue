<script setup lang="ts">
// One run's line from coil to coil, left to right as it runs: stations as posts, metering devices and drier as what they are,
// the drop at each set against the one expected.
import { computed } from 'vue'
import type { Device, RunExamination } from '../api/types'
import StatusMark from '../shell/StatusMark.vue'
import { useCatalogue } from '../stores/catalogue'
import { spotKey, type Shown } from '../stores/visit'
import { signed } from './figures'
import StationTag from './StationTag.vue'
import { temperatureColour } from './temperatureScale'

const props = defineProps<{ run: RunExamination; number: number; shown: Map<string, Shown>; selected: string; current: boolean }>()
defineEmits<{ press: [station: string] }>()
const catalogue = useCatalogue()

const WIDTH = 1000
const LINE = 62
const stops = computed(() => {
  const order = props.run.path.map((stop) => stop.station)
  const [from, to] = [props.run.coils?.condenser ?? '', props.run.coils?.evaporator ?? '']
  return props.run.path.slice(order.indexOf(from), order.indexOf(to) + 1)
})
const x = (index: number) => (WIDTH * (index + 0.5)) / stops.value.length
const tagAt = (station: string) => props.shown.get(spotKey({ station, quantity: 'temperature' }))
const colour = (station: string) => temperatureColour(tagAt(station)?.value, tagAt(station)?.unit) ?? 'var(--edge)'
const devices = computed(() =>
  props.run.devices.flatMap((device) => {
    const at = stops.value.findIndex((stop) => stop.station === device.start)
    return at < 0 ? [] : [{ ...device, x: (x(at) + x(at + 1)) / 2 }]
  }),
)
// What the evidence says of a device, in a word; the shape says the same.
const state = (device: Device) => {
  if (device.role === 'bypassed') return device.status === 'fail' ? 'check valve stuck closed' : device.status === 'pass' ? 'check valve open' : 'bypassed'
  if (device.role === 'active') return device.status === 'fail' ? 'hardly meters' : device.status === 'pass' ? 'meters' : 'should meter'
  if (device.role === 'drier') return device.status === 'fail' ? 'restricted' : device.status === 'pass' ? 'no drop' : 'in the line'
  return 'in the line'
}
const against = computed(() => props.run.running_mode !== (props.run.commanded_mode === 'heating' ? 'heating' : 'cooling'))
const left = (at: number) => ({ left: `${(at / WIDTH) * 100}%` })
// A tag at either end stays inside the picture.
const inside = (at: number) => ({ left: `clamp(3.6rem, ${(at / WIDTH) * 100}%, 100% - 3.8rem)` })
const circuits = computed(() => {
  const side = props.run.coils?.evaporator.replace('_coil', '_circuit:') ?? ''
  const read = props.run.readings.filter((r) => r.station.startsWith(side))
  const [low, high] = [Math.min(...read.map((r) => r.value)), Math.max(...read.map((r) => r.value))]
  return read.map((r) => ({ ...r, share: high > low ? 25 + (75 * (r.value - low)) / (high - low) : 60 }))
})
const off = computed(() => props.run.checks.find((c) => c.code === 'metering.circuits'))
</script>

<template>
  <section class="flow" :class="{ current }">
    <h2>run {{ number }}<template v-if="run.circuit">, circuit {{ run.circuit }}</template>: calling for {{ catalogue.word('mode', run.commanded_mode) }}<template v-if="against">, running in
      {{ catalogue.word('apparent_mode', run.apparent_mode) }}</template> <span aria-hidden="true">→</span></h2>
    <div class="line">
      <svg :viewBox="`0 0 ${WIDTH} 124`" preserveAspectRatio="none" aria-hidden="true">
        <path
          v-for="(stop, index) in stops.slice(0, -1)" :key="stop.station" class="pipe" :class="stop.role"
          :d="`M${x(index)} ${LINE}H${x(index + 1)}`" :style="{ stroke: colour(stop.station) }"
        />
      </svg>
      <svg v-for="device in devices" :key="device.part" class="device" :class="[device.role.replace(' ', '-'), device.status]" :style="left(device.x)" viewBox="-30 -30 60 60" aria-hidden="true">
        <template v-if="device.role === 'drier'"><rect x="-22" y="-13" width="44" height="26" rx="13" /><path d="M-8 -12v24M0 -13v26M8 -12v24" /></template>
        <template v-else>
          <path v-if="device.role === 'bypassed'" class="round" :class="{ shut: device.status === 'fail' }" d="M-24 0C-24 -32 24 -32 24 0" />
          <path class="meter" d="M-18 -14 18 14V-14L-18 14Z" />
          <path v-if="device.role === 'bypassed' && device.status === 'fail'" class="cross" d="M-9 -32 9 -14M9 -32 -9 -14" />
        </template>
      </svg>
      <StationTag
        v-for="(stop, index) in stops" :key="stop.station" class="post" :style="inside(x(index))" :code="stop.station"
        :shown="tagAt(stop.station)" :selected="selected === stop.station" @press="$emit('press', stop.station)"
      />
    </div>
    <ul class="devices">
      <li v-for="device in devices" :key="device.part">
        <b>{{ device.title }}</b> {{ state(device) }}
        <span class="figure">{{ device.drop ? `${signed(device.drop.value)} ${catalogue.symbol(device.drop.unit)}` : '–' }}</span>
        <span class="quiet">{{ device.expected }}</span>
        <StatusMark :status="device.status" :word="device.status !== 'needs_readings'" />
        <span v-if="device.status === 'fail' || device.status === 'watch'" class="why">{{ device.explain }}</span>
      </li>
    </ul>
    <div v-if="circuits.length" class="circuits">
      <div v-for="one in circuits" :key="one.station" class="circuit">
        <span class="bar" :style="{ height: `${one.share}%`, background: temperatureColour(one.value, one.unit) ?? 'var(--edge)' }" />
        <span class="figure">{{ Math.round(one.value) }}</span>
        <span class="quiet">{{ one.station.split(':')[1] }}</span>
      </div>
      <p v-if="off" :class="off.status">{{ off.explain }}</p>
    </div>
  </section>
</template>

<style scoped>
.flow {
  padding: 0.3rem 0.5rem 0.5rem;
  border-bottom: 1px solid var(--hair);
}
h2 {
  font-weight: 400;
}
.current h2 {
  font-weight: 650;
}
.line {
  position: relative;
  height: 8rem;
  min-width: 44rem;
}
.line > svg:first-child {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
.pipe {
  fill: none;
  vector-effect: non-scaling-stroke;
}
.high {
  stroke-width: 8px;
}
.low {
  stroke-width: 4px;
  stroke-dasharray: 14 6;
}
.post {
  position: absolute;
  top: 0;
  transform: translateX(-50%);
  width: max-content;
  min-width: 4.6rem;
}
.post:nth-of-type(even) {
  top: auto;
  bottom: 0;
}
.device {
  position: absolute;
  top: 50%;
  width: 3.2rem;
  height: 3.2rem;
  transform: translate(-50%, -50%);
  overflow: visible;
}
.device path,
.device rect {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 2;
}
.device.active .meter {
  fill: var(--ink);
}
.device .round {
  fill: none;
}
.device .shut {
  stroke: var(--fail);
  stroke-dasharray: 4 4;
}
.device .cross {
  stroke: var(--fail);
  stroke-width: 4;
}
.device.fail .meter,
.device.fail rect {
  stroke: var(--fail);
  stroke-width: 4;
}
.devices {
  list-style: none;
  margin: 0.3rem 0 0;
  padding: 0;
  display: grid;
  gap: 0.1rem;
  font-size: 0.95rem;
}
.devices li {
  display: flex;
  flex-wrap: wrap;
  gap: 0 0.7rem;
  align-items: center;
}
.why {
  flex-basis: 100%;
}
.circuits {
  display: flex;
  gap: 0.5rem;
  align-items: end;
  height: 6rem;
  margin-top: 0.4rem;
}
.circuit {
  display: grid;
  grid-template-rows: 1fr auto auto;
  justify-items: center;
  height: 100%;
  width: 2.6rem;
}
.bar {
  width: 1.6rem;
  align-self: end;
  border: 1px solid var(--ink);
}
.circuits p {
  margin: 0 0 0 0.6rem;
  align-self: center;
}
</style>
