<script setup lang="ts">
// A metering device cut open: which way the liquid goes, through the opening or round it.
import { computed, reactive } from 'vue'
import { ask, client } from '../../api/client'
import { useCatalogue } from '../../stores/catalogue'
import { signed } from '../../walk/figures'
import { temperatureColour } from '../../walk/temperatureScale'
import { useAnswer } from './asking'
import MeasureList from './MeasureList.vue'
import PickOne from './PickOne.vue'

const catalogue = useCatalogue()
const KINDS = {
  txv_internal_check: 'TXV, check inside', txv_external_check: 'TXV, check beside it', sliding_piston: 'piston', capillary_with_check: 'cap tube, check',
  two_way_txv: 'two-way TXV', eev: 'EEV',
}
const what = reactive({ device: 'txv_internal_check', mode: 'cooling', trouble: 'none' })
const asked = () => ({ device: what.device as 'eev', mode: what.mode as 'cooling', trouble: what.trouble as 'none' })
const { answer: device, trouble } = useAnswer(asked, (query) => ask(client.GET('/api/handbook/moving/device', { params: { query } })))
// Cooling runs from left to right through the device that is looked at, heating from right to left.
const right = computed(() => what.mode === 'cooling')
const left = computed(() => (right.value ? device.value?.before : device.value?.after))
const other = computed(() => (right.value ? device.value?.after : device.value?.before))
const colour = (side: typeof left.value) => temperatureColour(side?.temperature.value, side?.temperature.unit) ?? 'var(--raised)'
const dash = (side: typeof left.value) => (side?.state === 'mixture' ? '16 7' : side?.state === 'superheated_vapor' ? '1 11' : '')
const side = (pipe: typeof left.value) => pipe ? `${signed(pipe.temperature.value)} ${catalogue.symbol(pipe.temperature.unit)}, ${signed(pipe.pressure.value, 0)} ${catalogue.symbol(pipe.pressure.unit)}` : ''
const steers = computed(() => ['txv_internal_check', 'txv_external_check', 'two_way_txv'].includes(what.device))
</script>

<template>
  <div>
    <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
    <PickOne v-model="what.device" label="Device" :choices="KINDS" />
    <PickOne v-model="what.mode" label="The unit is in" :choices="{ cooling: 'cooling', heating: 'heating' }" />
    <PickOne v-if="device?.has_check" v-model="what.trouble" label="Its check" :choices="{ none: 'sound', stuck_closed: 'stuck closed', stuck_open: 'stuck open' }" />
    <template v-if="device">
      <div class="scroll" tabindex="0" role="region" aria-label="Picture"><svg viewBox="0 0 1000 340" role="img" :aria-label="`${device.title}: ${device.active ? 'active' : 'bypassed'}. ${device.through ? 'Liquid goes through its opening.' : ''} ${device.round ? 'Liquid bypasses it.' : ''}`">
        <path class="casing" d="M30 200H400M600 200H970" />
        <path class="flow" d="M30 200H400" :stroke-dasharray="dash(left)" :style="{ stroke: colour(left) }" />
        <path class="flow" d="M600 200H970" :stroke-dasharray="dash(other)" :style="{ stroke: colour(other) }" />
        <g class="way" :class="{ open: device.through }"><path d="M400 200L490 200M510 200L600 200" /><path class="needle" d="M470 160L500 196L530 160Z" /></g>
        <g v-if="device.has_check" class="way" :class="{ open: device.round }">
          <path :d="what.device === 'txv_external_check' || what.device === 'capillary_with_check' ? 'M340 200V300H470M530 300H660V200' : 'M400 200V262H470M530 262H600V200'" />
          <circle class="ball" :cx="device.round ? 520 : 500" :cy="what.device === 'txv_external_check' || what.device === 'capillary_with_check' ? 300 : 262" r="15" />
        </g>
        <rect class="body" x="400" y="130" width="200" :height="what.device === 'txv_external_check' || what.device === 'capillary_with_check' ? 110 : 165" rx="8" />
        <g v-if="steers"><path class="tube" d="M500 130V70H700" /><rect class="bulb" x="700" y="58" width="90" height="24" rx="12" /><text x="800" y="77">bulb on suction</text></g>
        <text v-else-if="what.device === 'eev'" x="500" y="110" text-anchor="middle">motor and sensors</text>
        <path class="arrow" :d="right ? 'M60 160h80l-12 -10m12 10l-12 10' : 'M140 160h-80l12 -10m-12 10l12 10'" />
        <text class="big figure" x="40" y="120">{{ side(left) }}</text><text x="40" y="240">{{ left?.words }}</text>
        <text class="big figure" x="960" y="120" text-anchor="end">{{ side(other) }}</text><text x="960" y="240" text-anchor="end">{{ other?.words }}</text>
        <text class="big" x="500" y="330" text-anchor="middle">{{ device.active ? 'active' : 'bypassed' }}</text>
      </svg></div>
      <p><strong>{{ device.title }}.</strong> {{ device.words }}</p>
      <p class="why" role="status">{{ device.why }}</p>
      <MeasureList :measures="device.measure" />
    </template>
  </div>
</template>

<style scoped src="./sheet.css"></style>
<style scoped>
.casing {
  stroke: var(--raised);
  stroke-width: 30;
}
.flow {
  stroke-width: 16;
  fill: none;
}
.body {
  fill: none;
  stroke: var(--ink);
  stroke-width: 3;
}
.way path {
  fill: none;
  stroke: var(--hair);
  stroke-width: 7;
}
.way.open path {
  stroke: var(--ink);
}
.way .needle {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 3;
}
.ball {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 3;
  transition: cx 0.4s;
}
.tube,
.arrow {
  fill: none;
  stroke: var(--ink);
  stroke-width: 3;
}
.bulb {
  fill: var(--raised);
  stroke: var(--ink);
  stroke-width: 2.5;
}
@media (prefers-reduced-motion: reduce) {
  .ball {
    transition: none;
  }
}
</style>
