<script setup lang="ts">
// Advice on a unit, each with its reason.
import type { Advice } from '../api/types'

defineProps<{ advice: Advice[] }>()
const WORDS = { fault: '✗ fault', caution: '≈ caution', missing: '… missing' } as const
const TONE = { fault: 'fail', caution: 'watch', missing: 'needs_readings' } as const
</script>

<template>
  <ul v-if="advice.length" class="points">
    <li v-for="one in advice" :key="one.code">
      <strong :class="TONE[one.severity]">{{ WORDS[one.severity] }}</strong> {{ one.text }}
      <span class="quiet">{{ one.reason }}</span>
    </li>
  </ul>
  <p v-else class="quiet">Nothing to remark on this unit.</p>
</template>

<style scoped>
.points {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 0.3rem;
  font-size: 0.95rem;
}
</style>
