<script setup lang="ts">
// How far something with a file has come, and the way to stop it.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BProgress, BProgressBar } from 'bootstrap-vue-next/components/BProgress'

defineProps<{ words: string; done: number; of: number; counted: boolean; stops: boolean }>()
defineEmits<{ stop: [] }>()
</script>

<template>
  <div role="status" class="doing">
    <span>{{ words }}<template v-if="counted && of"> · {{ done.toLocaleString() }} of {{ of.toLocaleString() }}</template></span>
    <BProgress :max="of || 1"><BProgressBar :value="done" :aria-label="words" /></BProgress>
    <BButton v-if="stops" @click="$emit('stop')">stop: nothing of it is entered</BButton>
  </div>
</template>

<style scoped>
.doing {
  display: grid;
  gap: 0.5rem;
  justify-items: start;
  max-width: 46rem;
}
.progress {
  width: 100%;
}
</style>
