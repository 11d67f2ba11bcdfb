<script setup lang="ts">
// Everything that was read at one place in this run; any of it can be taken back, and stays in the record.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import type { EntryView } from '../api/types'
import LazyDetails from '../shell/LazyDetails.vue'
import { useCatalogue } from '../stores/catalogue'
import { clockTime, figure } from './figures'

defineProps<{ title: string; entries: EntryView[]; closed: boolean }>()
defineEmits<{ takeBack: [key: string] }>()
const catalogue = useCatalogue()

</script>

<template>
  <LazyDetails class="history">
    <template #summary><summary>{{ title }}: {{ entries.length }} read</summary></template>
    <ol>
      <li v-for="entry in entries" :key="entry.entry_key" :class="{ withdrawn: entry.withdrawn }">
        <span class="figure">{{ figure(entry.reading?.value ?? 0) }} {{ catalogue.symbol(entry.reading?.unit ?? '') }}</span>
        <span class="quiet">{{ entry.reading?.method }} {{ clockTime(entry.reading?.at ?? entry.recorded_at) }}{{ entry.by ? `, ${entry.by}` : '' }}</span>
        <span v-if="entry.withdrawn" class="quiet">taken back</span>
        <BButton v-else-if="!closed" size="sm" @click="$emit('takeBack', entry.entry_key)">take back</BButton>
      </li>
    </ol>
  </LazyDetails>
</template>

<style scoped>
.history {
  border-top: 1px solid var(--hair);
  padding: 0 0.9rem;
}
summary {
  min-height: var(--target);
  align-content: center;
  cursor: pointer;
}
ol {
  list-style: none;
  padding: 0;
  margin: 0 0 0.4rem;
}
li {
  display: flex;
  gap: 0.6rem;
  align-items: center;
  justify-content: space-between;
  min-height: var(--target);
}
.withdrawn .figure {
  text-decoration: line-through;
}
</style>
