<script setup lang="ts">
// A fault's staircase beside a sound unit's, and under it what is in each pipe.
import { scaleLinear } from 'd3-scale'
import { computed, ref } from 'vue'
import type { FaultView, PipeShown } from '../api/types'
import { ask, client } from '../api/client'
import { useCatalogue } from '../stores/catalogue'
import { plain } from '../walk/figures'
import { useAnswer } from './moving/asking'
import PickOne from './moving/PickOne.vue'
import RecordedLines from '../bench/RecordedLines.vue'

const props = defineProps<{ fault: FaultView['code'] }>()
const catalogue = useCatalogue()
const mode = ref('cooling')
const { answer: picture } = useAnswer(() => ({ mode: mode.value as 'cooling' }), ({ mode: in_, units }) =>
  ask(client.GET('/api/handbook/faults/{code}/picture', { params: { path: { code: props.fault }, query: { mode: in_, units } } })))
const ofDefrost = computed(() => props.fault.startsWith('defrost'))
const { answer: recorded } = useAnswer(() => ({ code: ofDefrost.value ? props.fault : '' }), async ({ code, units }) =>
  code ? ask(client.GET('/api/handbook/faults/{code}/recording', { params: { path: { code }, query: { units } } })) : null)
const WIDTH = 930
const LEFT = 56
const RIGHT = 880
const TOP = 14
const BOTTOM = 230
const stops = computed(() => picture.value?.sound.map((sound, n) => ({ sound, faulty: picture.value!.faulty[n]! })) ?? [])
const x = (n: number) => LEFT + ((RIGHT - LEFT) * (n + 0.5)) / Math.max(1, stops.value.length)
const wide = computed(() => (RIGHT - LEFT) / Math.max(1, stops.value.length))
const y = computed(() => {
  const all = stops.value.flatMap(({ sound, faulty }) => [sound.temperature.value, faulty.temperature.value])
  return scaleLinear().domain([Math.min(...all), Math.max(...all)]).nice(5).range([BOTTOM, TOP])
})
const line = (of: 'sound' | 'faulty') => stops.value.map((stop, n) => `${n ? 'L' : 'M'}${x(n)} ${y.value(stop[of].temperature.value)}`).join('')
const DASH = { superheated_vapor: '1 7', mixture: '9 5', subcooled_liquid: '' }
const state = (pipe: PipeShown) => DASH[pipe.state]
const label = computed(() => stops.value.map(({ sound, faulty }) => `${catalogue.short(sound.station)} ${Math.round(sound.temperature.value)}, with it ${Math.round(faulty.temperature.value)}`).join('; '))
</script>

<template>
  <div v-if="ofDefrost && recorded" class="recorded">
    <figure><figcaption>With this fault</figcaption><div class="sheet"><RecordedLines :recorded="recorded.faulty" /></div></figure>
    <figure><figcaption>Sound, in the same weather</figcaption><div class="sheet"><RecordedLines :recorded="recorded.sound" /></div></figure>
  </div>
  <figure v-else-if="picture && !ofDefrost && stops.length + picture.words.length > 0">
    <PickOne v-model="mode" label="Called for" :choices="{ cooling: 'cooling', heating: 'heating' }" />
    <div v-if="stops.length" class="scroll" tabindex="0" role="region" aria-label="Staircase"><svg :viewBox="`0 0 ${WIDTH} 455`" role="img" :aria-label="`Sound, and with this fault: ${label}`">
      <g v-for="tick in y.ticks(5)" :key="tick"><path class="grid" :d="`M${LEFT} ${y(tick)}H${RIGHT}`" /><text class="figure" :x="LEFT - 8" :y="y(tick) + 5" text-anchor="end">{{ plain(tick) }}</text></g>
      <path class="sound" :d="line('sound')" /><path class="faulty" :d="line('faulty')" />
      <g v-for="(stop, n) in stops" :key="stop.sound.station">
        <circle class="dot" :cx="x(n)" :cy="y(stop.faulty.temperature.value)" r="4.5" />
        <path class="state" :d="`M${x(n) - wide / 2 + 2} 252H${x(n) + wide / 2 - 2}`" :stroke-dasharray="state(stop.sound)" />
        <path class="state of" :d="`M${x(n) - wide / 2 + 2} 270H${x(n) + wide / 2 - 2}`" :stroke-dasharray="state(stop.faulty)" />
        <text class="name" :transform="`translate(${x(n) - 3} 292) rotate(48)`">{{ catalogue.short(stop.sound.station) }}</text>
      </g>
    </svg></div>
    <figcaption><template v-if="stops.length"><span class="key" /> sound <span class="key with" /> with this fault: </template>{{ picture.words }} <span v-if="stops.length" class="quiet">Under it what is in the pipe: plain liquid, dotted vapor, broken both.</span></figcaption>
  </figure>
</template>

<style scoped>
.sheet {
  container-type: inline-size;
  overflow: auto;
}
figure {
  margin: 0 0 0.8rem;
}
.scroll {
  overflow-x: auto;
}
.scroll > svg {
  display: block;
  width: 100%;
  min-width: 44rem;
}
.scroll text {
  fill: var(--quiet);
  font-size: 16px;
}
.grid {
  stroke: var(--hair);
  stroke-dasharray: 1 7;
}
.sound,
.faulty {
  fill: none;
  stroke-width: 3;
  stroke: var(--edge);
}
.sound {
  stroke-dasharray: 7 5;
}
.faulty {
  stroke: var(--ink);
}
.dot {
  fill: var(--ink);
}
.state {
  stroke: var(--edge);
  stroke-width: 5;
}
.state.of {
  stroke: var(--ink);
}
.key {
  display: inline-block;
  width: 1.6em;
  border-top: 3px dashed var(--edge);
  vertical-align: middle;
}
.key.with {
  border-top: 3px solid var(--ink);
}
</style>
