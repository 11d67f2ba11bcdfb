<script setup lang="ts">
// Both coils side by side, and under them the compressor's work, which makes their heats add up.
import type { RunExamination, Unit } from '../api/types'
import type { Shown, Spot } from '../stores/visit'
import CoilPanel from './CoilPanel.vue'
import WorkPanel from './WorkPanel.vue'

defineProps<{ unit: Pick<Unit, 'source' | 'load'>; run: RunExamination; shown: Map<string, Shown>; selected: Spot }>()
defineEmits<{ press: [spot: Spot] }>()
</script>

<template>
  <div class="coils" tabindex="0" role="region" aria-label="Coils">
    <CoilPanel side="indoor" :medium="unit.load" :run="run" :shown="shown" :selected="selected" @press="(spot) => $emit('press', spot)" />
    <CoilPanel side="outdoor" :medium="unit.source" :run="run" :shown="shown" :selected="selected" @press="(spot) => $emit('press', spot)" />
    <WorkPanel class="work" :run="run" :shown="shown" :selected="selected" @press="(spot) => $emit('press', spot)" />
  </div>
</template>

<style scoped>
.coils {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0.5rem;
  align-self: start;
  align-items: start;
  max-height: 100cqh;
  overflow: auto;
  padding: 0.3rem;
}
.work {
  grid-column: 1 / -1;
}
@media (max-width: 64rem) {
  .coils {
    grid-template-columns: minmax(0, 1fr);
    max-height: none;
  }
}
</style>
