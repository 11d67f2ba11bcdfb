<script setup lang="ts">
// How many there are, and the pages of them.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import type { VisitList } from '../api/types'

defineProps<{ list: VisitList; silent: boolean }>()
defineEmits<{ turn: [page: number] }>()
</script>

<template>
  <nav class="pages" aria-label="Pages">
    <span class="quiet" role="status">{{ list.found.toLocaleString() }} {{ list.found === 1 ? 'visit' : 'visits' }}<template v-if="list.pages > 1">, page {{ list.page.toLocaleString() }} of {{ list.pages.toLocaleString() }}</template><template v-if="list.waiting"> · {{ list.waiting.toLocaleString() }} still to examine</template></span>
    <template v-if="list.pages > 1">
      <BButton :disabled="silent || list.page <= 1" @click="$emit('turn', list.page - 1)">newer</BButton>
      <BButton :disabled="silent || list.page >= list.pages" @click="$emit('turn', list.page + 1)">older</BButton>
    </template>
  </nav>
</template>

<style scoped>
.pages {
  display: flex;
  gap: 0.5rem;
  align-items: center;
  min-height: var(--target);
  padding: 3px;
}
</style>
