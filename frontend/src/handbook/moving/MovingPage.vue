<script setup lang="ts">
// Parts to be worked by hand: what they do is worked out on the Handbook's own unit.
import { computed, type Component } from 'vue'
import { RouterLink } from 'vue-router'
import { MOVING } from '../entries'
import MovingAccumulator from './MovingAccumulator.vue'
import MovingCircuit from './MovingCircuit.vue'
import MovingDevice from './MovingDevice.vue'
import MovingDrier from './MovingDrier.vue'
import MovingValve from './MovingValve.vue'

const props = defineProps<{ part: string }>()
const PARTS: Record<string, Component> = { circuit: MovingCircuit, valve: MovingValve, devices: MovingDevice, drier: MovingDrier, accumulator: MovingAccumulator }
const title = computed(() => (MOVING as Record<string, string>)[props.part] ?? '')
</script>

<template>
  <article>
    <h2>{{ title || 'How it works' }}</h2>
    <p class="quiet">Worked out on the Handbook’s own unit: three tons, split, R-410A. <RouterLink to="/bench">Practice it on the bench</RouterLink></p>
    <component :is="PARTS[part]" v-if="PARTS[part]" />
    <p v-else>There is no such part here.</p>
  </article>
</template>

<style scoped>
a {
  display: inline-block;
  min-height: var(--target);
  align-content: center;
}
h2 {
  font-size: 1.25rem;
}
h2::first-letter {
  text-transform: uppercase;
}
</style>
