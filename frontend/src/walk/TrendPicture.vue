<script setup lang="ts">
// One indicator over the visits to a unit, in one mode: dots with their bands, this visit's last.
import { scaleLinear, scaleTime } from 'd3-scale'
import { computed } from 'vue'
import type { PastRun } from '../api/types'
import { useCatalogue } from '../stores/catalogue'
import { figure, signed } from './figures'

const props = defineProps<{ runs: PastRun[]; indicator: string; visit: number }>()
const catalogue = useCatalogue()

const WIDTH = 800
const HEIGHT = 230
const LEFT = 66
const RIGHT = WIDTH - 30
const TOP = 18
const BOTTOM = HEIGHT - 46

const points = computed(() =>
  props.runs.flatMap((run) => {
    const found = run.indicators[props.indicator]
    return found ? [{ run, at: new Date(run.opened_at), ...found }] : []
  }),
)
const x = computed(() => {
  const times = points.value.map((point) => +point.at)
  const [first, last] = [Math.min(...times), Math.max(...times)]
  const room = (last - first || 86_400_000) * 0.06
  return scaleTime().domain([first - room, last + room]).range([LEFT, RIGHT])
})
const y = computed(() =>
  scaleLinear()
    .domain([Math.min(...points.value.map((p) => p.value - p.uncertainty)), Math.max(...points.value.map((p) => p.value + p.uncertainty))])
    .nice(4)
    .range([BOTTOM, TOP]),
)
const marks = computed(() => points.value.map((point) => ({ ...point, x: x.value(point.at), y: y.value(point.value) })))
const unit = computed(() => catalogue.symbol(points.value[0]?.unit ?? ''))
const short = (at: Date) => at.toLocaleDateString(undefined, { month: 'short', year: '2-digit' })
const conditions = (run: PastRun) =>
  run.outdoors ? `outdoors ${signed(run.outdoors.value)} ${catalogue.symbol(run.outdoors.unit)}` : 'outdoors not read'
</script>

<template>
  <p v-if="points.length < 2" class="quiet">A trend needs this figure from two visits in this mode.</p>
  <svg v-else :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="`Trend of ${catalogue.word('indicator', indicator)}: ${points.map((p) => `${short(p.at)} ${figure(p.value)}`).join(', ')} ${unit}`">
    <g v-for="tick in y.ticks(4)" :key="tick">
      <path class="grid" :d="`M${LEFT} ${y(tick)}H${RIGHT}`" />
      <text class="figure" :x="LEFT - 8" :y="y(tick) + 5" text-anchor="end">{{ figure(tick) }}</text>
    </g>
    <text x="2" y="12">{{ unit }}</text>
    <path class="line" :d="`M${marks.map((mark) => `${mark.x} ${mark.y}`).join('L')}`" />
    <g v-for="mark in marks" :key="`${mark.run.visit} ${mark.run.run}`">
      <path class="band" :d="`M${mark.x} ${y(mark.value - mark.uncertainty)}V${y(mark.value + mark.uncertainty)}`" />
      <circle :cx="mark.x" :cy="mark.y" :r="mark.run.visit === visit ? 9 : 6" :class="{ now: mark.run.visit === visit }" />
    </g>
    <g v-for="tick in x.ticks(5)" :key="+tick">
      <text :x="x(tick)" :y="BOTTOM + 20" text-anchor="middle">{{ short(tick) }}</text>
    </g>
    <text class="figure" :x="RIGHT" :y="HEIGHT - 6" text-anchor="end">now {{ conditions(marks.at(-1)!.run) }}</text>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  max-height: 15rem;
}
text {
  fill: var(--quiet);
  font-size: 14px;
}
.grid {
  stroke: var(--hair);
  stroke-dasharray: 1 6;
}
.line {
  fill: none;
  stroke: var(--edge);
  stroke-width: 2;
}
.band {
  stroke: var(--ink);
  stroke-width: 2;
}
circle {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 2;
}
circle.now {
  fill: var(--ink);
}
</style>
