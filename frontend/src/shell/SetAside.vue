<script setup lang="ts">
// What an older Icepick took and this one can't use.
defineProps<{ words: string[] }>()
</script>

<template>
  <div v-if="words.length" class="alert-line">
    The record holds what can't be right, and it counts as not given:
    <ul class="m-0">
      <li v-for="one in words" :key="one">{{ one }}</li>
    </ul>
  </div>
</template>
