<script setup lang="ts">
// The last minutes of a value, as small as a word.
import { computed } from 'vue'

const props = defineProps<{ seconds: number[]; values: number[]; now: number }>()
const SPAN = 300
const WIDTH = 90
const HEIGHT = 26
/** What is all but level is drawn level. */
const LEAST = 1

const points = computed(() => {
  const from = props.now - SPAN
  const first = props.seconds.findIndex((at) => at > from)
  if (first < 0) return ''
  const values = props.values.slice(first)
  const low = Math.min(...values)
  const high = Math.max(...values)
  const middle = (low + high) / 2
  const half = Math.max(LEAST, (high - low) / 2)
  return props.seconds
    .slice(first)
    .map((at, i) => `${(((at - from) / SPAN) * WIDTH).toFixed(1)},${(HEIGHT / 2 - ((values[i]! - middle) / half) * (HEIGHT / 2 - 2)).toFixed(1)}`)
    .join(' ')
})
</script>

<template>
  <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" :width="WIDTH" :height="HEIGHT" aria-hidden="true"><polyline :points="points" /></svg>
</template>

<style scoped>
polyline {
  fill: none;
  stroke: var(--quiet);
  stroke-width: 1.6;
}
</style>
