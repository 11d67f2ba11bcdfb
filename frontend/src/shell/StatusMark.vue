<script setup lang="ts">
// A status as a shape and a word, never by colour alone.
import type { Status } from '../api/types'
import { useCatalogue } from '../stores/catalogue'

withDefaults(defineProps<{ status: Status; word?: boolean }>(), { word: true })
const catalogue = useCatalogue()
</script>

<template>
  <span class="status" :class="status">
    <svg viewBox="0 0 16 16" width="16" height="16" aria-hidden="true">
      <path v-if="status === 'pass'" d="M2 8.5 6.5 13 14 3.5" />
      <path v-else-if="status === 'fail'" d="M3 3 13 13M13 3 3 13" />
      <path v-else-if="status === 'watch'" d="M1.5 6.5 5 4l6 4.5 3.5-2.5M1.5 11.5 5 9l6 4.5 3.5-2.5" />
      <path v-else d="M3 12.5v.6M8 12.5v.6M13 12.5v.6" />
    </svg>
    <span :class="{ 'visually-hidden': !word }">{{ catalogue.word('status', status) }}</span>
  </span>
</template>

<style scoped>
.status {
  display: inline-flex;
  align-items: center;
  gap: 0.35rem;
  white-space: nowrap;
  font-weight: 600;
}
svg {
  flex: none;
}
path {
  fill: none;
  stroke: currentcolor;
  stroke-width: 2.4;
  stroke-linecap: round;
}
</style>
