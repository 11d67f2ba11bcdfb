<script setup lang="ts">
// The heads of a unit that has several, each with whether it calls and is fed: which is in hand.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import type { HeadExamination } from '../api/types'
import { isOdd, stateOf } from './heads'

defineProps<{ heads: HeadExamination[]; current: number; all: boolean }>()
defineEmits<{ choose: [head: number]; all: [] }>()
</script>

<template>
  <div class="tabs" role="group" aria-label="Heads">
    <BButton v-for="head in heads" :key="head.number" class="tab" :class="{ odd: isOdd(head) }" :aria-pressed="head.number === current" @click="$emit('choose', head.number)">
      <strong>{{ head.number }} {{ head.label }}</strong> <span class="said"><span v-if="isOdd(head)" aria-hidden="true">✗ </span>{{ stateOf(head) }}</span>
    </BButton>
    <BButton class="tab" :aria-pressed="all" @click="$emit('all')"><strong>a all heads</strong> <span class="said">side by side</span></BButton>
  </div>
</template>

<style scoped>
.tabs {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(8.5rem, 1fr));
  gap: 0.4rem;
  margin-bottom: 0.5rem;
}
.tab {
  display: grid;
  align-content: start;
  padding: 0.3rem 0.6rem;
  text-align: left;
  line-height: 1.25;
}
.tab[aria-pressed='true'] {
  border-color: var(--ink);
  border-bottom-width: 4px;
  background: var(--panel);
}
.said {
  font-size: 0.88rem;
  color: var(--quiet);
}
.odd .said {
  color: var(--fail);
  font-weight: 600;
}
</style>
