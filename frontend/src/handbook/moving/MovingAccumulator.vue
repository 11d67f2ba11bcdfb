<script setup lang="ts">
// The accumulator of a unit with fixed orifices, and what stands in it.
import { ref } from 'vue'
import { ask, client } from '../../api/client'
import { useCatalogue } from '../../stores/catalogue'
import { signed } from '../../walk/figures'
import { useAnswer } from './asking'
import MeasureList from './MeasureList.vue'
import PickOne from './PickOne.vue'

const catalogue = useCatalogue()
const weather = ref('cold')
const { answer: held, trouble } = useAnswer(() => ({ weather: weather.value as 'cold' }), (query) => ask(client.GET('/api/handbook/moving/accumulator', { params: { query } })))
const MEASURE = [{ words: 'Superheat at the compressor inlet, behind it: does liquid get past?', check: 'exchange.total_superheat' }]
</script>

<template>
  <div>
    <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
    <PickOne v-model="weather" label="The unit" :choices="{ cooling: 'cools', mild: 'heats in mild weather', cold: 'heats in the cold', defrost: 'defrosts' }" />
    <template v-if="held">
      <div class="scroll" tabindex="0" role="region" aria-label="Picture"><svg viewBox="0 0 700 400" role="img" :aria-label="`Accumulator, ${Math.round(held.filled * 100)} percent full of liquid`">
        <path class="pipe" d="M60 40H250V110" /><path class="pipe" d="M450 110V330Q450 350 430 350T410 330V70Q410 40 440 40H640" />
        <clipPath id="shell"><rect x="180" y="80" width="300" height="290" rx="40" /></clipPath>
        <rect class="liquid" x="180" width="300" height="290" clip-path="url(#shell)" :y="370 - 290 * held.filled" />
        <rect class="shell" x="180" y="80" width="300" height="290" rx="40" />
        <circle class="hole" cx="430" cy="350" r="6" />
        <text x="500" y="356">oil hole</text><text x="60" y="28">from the valve: {{ held.inlet.words }}</text><text x="640" y="28" text-anchor="end">to the compressor</text>
        <text class="big figure" x="290" y="240" text-anchor="middle">{{ Math.round(held.filled * 100) }} % liquid</text>
        <text x="20" y="240">{{ signed(held.outdoors.value, 0) }} {{ catalogue.symbol(held.outdoors.unit) }}</text><text x="20" y="264">outdoors</text>
      </svg></div>
      <p class="why" role="status">{{ held.why }}</p>
      <MeasureList :measures="MEASURE" />
    </template>
  </div>
</template>

<style scoped src="./sheet.css"></style>
<style scoped>
.pipe {
  fill: none;
  stroke: var(--edge);
  stroke-width: 14;
}
.shell {
  fill: none;
  stroke: var(--ink);
  stroke-width: 4;
}
.liquid {
  fill: var(--focus);
  fill-opacity: 0.35;
  transition: y 0.8s;
}
.hole {
  fill: var(--ink);
}
@media (prefers-reduced-motion: reduce) {
  .liquid {
    transition: none;
  }
}
</style>
