<script setup lang="ts">
// A share with the ends of the true one, and, where it was foretold, what was said.
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'
import type { Share } from '../api/types'

const props = defineProps<{ share: Share; said: number | null }>()
const WIDTH = 160
const x = scaleLinear([0, 1], [4, WIDTH - 4])
const percent = (part: number) => `${Math.round(part * 100)} %`
const words = computed(() => {
  const { count, of, low, high } = props.share
  return `${percent(count / of)}, truly ${percent(low)} to ${percent(high)}${props.said === null ? '' : `; said ${percent(props.said)}`}`
})
</script>

<template>
  <svg :viewBox="`0 0 ${WIDTH} 26`" role="img" :aria-label="words">
    <line :x1="x(0)" :x2="x(1)" y1="17" y2="17" class="rule" />
    <line v-for="tick in [0, 0.5, 1]" :key="tick" :x1="x(tick)" :x2="x(tick)" y1="14" y2="20" class="rule" />
    <rect :x="x(share.low)" y="12" :width="x(share.high) - x(share.low)" height="10" class="ends" />
    <circle :cx="x(share.count / share.of)" cy="17" r="4" class="share" />
    <path v-if="said !== null" :d="`M${x(said) - 5} 2h10l-5 7z`" class="said" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 10rem;
  height: 1.625rem;
}
.rule {
  stroke: var(--edge);
}
.ends {
  fill: none;
  stroke: var(--ink);
}
.share {
  fill: var(--ink);
}
.said {
  fill: var(--quiet);
}
</style>
