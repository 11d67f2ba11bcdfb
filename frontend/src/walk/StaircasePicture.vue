<script setup lang="ts">
// The staircase: temperature along the path in flow order, with saturation and air as level lines. A station
// without a reading is a gap that can be pressed; a leg that strays from what it should do is flagged. Behind it lies the band of
// what this unit, sound, should show; what departs from it is joined to it, and the one that departs furthest is named. Over it may
// be laid what a unit with some fault would show.
import { scaleLinear } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import type { Expected, Foretold, Leg, RunExamination } from '../api/types'
import { useSheet } from '../composables/useSheet'
import { useCatalogue } from '../stores/catalogue'
import { spotKey, type Shown } from '../stores/visit'
import { plain, signed } from './figures'
import { temperatureColour } from './temperatureScale'

const props = defineProps<{
  path: RunExamination['path']
  legs: Leg[]
  levels: RunExamination['levels']
  expected: Record<string, Expected>
  basis: string
  departure: string | null
  laid: { title: string; places: Record<string, Foretold> } | null
  shown: Map<string, Shown>
  selected: string
  unit: string
}>()
defineEmits<{ press: [station: string] }>()
const catalogue = useCatalogue()

const WIDTH = 1000
const HEIGHT = 560
const LEFT = 52
const RIGHT = 880
const TOP = 26
const BOTTOM = 402

const { scale, style } = useSheet(useTemplateRef<HTMLElement>('picture'), WIDTH)
/** Each stop is wide enough for a glove; where there are many, the picture is moved sideways. */
const TARGET_PX = 44
const least = computed(() => `${(props.path.length * TARGET_PX * WIDTH) / (RIGHT - LEFT)}px`)
const line = computed(() => 13 * scale.value)

const tagAt = (station: string) => props.shown.get(spotKey({ station, quantity: 'temperature' }))
const soundAt = (station: string) => {
  const one = props.expected[station]
  return one?.quantity === 'temperature' && one.unit === props.unit ? one : undefined
}
const laidStops = computed(() =>
  props.path.flatMap(({ station }, index) => {
    const told = props.laid?.places[station]
    return told?.quantity === 'temperature' && told.unit === props.unit ? [{ station, index, told }] : []
  }),
)
const values = computed(() => [
  ...props.path.flatMap((stop) => { const one = soundAt(stop.station); return one ? [one.low, one.high] : [] }),
  ...props.path.flatMap((stop) => tagAt(stop.station)?.value ?? []),
  ...laidStops.value.flatMap(({ told }) => [told.low, told.high]),
  ...props.levels.map((level) => level.value),
])
const y = computed(() => {
  const low = Math.min(...values.value, Infinity)
  const high = Math.max(...values.value, -Infinity)
  const span = Number.isFinite(low) ? [low - 5, high + 5] : [0, 100]
  return scaleLinear().domain(span).nice(6).range([BOTTOM, TOP])
})
const x = (index: number) => LEFT + ((RIGHT - LEFT) * (index + 0.5)) / props.path.length
const width = computed(() => (RIGHT - LEFT) / props.path.length)

const stops = computed(() =>
  props.path.map((stop, index) => {
    const tag = tagAt(stop.station)
    return { ...stop, tag, sound: soundAt(stop.station), x: x(index), y: tag ? y.value(tag.value) : (TOP + BOTTOM) / 2 }
  }),
)
const bands = computed(() =>
  stops.value.flatMap(({ station, sound, x: at, y: read, tag }) => {
    if (!sound) return []
    const [top, bottom] = [y.value(sound.high), y.value(sound.low)]
    const edge = sound.departs === 'above' ? top : bottom
    return [{
      station, x: at, top, bottom, middle: y.value(sound.value),
      off: tag && sound.departs ? { from: read, edge, by: tag.value - sound.value } : null,
    }]
  }),
)
const laidSteps = computed(() => laidStops.value.map(({ station, index, told }) => ({ station, x: x(index), y: y.value(told.value), top: y.value(told.high), bottom: y.value(told.low) })))
const laidLine = computed(() => laidSteps.value.map((step, index) => `${index ? 'L' : 'M'}${step.x} ${step.y}`).join(''))
const MARK = { fall: '↘', hold: '→', rise: '↗' }
const steps = computed(() =>
  props.legs.map((leg, index) => {
    const [a, b] = [stops.value[index]!, stops.value[index + 1]!]
    // Over both ends, and over the number that stands on either.
    const flagY = Math.min(...[a, b].map((end, n) => (index + n) % 2 ? end.y - 14 : end.y - 20 - line.value))
    return { leg, a, b, flagY, both: a.tag && b.tag, strays: leg.status === 'fail' || leg.status === 'watch' }
  }),
)
const LEVELS: Record<string, string> = {
  condensing: 'condensing', evaporating: 'evaporating', outdoor_air: 'outdoor air', indoor_air: 'indoor air',
  source_water: 'source water', load_water: 'load water',
}
// Names of lines that lie close together are moved apart, from the top down.
const named = computed(() => {
  let last = -Infinity
  return [...props.levels]
    .sort((a, b) => b.value - a.value)
    .map((level) => {
      last = Math.max(y.value(level.value) + 5, last + Math.max(17, line.value))
      return { ...level, labelY: last }
    })
})
/** What is drawn at a stop comes first, so that it is found by what is seen. */
function labelOf({ station, tag, sound }: (typeof stops.value)[number]) {
  const drawn = `${tag ? `${Math.round(tag.value)} ` : ''}${catalogue.short(station)}`
  const over = props.laid?.places[station]
  return [
    `${drawn}: ${catalogue.title(station)}`,
    tag ? signed(tag.value) : 'not read yet, press to fill',
    ...(sound ? [`expected ${signed(sound.value)}`] : []),
    ...(over?.quantity === 'temperature' ? [`with ${props.laid!.title} ${signed(over.value)}`] : []),
  ].join(', ')
}
const departing = computed(() => bands.value.find((band) => band.station === props.departure && band.off))
const flagged = computed(() => steps.value.filter((step) => step.strays))
</script>

