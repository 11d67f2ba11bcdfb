<script setup lang="ts">
// The visits that read otherwise since a limit was changed.
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { LimitEffects } from '../api/types'
import { dayOf } from '../walk/figures'

const props = defineProps<{ effects: LimitEffects | null }>()
const MOST = 8
const words = computed(() => {
  if (!props.effects) return 'Looking for visits that read differently now …'
  const { visits, looked_through, waiting } = props.effects
  if (waiting) {
    const sofar = visits.length ? ` ${visits.length} ${visits.length > 1 ? 'read' : 'reads'} differently so far.` : ''
    return `Looking for visits that read differently now: ${waiting} still to read.${sofar}`
  }
  if (!looked_through) return 'There is no visit yet that it could change.'
  if (looked_through === 1) return `The only visit reads ${visits.length ? 'differently now' : 'as before'}.`
  return `Of the ${looked_through} newest visits, ${visits.length || 'none'} ${visits.length > 1 ? 'read' : 'reads'} differently now.`
})
</script>

<template>
  <div class="effects">
    <p role="status">{{ words }}</p>
    <ul v-if="effects?.visits.length">
      <li v-for="one in effects.visits.slice(0, MOST)" :key="one.visit.id">
        <RouterLink :to="{ name: 'walk', params: { id: one.visit.id } }">{{ one.visit.site }}<template v-if="one.visit.opened_at">, {{ dayOf(one.visit.opened_at) }}</template></RouterLink>:
        {{ one.visit.headline }} <span class="quiet">Before: {{ one.before }}</span>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.effects {
  border-left: 3px solid var(--edge);
  padding-left: 0.7rem;
  margin-top: 0.4rem;
}
p,
ul {
  margin: 0;
}
li a {
  display: inline-block;
  min-height: var(--target);
  align-content: center;
}
</style>
