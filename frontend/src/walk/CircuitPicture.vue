<script setup lang="ts">
// The circuit as a loop, drawn from the path: weight says which side, pattern what is inside, colour how warm.
import { computed, useTemplateRef } from 'vue'
import type { ApparentMode, Mode, RunExamination } from '../api/types'
import { useCatalogue } from '../stores/catalogue'
import { spotKey, type Shown, type Spot } from '../stores/visit'
import CircuitPart from './CircuitPart.vue'
import { useSheet } from '../composables/useSheet'
import { baseOf } from './heads'
import { frameFor, halves, layCircuit, type Fold, type Point } from './circuitLayout'
import StationTag from './StationTag.vue'
import { temperatureColour } from './temperatureScale'
import { usePlacedTags } from './usePlacedTags'

const props = withDefaults(defineProps<{
  path: RunExamination['path']
  taps: RunExamination['taps']
  meters: RunExamination['meters']
  commanded: Mode
  apparent: ApparentMode
  shown: Map<string, Shown>
  selected: string
  fold?: Fold
  /** What the sound machine would show, where that is wanted beside what was read. */
  expected?: RunExamination['expected']
  /** Names only: nothing to type into, and smaller for it. */
  plain?: boolean
}>(), { fold: 'whole', expected: () => ({}) })
defineEmits<{ press: [spot: Spot] }>()
const catalogue = useCatalogue()

const { scale, style } = useSheet(useTemplateRef<HTMLElement>('picture'), 1000)
// A phone of 390 px holds two tags side by side; what is narrower needs more height.
const TWO_ABREAST = 2.75
const frame = computed(() => frameFor(props.fold, 1 + 1.2 * Math.max(0, scale.value - TWO_ABREAST)))
const layout = computed(() => layCircuit([...props.path], props.plain ? [] : props.taps, frame.value))
const tagAt = (station: string, quantity: Spot['quantity'] = 'temperature') => props.shown.get(spotKey({ station, quantity }))
const placed = usePlacedTags({ layout, frame, scale, plain: () => props.plain, tagAt })
const inSight = computed(() => placed.value.stations)
const tapsInSight = computed(() => placed.value.taps)
const line = (points: Point[]) => `M${points.map((p) => p.join(' ')).join('L')}`
const colour = (code: string) => {
  const tag = tagAt(code)
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

// The path is the circuit that runs; what was called for is drawn beside it where it is another. A defrost is called for
// as cooling.
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
  return `Circuit, calling for ${told}, running in ${catalogue.word('apparent_mode', props.apparent)}.`
})
const place = (x: number, y: number) => `left: ${(x / frame.value.width) * 100}%; top: ${(y / frame.value.height) * 100}%`
</script>

<template>
  <div ref="picture" class="picture" :class="[fold, { plain }]" :style="style">
    <svg :viewBox="`0 0 ${frame.width} ${frame.height}`" role="img" :aria-label="description">
      <path class="wall" :d="`M${frame.wall} 20V${frame.height - 16}`" />
      <template v-if="fold === 'whole'">
        <text class="side" :x="frame.wall - 12" :y="frame.height - 10" text-anchor="end">indoors</text>
        <text class="side" :x="frame.wall + 12" :y="frame.height - 10">outdoors</text>
        <text class="side" :x="frame.width - 8" :y="frame.height - 10" text-anchor="end">
          heavy: high pressure · plain: liquid · dotted: vapor · broken: both</text>
      </template>
      <rect
        v-if="fold !== 'indoors'" class="body" :x="frame.valve.x - frame.valve.half" :y="frame.top - 22"
        :width="frame.valve.half * 2" height="50" rx="8"
      />
      <path v-for="s in inSight" :key="`to ${s.stop.station}`" class="leader" :d="line([[s.x, s.y], [s.tagX, s.tagY]])" />
      <path v-for="t in tapsInSight" :key="`to ${t.tap}`" class="leader" :d="line([[t.at.x, t.at.y], [t.tagX, t.tagY]])" />
      <path class="casing" :d="`M${frame.discharge} ${frame.rows.discharge}V${frame.rows.compressor}M${frame.suction} ${frame.rows.inlet}V${frame.rows.compressor}`" />
      <path v-for="s in strokes" :key="`under ${s.key}`" class="casing" :class="s.stop.role" :d="s.d" />
      <path
        v-for="s in strokes" :key="s.key" class="pipe" :class="[s.stop.role, s.stop.state]" :d="s.d"
        :style="{ stroke: colour(s.stop.station) }"
      />
      <circle
        v-for="s in inSight.filter((at) => !baseOf(at.stop.station).endsWith('_coil'))" :key="`at ${s.stop.station}`"
        class="point" :cx="s.x" :cy="s.y" r="6"
      />
      <CircuitPart
        v-for="p in layout.parts" :key="`${p.part} ${p.x}`" v-bind="p"
        :working="p.part === `${meters?.active}_meter`" :bypassed="p.part === `${meters?.bypassed}_meter`"
      />
      <template v-if="fold !== 'indoors'">
        <circle
          class="compressor" :cx="frame.valve.x" :cy="frame.rows.compressor"
          :r="(frame.discharge - frame.suction) / 2 - 3"
        />
        <text class="part" :x="frame.valve.x" :y="frame.rows.compressor + (frame.discharge - frame.suction) / 2" dy="1.05em" text-anchor="middle">compressor</text>
        <text class="part" :x="frame.valve.x" :y="frame.top - 30" text-anchor="middle">reversing valve</text>
      </template>
      <g v-for="a in arrows" :key="a.key" :transform="`translate(${a.middle.join(' ')}) rotate(${a.angle})`">
        <path class="arrow" :class="{ told: !along && !against, agreed: along, real: against }" d="M-8 -10 8 0 -8 10Z" />
        <path v-if="against" class="arrow told" transform="translate(-26 0)" d="M8 -10 -8 0 8 10Z" />
      </g>
    </svg>
    <template v-if="plain">
      <span v-for="s in inSight" :key="s.stop.station" class="placed label" :style="place(s.tagX, s.tagY)">
        {{ catalogue.short(s.stop.station) }}</span>
    </template>
    <template v-else>
      <StationTag
        v-for="s in inSight" :key="s.stop.station" class="placed" :style="place(s.tagX, s.tagY)"
        :code="s.stop.station" :shown="tagAt(s.stop.station)" :expected="expected[s.stop.station] ?? null" :selected="selected === s.stop.station"
        @press="$emit('press', { station: s.stop.station, quantity: 'temperature' })"
      />
      <StationTag
        v-for="t in tapsInSight" :key="t.tap" class="placed" :style="place(t.tagX, t.tagY)" :code="t.tap"
        quantity="pressure" :expected="expected[t.tap] ?? null" :shown="shown.get(spotKey({ station: t.tap, quantity: 'pressure' }))"
        :selected="selected === t.tap" @press="$emit('press', { station: t.tap, quantity: 'pressure' })"
      />
    </template>
  </div>
</template>

<style scoped>
.picture {
  position: relative;
  width: min(100cqw, 100cqh * 1000 / 580);
  min-width: 47rem;
  margin: 0 auto;
}
.plain {
  min-width: 38rem;
}
.label {
  background: var(--panel);
  border: 1px solid var(--hair);
  padding: 0 0.3rem;
  font-size: 0.75rem;
  white-space: nowrap;
}
.indoors,
.outdoors {
  width: 100%;
  min-width: 0;
}
svg {
  display: block;
  width: 100%;
  font-size: max(15px, 12 * var(--px));
}
.placed {
  width: max-content;
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
