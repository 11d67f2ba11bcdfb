<script setup lang="ts">
// A button that has a file chosen.
defineProps<{ accept: string; disabled: boolean }>()
const emit = defineEmits<{ chosen: [file: File] }>()

function choose(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  // Chosen again, the same file is a new choice.
  input.value = ''
  if (file) emit('chosen', file)
}
</script>

<template>
  <label class="btn btn-primary" :class="{ disabled }">Choose a file …<input type="file" class="visually-hidden" :accept="accept" :disabled="disabled" @change="choose" /></label>
</template>

<style scoped>
label {
  align-content: center;
}
label:focus-within {
  outline: 3px solid var(--focus, currentcolor);
  outline-offset: 2px;
}
</style>
