<script setup lang="ts">
// One part of the circuit, drawn as what it is.
import { computed } from 'vue'
import type { PathStop } from '../api/types'
import { useCatalogue } from '../stores/catalogue'

const props = defineProps<{
  part: PathStop['through']
  x: number
  y: number
  working: boolean
  bypassed: boolean
}>()
const catalogue = useCatalogue()

const isMeter = computed(() => props.part === 'outdoor_meter' || props.part === 'indoor_meter')
const isCoil = computed(() => props.part === 'outdoor_coil' || props.part === 'indoor_coil')
const COIL = 'M0 -80h22v18h-44v18h44v18h-44v18h44v18h-44v18h44v18h-44v18h44v16h-22'
</script>

<template>
  <g :transform="`translate(${x} ${y})`">
    <template v-if="isCoil">
      <rect class="shell" x="-34" y="-92" width="68" height="184" rx="3" />
      <path class="tube" :d="COIL" />
    </template>
    <template v-else-if="isMeter">
      <path v-if="bypassed" class="way-round" d="M-24 0C-24 -34 24 -34 24 0" />
      <path class="shell" :class="{ working }" d="M-18 -14 18 14V-14L-18 14Z" />
      <text y="15" dy="1.05em" text-anchor="middle">{{ working ? 'active' : bypassed ? 'bypassed' : 'in line' }}</text>
    </template>
    <template v-else>
      <rect class="shell" x="-20" y="-13" width="40" height="26" rx="13" />
      <path class="tube" d="M-8 -12v24M0 -13v26M8 -12v24" />
      <text y="15" dy="1.05em" text-anchor="middle">{{ catalogue.word('part', part) }}</text>
    </template>
  </g>
</template>

<style scoped>
.shell {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 2;
}
.working {
  fill: var(--ink);
}
.tube,
.way-round {
  fill: none;
  stroke: var(--edge);
  stroke-width: 2;
}
.way-round {
  stroke: var(--ink);
}
text {
  fill: var(--quiet);
  font-size: inherit;
}
</style>
