<script setup lang="ts">
// What was seen and heard, as quick marks; pressed again, a mark is taken back.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import type { ObservationCode } from '../api/types'

defineProps<{ words: Record<string, string>; made: Map<ObservationCode, string>; closed: boolean }>()
defineEmits<{ mark: [code: ObservationCode] }>()
</script>

<template>
  <div class="marks" role="group" aria-label="Quick marks">
    <BButton
      v-for="(word, code) in words" :key="code" :aria-pressed="made.has(code as ObservationCode)"
      :disabled="closed" @click="$emit('mark', code as ObservationCode)"
    >
      <span aria-hidden="true">{{ made.has(code as ObservationCode) ? '■' : '□' }}</span> {{ word }}
    </BButton>
  </div>
</template>

<style scoped>
.marks {
  display: flex;
  flex-wrap: wrap;
  align-content: start;
  gap: 0.4rem;
  padding: 0.4rem;
}
.marks .btn[aria-pressed='true'] {
  border-color: var(--ink);
  border-width: 2px;
  font-weight: 600;
}
</style>
