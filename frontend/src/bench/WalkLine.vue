<script setup lang="ts">
// Two walks on one time line: the apprentice's and an expert's. How high a step stands is how likely the truth was after it.
import { scaleLinear } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import type { DebriefView, ToldStep } from '../api/types'
import { useSheet } from '../composables/useSheet'

const props = defineProps<{ debrief: DebriefView['debrief']; step: number }>()
const WIDTH = 1000
const LEFT = 70
const RIGHT = 980
const HIGH = 96
const TOPS = { own: 16, best: 146 }
const HEIGHT = 286
const { style } = useSheet(useTemplateRef<HTMLElement>('picture'), WIDTH)
const longest = computed(() => Math.max(10, ...[...props.debrief.own, ...props.debrief.best].map((one) => one.ended)))
const x = computed(() => scaleLinear().domain([0, longest.value]).range([LEFT, RIGHT]))
const y = (top: number, share: number) => top + HIGH * (1 - share)
const way = (steps: ToldStep[], top: number) =>
  steps.reduce((path, one) => `${path}H${x.value(one.ended)}V${y(top, one.share)}`, `M${LEFT} ${y(top, 0)}`)
const lanes = computed(() => ([
  { name: 'yours', top: TOPS.own, steps: props.debrief.own, decided: props.debrief.decidable },
  { name: 'an expert’s', top: TOPS.best, steps: props.debrief.best, decided: props.debrief.best_decided },
]))
</script>

<template>
  <div ref="picture" class="frame" tabindex="0" role="region" aria-label="Both walks on a time line" :style="style">
    <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="`How likely the truth was, minute by minute. Yours: decidable ${debrief.decidable === null ? 'never' : `after ${debrief.decidable} minutes`}; an expert’s: ${debrief.best_decided === null ? 'never' : `after ${debrief.best_decided} minutes`}.`">
      <g v-for="tick in x.ticks(6)" :key="tick"><path class="grid" :d="`M${x(tick)} 10V${HEIGHT - 26}`" /><text :x="x(tick)" :y="HEIGHT - 6" text-anchor="middle" class="figure">{{ tick }}</text></g>
      <text :x="0" :y="HEIGHT - 6">min</text>
      <g v-for="lane in lanes" :key="lane.name">
        <text class="name" :x="LEFT + 8" :y="lane.top + 12">{{ lane.name }}</text>
        <text :x="LEFT - 6" :y="lane.top + 6" text-anchor="end" class="figure">100 %</text>
        <text :x="LEFT - 6" :y="lane.top + HIGH + 4" text-anchor="end" class="figure">0</text>
        <path class="base" :d="`M${LEFT} ${lane.top + HIGH}H${RIGHT}`" />
        <path class="way" :d="way(lane.steps, lane.top)" />
        <circle v-for="one in lane.steps" :key="one.number" :cx="x(one.ended)" :cy="y(lane.top, one.share)" :r="lane.name === 'yours' && one.number === step ? 8 : 4" :class="{ at: lane.name === 'yours' && one.number === step, missed: one.missed.length }" />
        <g v-if="lane.decided !== null"><path class="decided" :d="`M${x(lane.decided)} ${lane.top - 4}V${lane.top + HIGH}`" /><text :x="x(lane.decided) + 5" :y="lane.top + HIGH - 6">decided</text></g>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.frame {
  overflow: auto;
}
svg {
  display: block;
  width: 100%;
  min-width: 24rem;
}
text {
  fill: var(--quiet);
  font-size: max(14px, 11.5 * var(--px, 1px));
}
.name {
  fill: var(--ink);
  font-weight: 650;
}
.grid {
  stroke: var(--hair);
  stroke-dasharray: 1 7;
}
.base {
  stroke: var(--edge);
}
.way {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2.5;
}
.decided {
  stroke: var(--focus);
  stroke-width: 2.5;
  stroke-dasharray: 6 4;
}
circle {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 2;
}
circle.missed {
  stroke: var(--watch);
}
circle.at {
  fill: var(--ink);
}
</style>
