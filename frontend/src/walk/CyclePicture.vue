<script setup lang="ts">
// The measured cycle on a pressure–enthalpy chart, over the refrigerant's dome, with a thin line behind it: the cycle of this
// unit, sound, in these conditions. A corner can be pressed to see the
// readings that made it.
import { scaleLinear, scaleLog } from 'd3-scale'
import { line } from 'd3-shape'
import { computed, ref, useTemplateRef, watch } from 'vue'
import type { CycleCorner, Dome, ExpectedCorner } from '../api/types'
import { useNarrow } from '../composables/useMedia'
import { useSheet } from '../composables/useSheet'
import { useCatalogue } from '../stores/catalogue'
import { spotKey, type Shown, type Spot } from '../stores/visit'
import { plain, signed } from './figures'
import StationTag from './StationTag.vue'
import { temperatureColour } from './temperatureScale'

const props = defineProps<{ dome: Dome; corners: CycleCorner[]; expected: ExpectedCorner[]; shown: Map<string, Shown>; selected: Spot }>()
defineEmits<{ press: [spot: Spot] }>()
const catalogue = useCatalogue()

const narrow = useNarrow()
const width = computed(() => (narrow.value ? 380 : 590))
const { style } = useSheet(useTemplateRef<SVGSVGElement>('sheet'), width)
const HEIGHT = 500
const LEFT = 46
const right = computed(() => width.value - 14)
const TOP = 26
const BOTTOM = HEIGHT - 40
const ROUND: CycleCorner['corner'][] = ['compressor_in', 'compressor_out', 'condenser_out', 'meter_in', 'meter_out', 'evaporator_out']

const read = computed(() => new Map(props.corners.map((corner) => [corner.corner, corner])))
const missing = computed(() => ROUND.filter((corner) => !read.value.has(corner)))
const chosen = ref<CycleCorner['corner']>('compressor_in')
watch(
  () => props.corners,
  (corners) => {
    if (!read.value.has(chosen.value) && corners[0]) chosen.value = corners[0].corner
  },
  { immediate: true },
)
const one = computed(() => read.value.get(chosen.value))

const rows = computed(() => props.dome.rows)
const span = computed<[number, number]>(() => {
  const pressures = [...props.corners, ...props.expected].map((corner) => corner.pressure.value)
  const [low, high] = [rows.value[0]!.dew_pressure, rows.value.at(-1)!.bubble_pressure]
  if (!pressures.length) return [low, high]
  return [Math.min(...pressures) / 1.9, Math.max(...pressures) * 1.35]
})
const inSpan = computed(() => rows.value.filter((row) => row.dew_pressure >= span.value[0] * 0.8))
const x = computed(() => {
  const all = [
    ...inSpan.value.flatMap((row) => [row.liquid_enthalpy, row.vapor_enthalpy]),
    ...[...props.corners, ...props.expected].map((corner) => corner.enthalpy.value),
  ]
  return scaleLinear().domain([Math.min(...all), Math.max(...all)]).nice(8).range([LEFT, right.value])
})
const y = computed(() => scaleLog().domain(span.value).range([BOTTOM, TOP]))
const pressureTicks = computed(() => y.value.ticks(8).filter((tick) => /^[1235]/.test(String(tick))))
const side = (pressure: 'bubble_pressure' | 'dew_pressure', enthalpy: 'liquid_enthalpy' | 'vapor_enthalpy') =>
  line<Dome['rows'][number]>((row) => x.value(row[enthalpy]), (row) => y.value(row[pressure]))(rows.value) ?? ''

// Round temperatures along the liquid line, read between the rows.
const STEP: Record<string, number> = { degF: 20, degC: 10 }
const degrees = computed(() => {
  const step = STEP[props.dome.temperature_unit] ?? 20
  return rows.value.slice(1).flatMap((row, index) => {
    const before = rows.value[index]!
    const whole = Math.floor(row.temperature / step) * step
    if (whole < before.temperature || whole >= row.temperature) return []
    const share = (whole - before.temperature) / (row.temperature - before.temperature)
    const between = (a: number, b: number) => a + share * (b - a)
    const at = { x: x.value(between(before.liquid_enthalpy, row.liquid_enthalpy)), y: y.value(between(before.bubble_pressure, row.bubble_pressure)) }
    return at.y > TOP + 8 && at.y < BOTTOM - 6 ? [{ whole, ...at }] : []
  })
})