<template>
  <div ref="picture" class="picture" :style="[style, { minWidth: least }]">
    <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="group" aria-label="Staircase: temperature along the path, in flow order">
      <g v-for="tick in y.ticks(6)" :key="tick">
        <path class="grid" :d="`M${LEFT} ${y(tick)}H${RIGHT}`" />
        <text class="figure" :x="LEFT - 8" :y="y(tick) + 5" text-anchor="end">{{ plain(tick) }}</text>
      </g>
      <text :x="LEFT - 8" :y="14" text-anchor="end">{{ catalogue.symbol(unit) }}</text>
      <g v-for="band in bands" :key="`sound ${band.station}`" class="sound" aria-hidden="true">
        <rect :x="band.x - width * 0.36" :y="band.top" :width="width * 0.72" :height="band.bottom - band.top" />
        <path :d="`M${band.x - width * 0.36} ${band.middle}h${width * 0.72}`" />
        <path v-if="band.off" class="off" :class="{ furthest: band.station === departure }" :d="`M${band.x} ${band.off.from}V${band.off.edge}`" />
      </g>
      <g v-for="level in named" :key="level.name">
        <path class="level" :class="level.name" :d="`M${LEFT} ${y(level.value)}H${RIGHT}`" />
        <text class="level-name" :x="RIGHT + 6" :y="level.labelY">{{ LEVELS[level.name] }}</text>
        <text class="level-name figure" :x="WIDTH - 2" :y="level.labelY" text-anchor="end">{{ Math.round(level.value) }}</text>
      </g>
      <g v-if="laid" class="laid" aria-hidden="true">
        <path :d="laidLine" />
        <g v-for="step in laidSteps" :key="step.station">
          <path class="reach" :d="`M${step.x} ${step.top}V${step.bottom}`" />
          <path class="step" :d="`M${step.x - width * 0.2} ${step.y}h${width * 0.4}`" />
        </g>
      </g>
      <g v-for="step in steps" :key="step.leg.start">
        <path
          v-if="step.both" class="tread" :class="{ fail: step.leg.status === 'fail', watch: step.leg.status === 'watch' }"
          :d="`M${step.a.x} ${step.a.y}L${step.b.x} ${step.b.y}`"
        />
        <text class="should" :x="(step.a.x + step.b.x) / 2" :y="BOTTOM + 22" text-anchor="middle">{{ MARK[step.leg.should] }}</text>
        <text
          v-if="step.strays" class="flag" :class="step.leg.status" text-anchor="middle"
          :x="(step.a.x + step.b.x) / 2" :y="step.flagY"
        >{{ step.leg.status === 'fail' ? '✗' : '≈' }} {{ signed(step.leg.change?.value ?? 0) }}</text>
      </g>
      <g
        v-for="(stop, index) in stops" :key="stop.station" class="stop" role="button" tabindex="0"
        :aria-label="labelOf(stop)"
        @click="$emit('press', stop.station)" @keydown.enter.prevent="$emit('press', stop.station)"
      >
        <rect class="hit" :class="{ selected: selected === stop.station }" :x="stop.x - width / 2" :y="TOP - 16" :width="width" :height="HEIGHT - TOP + 6" />
        <path v-if="!stop.tag" class="gap" :d="`M${stop.x} ${TOP + 10}V${BOTTOM - 6}`" />
        <circle
          v-else :cx="stop.x" :cy="stop.y" :r="stop.tag.doubted ? 10 : 8" :class="{ doubted: stop.tag.doubted }"
          :style="{ fill: temperatureColour(stop.tag.value, stop.tag.unit) ?? 'var(--edge)' }"
        />
        <text v-if="stop.tag" class="figure value" :x="stop.x" :y="stop.y + (index % 2 ? 27 : -14)" text-anchor="middle">
          {{ `${Math.round(stop.tag.value)} ` }}</text>
        <text class="name" :transform="`translate(${stop.x - 2} ${BOTTOM + 38}) rotate(50)`">{{ catalogue.short(stop.station).replace(/, head \d$/, '') }}</text>
      </g>
    </svg>
    <p v-if="basis" class="basis">
      <span class="swatch" /> {{ Object.keys(expected).length ? 'what this unit should show.' : '' }} {{ basis }}
    </p>
    <p v-if="laid" class="basis"><span class="swatch over" /> what a unit with this fault would show: {{ laid.title }}.</p>
    <ul v-if="flagged.length || departing" class="notes">
      <li v-if="departing">
        {{ catalogue.short(departing.station) }}: {{ signed(Math.abs(departing.off!.by)) }} {{ catalogue.symbol(unit) }}
        {{ departing.off!.by > 0 ? 'over' : 'under' }} what this unit should show here, further than any other.
      </li>
      <li v-for="step in flagged" :key="step.leg.start">
        {{ catalogue.short(step.leg.start) }} to {{ catalogue.short(step.leg.end) }}: {{ step.leg.explain }}
      </li>
    </ul>
  </div>
