<script setup lang="ts">
// A fold whose content is made only while it is open. The summary is the caller's own, in the slot of that name.
import { ref, watch } from 'vue'

const props = withDefaults(defineProps<{ open?: boolean }>(), { open: false })
const opened = ref(props.open)
watch(() => props.open, (now) => (opened.value = now))
</script>

<template>
  <details :open="opened" @toggle="opened = ($event.target as HTMLDetailsElement).open">
    <slot name="summary" />
    <slot v-if="opened" />
  </details>
</template>