const points = computed(() =>
  ROUND.flatMap((corner, index) => {
    const found = read.value.get(corner)
    return found ? [{ ...found, index, x: x.value(found.enthalpy.value), y: y.value(found.pressure.value) }] : []
  }),
)
/** Corners may coincide: a press takes the nearest, and each has a button of its own beside the chart. */
function chooseNearest(event: MouseEvent) {
  const sheet = event.currentTarget as SVGSVGElement
  const { x: px, y: py } = new DOMPoint(event.clientX, event.clientY).matrixTransform(sheet.getScreenCTM()!.inverse())
  const away = (point: { x: number; y: number }) => Math.hypot(point.x - px, point.y - py)
  const nearest = [...points.value].sort((a, b) => away(a) - away(b))[0]
  if (nearest) chosen.value = nearest.corner
}
const sound = computed(() => {
  const ends = props.expected.map((corner) => `${x.value(corner.enthalpy.value)} ${y.value(corner.pressure.value)}`)
  return ends.length ? `M${ends.join('L')}Z` : ''
})
const HIGH = ['compressor_out', 'condenser_out']
const strokes = computed(() =>
  points.value.length < 2
    ? []
    : points.value.map((from, place) => {
        const to = points.value[(place + 1) % points.value.length]!
        const gap = (to.index - from.index + ROUND.length) % ROUND.length !== 1
        return { from, to, gap, high: HIGH.includes(from.corner) && !gap }
      }),
)
// Numbers beside the corners: outward, so that neighbours don't collide.
const AWAY: Record<string, [number, number]> = {
  compressor_in: [14, 20], compressor_out: [12, -12], condenser_out: [6, -14], meter_in: [-16, -14], meter_out: [-14, 22], evaporator_out: [-4, 24],
}
const spotOf = (station: string): Spot => ({ station, quantity: catalogue.station(station)?.group === 'tap' ? 'pressure' : 'temperature' })
const number = (corner: CycleCorner['corner']) => ROUND.indexOf(corner) + 1
</script>

<template>
  <div class="cycle">
    <svg
      ref="sheet" :style="style" :viewBox="`0 0 ${width} ${HEIGHT}`" role="img" aria-label="Pressure–enthalpy chart with the measured cycle"
      @click="chooseNearest"
    >
      <clipPath id="field"><rect :x="LEFT" :y="TOP" :width="right - LEFT" :height="BOTTOM - TOP" /></clipPath>
      <g v-for="tick in pressureTicks" :key="tick">
        <path class="grid" :d="`M${LEFT} ${y(tick)}H${right}`" />
        <text class="figure" :x="LEFT - 7" :y="y(tick) + 5" text-anchor="end">{{ tick }}</text>
      </g>
      <g v-for="tick in x.ticks(narrow ? 5 : 8)" :key="tick">
        <path class="grid" :d="`M${x(tick)} ${TOP}V${BOTTOM}`" />
        <text class="figure" :x="x(tick)" :y="BOTTOM + 18" text-anchor="middle">{{ tick }}</text>
      </g>
      <text x="4" y="14">{{ catalogue.symbol(dome.pressure_unit) }}</text>
      <text :x="right" :y="HEIGHT - 5" text-anchor="end">enthalpy, {{ catalogue.symbol(dome.enthalpy_unit) }}</text>
      <g clip-path="url(#field)">
        <path class="dome" :d="side('bubble_pressure', 'liquid_enthalpy')" />
        <path class="dome" :d="side('dew_pressure', 'vapor_enthalpy')" />
        <text v-for="degree in degrees" :key="degree.whole" class="degree figure" :x="degree.x + 7" :y="degree.y + 9">
          {{ plain(degree.whole) }}°</text>
        <path class="sound" :d="sound" />
        <path
          v-for="stroke in strokes" :key="stroke.from.corner" class="way" :class="{ high: stroke.high, gap: stroke.gap }"
          :d="`M${stroke.from.x} ${stroke.from.y}L${stroke.to.x} ${stroke.to.y}`"
        />
      </g>
      <g v-for="point in points" :key="point.corner" class="corner">
        <path class="band" :d="`M${x(point.enthalpy.value - point.enthalpy.uncertainty)} ${point.y}H${x(point.enthalpy.value + point.enthalpy.uncertainty)}`" />
        <circle
          :cx="point.x" :cy="point.y" :r="chosen === point.corner ? 10 : 8" :class="{ untold: !point.told, chosen: chosen === point.corner }"
          :style="{ fill: temperatureColour(point.temperature.value, point.temperature.unit) ?? 'var(--edge)' }"
        />
        <text class="number figure" :x="point.x + AWAY[point.corner]![0]" :y="point.y + AWAY[point.corner]![1]" text-anchor="middle">{{ point.index + 1 }}</text>
      </g>
    </svg>
    <div class="list">
      <p v-if="expected.length" class="quiet">Thin line: what this unit, sound, would do here.</p>
      <p v-if="!corners.length" class="quiet">
        Not enough readings yet. A corner needs its pipe and its side: a gauge, or the bend of the coil on that side.
      </p>
      <ul v-else>
        <li v-for="point in points" :key="point.corner">
          <button type="button" :aria-pressed="chosen === point.corner" @click="chosen = point.corner">
            <b class="figure">{{ point.index + 1 }}</b> {{ catalogue.word('corner', point.corner) }}
            <span class="figure amount">{{ signed(point.temperature.value) }} {{ catalogue.symbol(point.temperature.unit) }}</span>
          </button>
        </li>
      </ul>
      <div v-if="one" class="opened">
        <h2>{{ number(one.corner) }} {{ catalogue.word('corner', one.corner) }}</h2>
        <p>
          <span class="figure">{{ signed(one.pressure.value, 0) }} {{ catalogue.symbol(one.pressure.unit) }}</span> {{ catalogue.word('source', one.source) }},
          <span class="figure">{{ signed(one.enthalpy.value) }} ± {{ signed(one.enthalpy.uncertainty) }} {{ catalogue.symbol(one.enthalpy.unit) }}</span>.
          <template v-if="!one.told">This close to saturation a thermometer can't tell vapor from a mixture; the point may be inside the dome.</template>
        </p>
        <div class="tags" role="group" aria-label="Its readings">
          <StationTag
            v-for="station in one.uses" :key="station" :code="station" :quantity="spotOf(station).quantity" :shown="shown.get(spotKey(spotOf(station)))"
            :selected="spotKey(selected) === spotKey(spotOf(station))" @press="$emit('press', spotOf(station))"
          />
        </div>
      </div>
      <p v-if="corners.length && missing.length" class="quiet">Not read yet: {{ missing.map((corner) => catalogue.word('corner', corner)).join('; ') }}.</p>
    </div>
  </div>
