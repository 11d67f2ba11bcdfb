<script setup lang="ts">
// Which heads call: none is pressed while nobody noted it.
import { BButton } from 'bootstrap-vue-next/components/BButton'

const props = withDefaults(defineProps<{ labels: string[]; disabled?: boolean; words?: string }>(), { disabled: false, words: 'heads that call' })
const calling = defineModel<number[] | null>({ required: true })
function toggle(head: number) {
  const now = calling.value ?? []
  const next = now.includes(head) ? now.filter((one) => one !== head) : [...now, head].sort((a, b) => a - b)
  calling.value = next.length ? next : null
}
const everybody = () => (calling.value = props.labels.map((_, n) => n + 1))
</script>

<template>
  <div class="calling" role="group" :aria-label="words">
    <span class="quiet">{{ words }}</span>
    <BButton v-for="(label, n) in labels" :key="n" :aria-pressed="calling?.includes(n + 1) ?? false" :disabled="disabled" @click="toggle(n + 1)">{{ n + 1 }} {{ label }}</BButton>
    <BButton :disabled="disabled" @click="everybody">all</BButton>
    <span v-if="calling === null" class="quiet">not noted</span>
  </div>
</template>

<style scoped>
.calling {
  display: flex;
  flex-wrap: wrap;
  gap: 0.35rem;
  align-items: center;
}
.btn[aria-pressed='true'] {
  border-color: var(--ink);
  border-bottom-width: 4px;
  font-weight: 600;
}
</style>