</template>

<style scoped>
.picture {
  width: min(100cqw, (100cqh - 4.8rem) * 1000 / 560);
  margin: 0 auto;
  position: relative;
}
svg {
  display: block;
  width: 100%;
}
text {
  fill: var(--quiet);
  font-size: max(15px, 11.5 * var(--px, 1px));
}
.grid {
  stroke: var(--hair);
  stroke-width: 1;
  stroke-dasharray: 1 7;
}
.sound rect {
  fill: var(--raised);
  stroke: var(--hair);
}
.sound path {
  stroke: var(--edge);
  stroke-width: 1.5;
}
.sound .off {
  stroke: var(--watch);
  stroke-width: 3;
}
.sound .furthest {
  stroke-width: 6;
}
.basis {
  margin: 0;
  padding: 0 0.6rem;
  font-size: 0.85rem;
  color: var(--quiet);
}
.swatch {
  display: inline-block;
  width: 1.4em;
  height: 0.75em;
  background: var(--raised);
  border: 1px solid var(--hair);
}
.over {
  height: 0;
  border: 0;
  border-top: 3px dashed var(--focus);
  vertical-align: middle;
}
.laid path {
  fill: none;
  stroke: var(--focus);
  stroke-width: 2;
  stroke-dasharray: 7 5;
}
.laid .step {
  stroke-width: 4;
  stroke-dasharray: none;
}
.laid .reach {
  stroke-width: 1.5;
  stroke-dasharray: none;
}
.level {
  stroke: var(--ink);
  stroke-width: 2;
  fill: none;
}
.outdoor_air,
.indoor_air,
.source_water,
.load_water {
  stroke: var(--edge);
  stroke-dasharray: 10 6;
}
.level-name {
  fill: var(--ink);
  font-size: max(14px, 11.5 * var(--px, 1px));
}
.tread {
  stroke: var(--edge);
  stroke-width: 4;
  fill: none;
}
.tread.fail {
  stroke: var(--fail);
  stroke-width: 6;
}
.tread.watch {
  stroke: var(--watch);
  stroke-width: 6;
}
.flag {
  font-weight: 700;
  font-size: max(17px, 11.5 * var(--px, 1px));
}
.flag.fail {
  fill: var(--fail);
}
.flag.watch {
  fill: var(--watch);
}
.should {
  font-size: max(18px, 11.5 * var(--px, 1px));
}
.stop {
  cursor: pointer;
}
.stop:focus {
  outline: none;
}
.stop:focus-visible .hit {
  stroke: var(--focus);
  stroke-width: 3;
}
.hit {
  fill: transparent;
}
.hit.selected {
  fill: var(--raised);
  fill-opacity: 0.6;
}
circle {
  stroke: var(--ink);
  stroke-width: 2;
}
circle.doubted {
  stroke: var(--watch);
  stroke-width: 4;
  stroke-dasharray: 4 3;
}
.gap {
  stroke: var(--edge);
  stroke-width: 2;
  stroke-dasharray: 2 9;
}
.value {
  fill: var(--ink);
  font-size: max(17px, 11.5 * var(--px, 1px));
  paint-order: stroke;
  stroke: var(--panel);
  stroke-width: 4px;
}
.basis,
.notes {
  position: sticky;
  left: 0;
  max-width: 100cqw;
}
.notes {
  margin: 0;
  padding: 0.1rem 0.6rem 0.3rem 1.8rem;
  font-size: 0.88rem;
}
</style>
