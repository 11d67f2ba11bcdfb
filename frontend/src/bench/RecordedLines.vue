<script setup lang="ts">
// A recording as its lines: temperatures through time, and a lane for each thing that switches. What it means is not said.
import { scaleLinear } from 'd3-scale'
import { line } from 'd3-shape'
import { computed, useTemplateRef } from 'vue'
import type { RecordedShown } from '../api/types'
import { useSheet } from '../composables/useSheet'
import { useCatalogue } from '../stores/catalogue'
import { clock } from '../walk/defrostLines'
import { plain } from '../walk/figures'

const props = defineProps<{ recorded: RecordedShown }>()
const catalogue = useCatalogue()
const WIDTH = 900
const LEFT = 54
const RIGHT = 716
const TOP = 14
const BOTTOM = 330
const LANE = 24
const { style } = useSheet(useTemplateRef<HTMLElement>('picture'), WIDTH)
const x = computed(() => scaleLinear().domain([0, props.recorded.seconds]).range([LEFT, RIGHT]))
const y = computed(() => {
  const all = props.recorded.lines.flatMap((one) => one.values)
  return scaleLinear().domain([Math.min(...all), Math.max(...all)]).nice(6).range([BOTTOM, TOP])
})
/** Whole minutes, six or so of them. */
const minutes = computed(() => {
  const step = [60, 300, 600, 1200, 1800].find((one) => props.recorded.seconds / one <= 7) ?? 3600
  return Array.from({ length: Math.floor(props.recorded.seconds / step) + 1 }, (_, n) => n * step)
})
const PATTERNS = ['', '9 5', '2 5', '14 4 2 4']
const lines = computed(() => {
  const drawn = props.recorded.lines.map((one, n) => ({
    ...one, dash: PATTERNS[n % PATTERNS.length], wide: n < 4 ? 2.5 : 1.5,
    path: line<number>().x((_, at) => x.value(one.seconds[at]!)).y((value) => y.value(value))(one.values) ?? '',
    end: y.value(one.values.at(-1)!),
  }))
  // Names beside the ends of their lines, moved apart from the top down.
  let last = -Infinity
  return [...drawn].sort((a, b) => a.end - b.end).map((one) => ({ ...one, label: (last = Math.max(one.end + 5, last + 19)) }))
})
const height = computed(() => BOTTOM + 44 + props.recorded.lanes.length * LANE + 6)
const lanes = computed(() => props.recorded.lanes.map((one, n) => ({ ...one, y: BOTTOM + 44 + n * LANE })))
const label = computed(() => `Recording, ${clock(props.recorded.seconds)} long: ${props.recorded.lines.map((one) => catalogue.short(one.station)).join(', ')}`)
</script>

<template>
  <div ref="picture" class="picture" :style="style">
    <svg :viewBox="`0 0 ${WIDTH} ${height}`" role="img" :aria-label="label">
      <g v-for="tick in y.ticks(6)" :key="tick"><path class="grid" :d="`M${LEFT} ${y(tick)}H${RIGHT}`" /><text :x="LEFT - 8" :y="y(tick) + 5" text-anchor="end" class="figure">{{ plain(tick) }}</text></g>
      <text v-for="tick in minutes" :key="`t${tick}`" :x="x(tick)" :y="BOTTOM + 22" text-anchor="middle" class="figure">{{ clock(tick) }}</text>
      <text :x="LEFT - 8" :y="10" text-anchor="end">{{ catalogue.symbol(recorded.unit) }}</text>
      <path v-if="recorded.forced !== null" class="forced" :d="`M${x(recorded.forced)} ${TOP}V${BOTTOM}`" />
      <text v-if="recorded.forced !== null" :x="x(recorded.forced) + 5" :y="TOP + 10">forced</text>
      <g v-for="one in lines" :key="one.station">
        <path class="drawn" :d="one.path" :stroke-dasharray="one.dash" :stroke-width="one.wide" />
        <text :x="RIGHT + 8" :y="one.label">{{ catalogue.short(one.station) }}</text>
      </g>
      <g v-for="lane in lanes" :key="lane.station">
        <path class="grid" :d="`M${LEFT} ${lane.y}H${RIGHT}`" />
        <path v-for="one in lane.on" :key="one.start" class="on" :d="`M${x(one.start)} ${lane.y}H${x(one.end)}`" />
        <text :x="RIGHT + 8" :y="lane.y + 5">{{ catalogue.short(lane.station) }}</text>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.picture {
  width: min(100cqw, 60rem);
  min-width: 34rem;
  margin: 0 auto;
}
svg {
  display: block;
  width: 100%;
}
text {
  fill: var(--quiet);
  font-size: max(14px, 11.5 * var(--px, 1px));
}
.grid {
  stroke: var(--hair);
  stroke-dasharray: 1 7;
  fill: none;
}
.drawn {
  fill: none;
  stroke: var(--ink);
}
.forced {
  stroke: var(--watch);
  stroke-width: 2;
}
.on {
  stroke: var(--ink);
  stroke-width: 9;
}
</style>
