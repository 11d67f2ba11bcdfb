<script setup lang="ts">
// The circuit as a loop, drawn from the path: weight says which side, pattern what is inside, colour how warm.
import { computed } from 'vue'
import type { ApparentMode, Mode, RunExamination } from '../api/types'
import { useCatalogue } from '../stores/catalogue'
import type { Shown } from '../stores/visit'
import CircuitPart from './CircuitPart.vue'
import { COMPRESSOR, halves, HEIGHT, layCircuit, VALVE, WALL, WIDTH, type Point } from './circuitLayout'
import StationTag from './StationTag.vue'
import { temperatureColour } from './temperatureScale'

const props = defineProps<{
  path: RunExamination['path']
  meters: RunExamination['meters']
  commanded: Mode
  apparent: ApparentMode
  shown: Map<string, Shown>
  selected: string
}>()
defineEmits<{ press: [station: string] }>()
const catalogue = useCatalogue()

const layout = computed(() => layCircuit([...props.path]))
const line = (points: Point[]) => `M${points.map((p) => p.join(' ')).join('L')}`
const colour = (code: string) => {
  const tag = props.shown.get(code)
  return temperatureColour(tag?.value, tag?.unit) ?? 'var(--edge)'
}

const strokes = computed(() =>
  layout.value.pipes.flatMap(({ from, to, points }) => {
    const cut = halves(points)
    return [
      { key: `${from.station}>`, stop: from, d: line(cut.first) },
      { key: `>${to.station}`, stop: to, d: line(cut.second) },
    ]
  }),
)

// Defrost runs the way of cooling, and shows as such.
const wanted = computed(() => (props.commanded === 'heating' ? 'heating' : 'cooling'))
const against = computed(
  () => (props.apparent === 'heating' || props.apparent === 'cooling') && props.apparent !== wanted.value,
)
const along = computed(() => props.apparent === wanted.value)
const arrows = computed(() =>
  layout.value.pipes
    .filter((p) => p.from.through === 'pipe' || p.from.through === 'accumulator')
    .filter((p) => Math.hypot(p.points[0]![0] - p.points.at(-1)![0], p.points[0]![1] - p.points.at(-1)![1]) > 60)
    .map((p) => ({ key: p.from.station, ...halves(p.points) })),
)

const description = computed(() => {
  const told = catalogue.word('mode', props.commanded)
  return `Circuit, commanded ${told}; the readings say ${catalogue.word('apparent_mode', props.apparent)}.`
})
const place = (x: number, y: number) => ({ left: `${(x / WIDTH) * 100}%`, top: `${(y / HEIGHT) * 100}%` })
</script>

<template>
  <div class="picture">
    <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="description">
      <path class="wall" :d="`M${WALL} 20V${HEIGHT - 16}`" />
      <text class="side" :x="WALL - 12" :y="HEIGHT - 10" text-anchor="end">indoors</text>
      <text class="side" :x="WALL + 12" :y="HEIGHT - 10">outdoors</text>
      <rect
        class="body" :x="VALVE.x - VALVE.half" :y="VALVE.y - 22" :width="VALVE.half * 2" height="50" rx="8"
      />
      <path v-for="s in layout.stations" :key="`to ${s.stop.station}`" class="leader" :d="line([[s.x, s.y], [s.tagX, s.tagY]])" />
      <path class="casing" :d="`M735 205V${COMPRESSOR.y}M665 255V${COMPRESSOR.y}`" />
      <path v-for="s in strokes" :key="`under ${s.key}`" class="casing" :class="s.stop.role" :d="s.d" />
      <path
        v-for="s in strokes" :key="s.key" class="pipe" :class="[s.stop.role, s.stop.state]" :d="s.d"
        :style="{ stroke: colour(s.stop.station) }"
      />
      <circle
        v-for="s in layout.stations.filter((at) => !at.stop.station.endsWith('_coil'))" :key="`at ${s.stop.station}`"
        class="point" :cx="s.x" :cy="s.y" r="6"
      />
      <CircuitPart
        v-for="p in layout.parts" :key="`${p.part} ${p.x}`" v-bind="p"
        :working="p.part === `${meters?.active}_meter`" :bypassed="p.part === `${meters?.bypassed}_meter`"
      />
      <circle class="compressor" :cx="COMPRESSOR.x" :cy="COMPRESSOR.y" :r="COMPRESSOR.r" />
      <text class="part" :x="COMPRESSOR.x" :y="COMPRESSOR.y + 48" text-anchor="middle">compressor</text>
      <text class="part" :x="VALVE.x" :y="VALVE.y - 30" text-anchor="middle">reversing valve</text>
      <g v-for="a in arrows" :key="a.key" :transform="`translate(${a.middle.join(' ')}) rotate(${a.angle})`">
        <path class="arrow" :class="{ told: !along, agreed: along }" d="M-8 -10 8 0 -8 10Z" />
        <path v-if="against" class="arrow real" transform="translate(-26 0)" d="M8 -10 -8 0 8 10Z" />
      </g>
    </svg>
    <StationTag
      v-for="s in layout.stations" :key="s.stop.station" class="placed" :style="place(s.tagX, s.tagY)"
      :code="s.stop.station" :shown="shown.get(s.stop.station)" :selected="selected === s.stop.station"
      @press="$emit('press', s.stop.station)"
    />
  </div>
</template>

<style scoped>
.picture {
  position: relative;
  width: min(100cqw, 100cqh * 1000 / 580);
  min-width: 47rem;
  margin: 0 auto;
}
svg {
  display: block;
  width: 100%;
}
.placed {
  position: absolute;
  transform: translate(-50%, -50%);
}
.wall {
  stroke: var(--hair);
  stroke-width: 2;
  stroke-dasharray: 2 8;
}
text {
  fill: var(--quiet);
  font-size: 15px;
}
.leader {
  stroke: var(--edge);
  stroke-width: 1.5;
}
.point {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 2;
}
.casing {
  fill: none;
  stroke: var(--hair);
  stroke-width: 3;
}
.casing.high {
  stroke-width: 15;
  stroke: var(--raised);
}
.casing.low {
  stroke-width: 9;
  stroke: var(--raised);
}
.pipe {
  fill: none;
  stroke-linejoin: round;
}
.pipe.high {
  stroke-width: 8;
}
.pipe.low {
  stroke-width: 4;
}
.superheated_vapor {
  stroke-linecap: round;
  stroke-dasharray: 0.1 11;
}
.superheated_vapor.low {
  stroke-dasharray: 0.1 8;
}
.mixture {
  stroke-dasharray: 16 7;
}
.body,
.compressor {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 2;
}
.arrow {
  stroke: var(--ink);
  stroke-width: 2;
  fill: var(--panel);
}
.arrow.agreed {
  fill: var(--ink);
}
.arrow.real {
  fill: var(--fail);
  stroke: var(--fail);
}
</style>
