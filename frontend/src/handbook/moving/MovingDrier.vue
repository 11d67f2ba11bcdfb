<script setup lang="ts">
// A filter drier when the flow turns round.
import { reactive } from 'vue'
import { ask, client } from '../../api/client'
import { useCatalogue } from '../../stores/catalogue'
import { signed } from '../../walk/figures'
import { temperatureColour } from '../../walk/temperatureScale'
import { useAnswer } from './asking'
import MeasureList from './MeasureList.vue'
import PickOne from './PickOne.vue'

const catalogue = useCatalogue()
const what = reactive({ kind: 'bi_flow', mode: 'cooling', loaded: 'clean' })
const asked = () => ({ kind: what.kind as 'bi_flow', mode: what.mode as 'cooling', loaded: what.loaded === 'full' })
const { answer: drier, trouble } = useAnswer(asked, (query) => ask(client.GET('/api/handbook/moving/drier', { params: { query } })))
const number = (one: { value: number; unit: string }, digits = 1) => `${signed(one.value, digits)} ${catalogue.symbol(one.unit)}`
const colour = (one: { value: number; unit: string }) => temperatureColour(one.value, one.unit) ?? 'var(--raised)'
const DIRT = [[430, 190], [452, 214], [470, 182], [444, 160], [488, 206], [462, 232], [500, 176]]
</script>

<template>
  <div>
    <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
    <PickOne v-model="what.kind" label="Drier" :choices="{ bi_flow: 'bi-flow', one_way: 'one-way, fitted for cooling' }" />
    <PickOne v-model="what.mode" label="The unit is in" :choices="{ cooling: 'cooling', heating: 'heating' }" />
    <PickOne v-model="what.loaded" label="It is" :choices="{ clean: 'clean', full: 'full of dirt' }" />
    <template v-if="drier">
      <div class="scroll" tabindex="0" role="region" aria-label="Picture"><svg viewBox="0 0 1000 330" role="img" :aria-label="`Filter drier: ${drier.why}`">
        <path class="flow" d="M40 196H370" :style="{ stroke: colour((what.mode === 'cooling' ? drier.before : drier.after).temperature) }" />
        <path class="flow" d="M630 196H960" :style="{ stroke: colour((what.mode === 'cooling' ? drier.after : drier.before).temperature) }" />
        <rect class="shell" x="370" y="130" width="260" height="132" rx="34" />
        <path class="core" d="M520 140V252M540 140V252M560 140V252" />
        <g v-if="what.kind === 'bi_flow'"><path class="flap" d="M392 150L410 196L392 242M608 150L590 196L608 242" /></g>
        <path v-else class="mark" d="M440 110h110l-14 -12m14 12l-14 12" />
        <g v-if="what.loaded === 'full'"><circle v-for="([x, y], n) in DIRT" :key="n" class="dirt" :class="{ gone: drier.lets_go }" :cx="x" :cy="y" r="8" :style="{ '--n': n }" /></g>
        <path class="arrow" :d="what.mode === 'cooling' ? 'M80 156h90l-12 -10m12 10l-12 10' : 'M170 156h-90l12 -10m-12 10l12 10'" />
        <text class="big figure" x="500" y="304" text-anchor="middle">takes {{ `${signed(drier.drop.value, 0)} ${catalogue.symbolOf('metering.head_to_liquid', drier.drop.unit)}` }}, one feels {{ number(drier.fall) }}</text>
        <text x="60" y="252">{{ (what.mode === 'cooling' ? drier.before : drier.after).words }}</text>
        <text x="940" y="252" text-anchor="end">{{ (what.mode === 'cooling' ? drier.after : drier.before).words }}</text>
      </svg></div>
      <p class="why" role="status">{{ drier.why }}</p>
      <MeasureList :measures="drier.measure" />
    </template>
  </div>
</template>

<style scoped src="./sheet.css"></style>
<style scoped>
.flow {
  stroke-width: 16;
}
.shell {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 3;
}
.core {
  stroke: var(--edge);
  stroke-width: 8;
}
.flap,
.mark,
.arrow {
  fill: none;
  stroke: var(--ink);
  stroke-width: 4;
}
.dirt {
  fill: var(--ink);
}
.dirt.gone {
  animation: gone 2.4s linear calc(var(--n) * 0.3s) infinite;
}
@keyframes gone {
  to {
    transform: translateX(-380px);
    opacity: 0;
  }
}
@media (prefers-reduced-motion: reduce) {
  .dirt.gone {
    animation: none;
    transform: translateX(-190px);
  }
}
</style>
