<script setup lang="ts">
// What is practiced is never taken for a customer's: this stands on every screen of the bench.
defineProps<{ code?: string }>()
</script>

<template>
  <p class="practice" role="note"><strong>Practice.</strong> A simulated unit: nothing here is measured, and nothing is a customer’s.<template v-if="code"> Case {{ code }}.</template></p>
</template>

<style scoped>
.practice {
  margin: 0;
  padding: 0.05rem 0.75rem;
  border: 1px dashed var(--edge);
  border-top: 0;
  background: var(--raised);
  font-size: 0.85rem;
}
@media print {
  .practice {
    border: 2px solid;
  }
}
</style>
