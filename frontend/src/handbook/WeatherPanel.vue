<script setup lang="ts">
// One thing a technician reads, over the outdoor temperature: the band of what is sound, and the line of the fault over it.
import { scaleLinear } from 'd3-scale'
import { area, line } from 'd3-shape'
import { computed, useTemplateRef } from 'vue'
import type { ChartPanel } from '../api/types'
import { useSheet } from '../composables/useSheet'
import { useCatalogue } from '../stores/catalogue'
import { figure } from '../walk/figures'

const props = defineProps<{ panel: ChartPanel; at: number; over: string; faulted: boolean }>()
const emit = defineEmits<{ point: [index: number] }>()
const catalogue = useCatalogue()

type Point = ChartPanel['points'][number]
const WIDTH = 380
const { style } = useSheet(useTemplateRef<SVGSVGElement>('sheet'), WIDTH)
const HEIGHT = 168
const LEFT = 60
const RIGHT = WIDTH - 8
const TOP = 10
const BOTTOM = HEIGHT - 24

const points = computed(() => props.panel.points)
const here = computed(() => points.value[props.at])
const known = (point: Point): point is Point & { value: number; low: number; high: number } => point.value !== null
const x = computed(() => scaleLinear().domain([points.value[0]?.outdoor ?? 0, points.value.at(-1)?.outdoor ?? 1]).range([LEFT, RIGHT]))
const y = computed(() => {
  const all = points.value.flatMap((point) => [point.low, point.high, point.with_fault].filter((value) => value !== null))
  return scaleLinear().domain([Math.min(...all), Math.max(...all)]).nice(4).range([BOTTOM, TOP])
})
const band = computed(
  () =>
    area<Point>()
      .defined(known)
      .x((point) => x.value(point.outdoor))
      .y0((point) => y.value(point.low ?? 0))
      .y1((point) => y.value(point.high ?? 0))(points.value) ?? '',
)
const curve = (of: 'value' | 'with_fault') =>
  line<Point>()
    .defined((point) => point[of] !== null)
    .x((point) => x.value(point.outdoor))
    .y((point) => y.value(point[of] ?? 0))(points.value) ?? ''
const symbol = computed(() => catalogue.symbol(props.panel.unit))
// As finely as it is known: tenths of small numbers, hundreds of large ones.
const said = (value: number | null) => {
  if (value === null) return '–'
  if (Math.abs(value) >= 2000) return figure(Math.round(value / 100) * 100)
  return figure(value, Math.abs(value) < 20 ? value : 1000)
}

function follow(event: PointerEvent) {
  const box = (event.currentTarget as Element).getBoundingClientRect()
  const outdoor = x.value.invert(((event.clientX - box.left) / box.width) * WIDTH)
  const off = points.value.map((point) => Math.abs(point.outdoor - outdoor))
  emit('point', off.indexOf(Math.min(...off)))
}
</script>

<template>
  <figure>
    <figcaption>
      <span class="title">{{ panel.title }}, {{ symbol }}</span>
      <span v-if="here" class="figures">
        <span v-if="here.value === null">not known here</span>
        <template v-else>
          <b class="figure">{{ said(here.value) }}</b> <span class="figure quiet">{{ said(here.low) }} to {{ said(here.high) }}</span>
        </template>
        <b v-if="faulted" class="figure fault">{{ said(here.with_fault) }}</b>
      </span>
    </figcaption>
    <svg
      ref="sheet" :style="style" :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="`${panel.title} over ${over}: the band of what is sound${faulted ? ', and with the fault' : ''}`"
      @pointermove="follow" @pointerdown="follow"
    >
      <g v-for="tick in y.ticks(4)" :key="tick">
        <path class="grid" :d="`M${LEFT} ${y(tick)}H${RIGHT}`" />
        <text class="figure" :x="LEFT - 6" :y="y(tick) + 5" text-anchor="end">{{ tick.toLocaleString('en-US').replace('-', '−') }}</text>
      </g>
      <text v-for="tick in x.ticks(6)" :key="`x${tick}`" class="figure" :x="x(tick)" :y="HEIGHT - 6" text-anchor="middle">{{ String(tick).replace('-', '−') }}</text>
      <path class="band" :d="band" />
      <path class="sound" :d="curve('value')" />
      <path v-if="faulted" class="sick" :d="curve('with_fault')" />
      <template v-if="here">
        <path class="cursor" :d="`M${x(here.outdoor)} ${TOP}V${BOTTOM}`" />
        <circle v-if="here.value !== null" :cx="x(here.outdoor)" :cy="y(here.value)" r="4.5" />
        <rect v-if="faulted && here.with_fault !== null" class="mark" :x="x(here.outdoor) - 4.5" :y="y(here.with_fault) - 4.5" width="9" height="9" />
      </template>
    </svg>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
  break-inside: avoid;
}
figcaption {
  display: grid;
}
.title {
  font-weight: 600;
}
.title::first-letter {
  text-transform: uppercase;
}
.figures {
  display: flex;
  flex-wrap: wrap;
  white-space: nowrap;
  font-size: 0.93rem;
  gap: 0 0.5rem;
  align-items: baseline;
}
.fault::before {
  content: '■ ';
  color: var(--fail);
}
svg {
  width: 100%;
  display: block;
  touch-action: pan-y;
  cursor: crosshair;
}
text {
  fill: var(--quiet);
  font-size: max(13px, 11.5 * var(--px, 1px));
}
.grid {
  stroke: var(--hair);
}
.band {
  fill: var(--raised);
  stroke: var(--hair);
}
.sound,
.sick {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2.5;
}
.sick {
  stroke: var(--fail);
  stroke-dasharray: 9 5;
}
.cursor {
  stroke: var(--edge);
}
circle {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 2.5;
}
.mark {
  fill: var(--fail);
}
@media print {
  .band {
    print-color-adjust: exact;
  }
}
</style>
