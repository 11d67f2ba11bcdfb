<script setup lang="ts">
// One of several, as buttons in a row.
import { BButton } from 'bootstrap-vue-next/components/BButton'

defineProps<{ label: string; choices: Record<string, string> }>()
const picked = defineModel<string>({ required: true })
</script>

<template>
  <div class="pick" role="group" :aria-label="label">
    <span class="quiet">{{ label }}</span>
    <BButton v-for="(words, choice) in choices" :key="choice" :aria-pressed="picked === choice" @click="picked = choice">{{ words }}</BButton>
  </div>
</template>

<style scoped>
.pick {
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem;
  align-items: center;
  margin-bottom: 0.35rem;
}
.btn[aria-pressed='true'] {
  outline: 2px solid var(--ink);
  font-weight: 600;
}
</style>
