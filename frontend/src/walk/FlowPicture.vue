<script setup lang="ts">
// The flow line of every run, stacked, so that the same device is compared in both modes.
import { computed } from 'vue'
import type { RunExamination } from '../api/types'
import { spotKey, type Shown } from '../stores/visit'
import FlowRun from './FlowRun.vue'

const props = defineProps<{ runs: RunExamination[]; current: string; shown: Map<string, Shown>; selected: string }>()
defineEmits<{ press: [station: string, run: string] }>()

/** The run on screen shows what is still on its way; the others what is in force. */
const readingsOf = (run: RunExamination): Map<string, Shown> =>
  run.id === props.current
    ? props.shown
    : new Map(
        run.readings.map((r) => [
          spotKey(r),
          { value: r.value, unit: r.unit, early: r.early, infrared: r.method === 'infrared', doubted: false, state: 'kept' as const },
        ]),
      )
const flowing = computed(() => props.runs.map((run, index) => ({ run, number: index + 1 })).filter(({ run }) => run.path.length))
</script>

<template>
  <div class="flows" tabindex="0" role="region" aria-label="Flow line, from coil to coil">
    <FlowRun
      v-for="one in flowing" :key="one.run.id" :run="one.run" :number="one.number" :shown="readingsOf(one.run)"
      :selected="one.run.id === current ? selected : ''" :current="one.run.id === current"
      @press="(station) => $emit('press', station, one.run.id)"
    />
  </div>
</template>

<style scoped>
.flows {
  align-self: start;
  max-height: 100cqh;
  overflow: auto;
}
@media (max-width: 64rem) {
  .flows {
    max-height: none;
  }
}
</style>