</template>

<style scoped>
.cycle {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 17.5rem;
  gap: 0.6rem;
  align-self: start;
  align-items: start;
  padding: 0.2rem 0.3rem;
}
svg {
  display: block;
  width: 100%;
  max-height: calc(100cqh - 0.6rem);
}
text {
  fill: var(--quiet);
  font-size: max(14px, 11.5 * var(--px, 1px));
}
.grid {
  stroke: var(--hair);
  stroke-dasharray: 1 6;
}
.dome {
  fill: none;
  stroke: var(--edge);
  stroke-width: 2;
}
.degree {
  font-size: max(12px, 11.5 * var(--px, 1px));
}
.sound {
  fill: none;
  stroke: var(--quiet);
  stroke-width: 1.2;
}
.way {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2.5;
}
.way.high {
  stroke-width: 5;
}
.way.gap {
  stroke: var(--edge);
  stroke-dasharray: 3 7;
}
.corner {
  cursor: pointer;
}
.corner circle {
  stroke: var(--ink);
  stroke-width: 2;
}
.corner circle.untold {
  stroke-dasharray: 4 3;
}
.corner circle.chosen {
  stroke-width: 4;
}
.band {
  stroke: var(--ink);
  stroke-width: 1.5;
}
.number {
  fill: var(--ink);
  font-size: max(16px, 11.5 * var(--px, 1px));
  font-weight: 700;
  paint-order: stroke;
  stroke: var(--panel);
  stroke-width: 4px;
}
.list {
  max-height: calc(100cqh - 0.6rem);
  overflow: auto;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li button {
  display: flex;
  gap: 0.5rem;
  align-items: center;
  width: 100%;
  min-height: var(--target);
  padding: 0 0.4rem;
  text-align: left;
  background: none;
  color: var(--ink);
  border: 1px solid transparent;
  border-bottom-color: var(--hair);
}
li button[aria-pressed='true'] {
  border-color: var(--ink);
}
.amount {
  margin-left: auto;
  white-space: nowrap;
}
.opened {
  margin-top: 0.5rem;
}
.opened p {
  margin: 0.2rem 0 0.4rem;
}
.tags {
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem;
}
@media (max-width: 64rem) {
  .cycle {
    grid-template-columns: minmax(0, 1fr);
  }
  svg,
  .list {
    max-height: none;
  }
}
</style>
