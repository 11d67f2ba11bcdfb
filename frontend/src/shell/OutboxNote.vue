<script setup lang="ts">
// What this device still holds: on the way, refused, or without room. On every screen.
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { useOutbox } from '../stores/outbox'
import KeptHere from './KeptHere.vue'

const outbox = useOutbox()
// What goes through at once is not worth a word.
const waiting = computed(() => (outbox.stuck ? outbox.unsent : []))
const names = computed(() => {
  const found = new Map<string, number>()
  for (const { by } of outbox.others) if (by) found.set(by.name, (found.get(by.name) ?? 0) + 1)
  return found
})
const refused = computed(() => outbox.refused.filter((entry) => !entry.gone))
const visit = computed(() => [...refused.value, ...waiting.value, ...outbox.others][0]?.visitId)
const showing = ref(false)
const words = computed(() =>
  [
    outbox.offline ? 'no answer from the server' : '',
    waiting.value.length ? `${waiting.value.length} kept here` : '',
    refused.value.length ? `${refused.value.length} refused` : '',
    ...[...names.value].map(([name, count]) => `${count} kept here until ${name} signs in`),
  ].filter(Boolean).join('; '),
)
</script>

<template>
  <p v-if="outbox.full" class="note fail" role="alert">This device has no room left: what is typed waits in this page alone. Leave it open until the server has answered.</p>
  <p class="note fail" aria-live="polite">
    <RouterLink v-if="visit" :to="{ name: 'walk', params: { id: visit } }">{{ words }}</RouterLink>
    <button v-if="outbox.gone.length" type="button" class="btn btn-sm fail" @click="showing = true">
      {{ outbox.gone.length }} kept here: the visit is gone
    </button>
  </p>
  <KeptHere v-model="showing" />
</template>

<style scoped>
.note {
  margin: 0;
  font-weight: 600;
}
.note a {
  color: inherit;
}
</style>
