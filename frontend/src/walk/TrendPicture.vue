<script setup lang="ts">
// One indicator over the visits to a unit, in one mode: dots with their bands, this visit's last.
import { scaleLinear, scaleTime } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import type { PastRun } from '../api/types'
import { useNarrow } from '../composables/useMedia'
import { useSheet } from '../composables/useSheet'
import { useCatalogue } from '../stores/catalogue'
import { figure, signed } from './figures'

const props = defineProps<{ runs: PastRun[]; indicator: string; visit: number }>()
const catalogue = useCatalogue()

const narrow = useNarrow()
const width = computed(() => (narrow.value ? 380 : 800))
const { style } = useSheet(useTemplateRef<SVGSVGElement>('sheet'), width)
const HEIGHT = 240
const LEFT = 84
const right = computed(() => width.value - 20)
const TOP = 34
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
  const room = (last - first || 86_400_000) * 0.1
  return scaleTime().domain([first - room, last + room]).range([LEFT, right.value])
})
const y = computed(() =>
  scaleLinear()
    .domain([Math.min(...points.value.map((p) => p.value - p.uncertainty)), Math.max(...points.value.map((p) => p.value + p.uncertainty))])
    .nice(4)
    .range([BOTTOM, TOP]),
)
const marks = computed(() => points.value.map((point) => ({ ...point, x: x.value(point.at), y: y.value(point.value) })))
const unit = computed(() => catalogue.symbolOf(props.indicator, points.value[0]?.unit ?? ''))
const day = (at: Date) => at.toLocaleDateString(undefined, { year: 'numeric', month: 'short', day: 'numeric' })
const degree = computed(() => catalogue.symbol(props.runs.find((run) => run.outdoors)?.outdoors?.unit ?? ''))
// Day and conditions under each dot that has room for them, the latest first.
const labels = computed(() => {
  let edge = Infinity
  return [...marks.value].reverse().flatMap((mark) => {
    if (mark.x > edge - 96) return []
    edge = mark.x
    return [{ x: mark.x, day: day(mark.at), outdoors: mark.run.outdoors ? signed(mark.run.outdoors.value) : '–' }]
  })
})
</script>

<template>
  <p v-if="points.length < 2" class="quiet">A trend needs this figure from two visits in this mode.</p>
  <svg v-else ref="sheet" :style="style" :viewBox="`0 0 ${width} ${HEIGHT}`" role="img" :aria-label="`Trend of ${catalogue.word('indicator', indicator)}: ${points.map((p) => `${day(p.at)} ${figure(p.value)}`).join(', ')} ${unit}`">
    <g v-for="tick in y.ticks(4)" :key="tick">
      <path class="grid" :d="`M${LEFT} ${y(tick)}H${right}`" />
      <text class="figure" :x="LEFT - 8" :y="y(tick) + 5" text-anchor="end">{{ figure(tick) }}</text>
    </g>
    <text class="name" x="2" y="15">{{ catalogue.word('indicator', indicator) }}{{ unit && `, ${unit}` }}</text>
    <path class="line" :d="`M${marks.map((mark) => `${mark.x} ${mark.y}`).join('L')}`" />
    <g v-for="mark in marks" :key="`${mark.run.visit} ${mark.run.run}`">
      <path class="band" :d="`M${mark.x} ${y(mark.value - mark.uncertainty)}V${y(mark.value + mark.uncertainty)}`" />
      <circle :cx="mark.x" :cy="mark.y" :r="mark.run.visit === visit ? 9 : 6" :class="{ now: mark.run.visit === visit }" />
    </g>
    <text x="2" :y="HEIGHT - 6">outdoors, {{ degree }}</text>
    <g v-for="one in labels" :key="one.x" text-anchor="middle">
      <text :x="one.x" :y="BOTTOM + 20">{{ one.day }}</text>
      <text class="figure" :x="one.x" :y="HEIGHT - 6">{{ one.outdoors }}</text>
    </g>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  max-height: 16rem;
}
text {
  fill: var(--quiet);
  font-size: max(14px, 11.5 * var(--px, 1px));
}
.name {
  fill: var(--ink);
  font-size: max(16px, 11.5 * var(--px, 1px));
  font-weight: 700;
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
