<script setup lang="ts">
// The reversing valve cut open, with its pilot and capillaries: energize it, plug a capillary, take the pressure away, stop it.
import { computed, reactive, watch } from 'vue'
import { ask, client } from '../../api/client'
import { useCatalogue } from '../../stores/catalogue'
import { signed } from '../../walk/figures'
import { temperatureColour } from '../../walk/temperatureScale'
import { useAnswer } from './asking'
import MeasureList from './MeasureList.vue'
import PickOne from './PickOne.vue'

const catalogue = useCatalogue()
const what = reactive({ coil: 'off', stands: 'heating', plugged: 'none', difference: 'enough', dirt: 'none' })
const asked = () => ({
  energized: what.coil === 'on', stands: what.stands as 'heating', plugged: what.plugged as 'none', difference: what.difference as 'enough', stopped: what.dirt === 'midway',
})
const { answer: valve, trouble } = useAnswer(asked, (query) => ask(client.GET('/api/handbook/moving/valve', { params: { query } })))
// Where it came to rest is where it stands when the coil is switched next.
watch(() => what.coil, () => (what.stands = (valve.value?.slide ?? -1) > 0 ? 'cooling' : 'heating'), { flush: 'sync' })
const PIPES = [
  { station: 'discharge_line', x: 500, top: true }, { station: 'valve_to_indoor', x: 300, top: false },
  { station: 'common_suction', x: 500, top: false }, { station: 'valve_to_outdoor', x: 700, top: false },
]
const at = (station: string) => valve.value?.pipes.find((one) => one.station === station)
const colour = (station: string) => {
  const found = at(station)?.temperature
  return temperatureColour(found?.value, found?.unit) ?? 'var(--raised)'
}
const TRAVEL = 100
const slide = computed(() => -(valve.value?.slide ?? -1) * TRAVEL)
const plunger = computed(() => ((valve.value?.wanted ?? -1) > 0 ? 26 : -26))
const end = (side: 'left' | 'right') => (side === 'left' ? valve.value?.left_end : valve.value?.right_end)
const label = computed(() => {
  const stands = valve.value?.slide ?? -1
  return `Reversing valve, cut open: the slide stands ${stands === 0 ? 'midway' : stands > 0 ? 'over to cooling' : 'over to heating'}.`
})
</script>

<template>
  <div>
    <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
    <div class="hands">
      <PickOne v-model="what.coil" label="Solenoid coil (energized in cooling)" :choices="{ off: 'de-energized', on: 'energized' }" />
      <PickOne v-model="what.plugged" label="Plugged pilot capillary" :choices="{ none: 'none', left: 'left end', right: 'right end' }" />
      <PickOne v-model="what.difference" label="Pressure difference" :choices="{ enough: 'enough', too_little: 'too little' }" />
      <PickOne v-model="what.dirt" label="Dirt" :choices="{ none: 'no dirt', midway: 'stops the slide midway' }" />
    </div>
    <template v-if="valve">
      <div class="scroll" tabindex="0" role="region" aria-label="Picture"><svg viewBox="0 0 1000 500" role="img" :aria-label="label">
        <path v-for="(d, n) in ['M360 70H170V250', 'M640 70H830V250', 'M470 100V150H500', 'M530 100V330H500']" :key="n" class="capillary" :class="{ plugged: (n === 0 && what.plugged === 'left') || (n === 1 && what.plugged === 'right') }" :d="d" />
        <text v-if="what.plugged !== 'none'" class="flag" :x="what.plugged === 'left' ? 120 : 880" y="160" text-anchor="middle">✗ plugged</text>
        <rect class="pilot" x="360" y="44" width="280" height="56" />
        <rect class="plunger" x="470" y="50" width="60" height="44" :style="{ transform: `translateX(${plunger}px)` }" />
        <rect class="coil" :class="{ on: what.coil === 'on' }" x="644" y="38" width="64" height="68" />
        <text x="720" y="30">coil {{ what.coil === 'on' ? 'energized' : 'at rest' }}</text>
        <text x="360" y="34">pilot</text>
        <g v-for="pipe in PIPES" :key="pipe.station">
          <rect class="pipe" :x="pipe.x - 24" :y="pipe.top ? 120 : 310" width="48" :height="pipe.top ? 80 : 90" :style="{ fill: colour(pipe.station) }" />
          <text class="figure big" :x="pipe.top ? pipe.x + 34 : pipe.x" :y="pipe.top ? 143 : 422" :text-anchor="pipe.top ? 'start' : 'middle'">{{ signed(at(pipe.station)?.temperature.value ?? 0) }} {{ catalogue.symbol(at(pipe.station)?.temperature.unit ?? '') }}</text>
          <text :x="pipe.top ? pipe.x + 34 : pipe.x" :y="pipe.top ? 178 : 455" :text-anchor="pipe.top ? 'start' : 'middle'">{{ catalogue.short(pipe.station) }}</text>
        </g>
        <rect class="body" x="100" y="200" width="800" height="110" rx="12" :style="{ fill: colour('discharge_line') }" />
        <g class="moves" :style="{ transform: `translateX(${slide}px)` }">
          <rect class="piston" x="210" y="204" width="16" height="102" />
          <rect class="piston" x="774" y="204" width="16" height="102" />
          <path class="rod" d="M226 226H774" />
          <path class="cup" d="M370 310v-30q0 -44 44 -44h172q44 0 44 44v30Z" :style="{ fill: colour('common_suction') }" />
        </g>
        <text v-for="side in ['left', 'right'] as const" :key="side" class="end" :x="side === 'left' ? 60 : 940" y="336" :text-anchor="side === 'left' ? 'start' : 'end'">{{ end(side) }} pressure</text>
        <text x="500" y="492" text-anchor="middle">discharge {{ signed(valve.high.value, 0) }} {{ catalogue.symbol(valve.high.unit) }} · suction {{ signed(valve.low.value, 0) }} {{ catalogue.symbol(valve.low.unit) }}</text>
      </svg></div>
      <p class="why" role="status">{{ valve.why }}</p>
      <MeasureList :measures="valve.measure" />
    </template>
  </div>
</template>

<style scoped src="./sheet.css"></style>
<style scoped>
.capillary {
  fill: none;
  stroke: var(--edge);
  stroke-width: 5;
}
.capillary.plugged {
  stroke: var(--fail);
  stroke-dasharray: 6 6;
}
.flag {
  fill: var(--fail);
  font-weight: 650;
}
.pilot,
.coil,
.pipe,
.body,
.piston {
  stroke: var(--ink);
  stroke-width: 2.5;
  fill: var(--panel);
}
.plunger {
  fill: var(--ink);
}
.coil.on {
  fill: var(--watch);
}
.cup {
  stroke: var(--ink);
  stroke-width: 4;
}
.rod {
  stroke: var(--ink);
  stroke-width: 4;
}
.moves,
.plunger {
  transition: transform 0.7s ease-in-out;
}
@media (prefers-reduced-motion: reduce) {
  .moves,
  .plunger {
    transition: none;
  }
}
</style>
