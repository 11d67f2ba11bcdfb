<script setup lang="ts">
// The clock, the runs, and what the unit is told to do.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed } from 'vue'
import type { AttemptView } from '../api/types'
import { useCatalogue } from '../stores/catalogue'

const props = defineProps<{ view: AttemptView; runId: string; busy: boolean; settles: number }>()
defineEmits<{ choose: [run: string]; switch: [mode: 'heating' | 'cooling' | 'off']; wait: []; say: [] }>()
const catalogue = useCatalogue()
const clock = computed(() => `${Math.floor(props.view.minute / 60)}:${String(Math.floor(props.view.minute % 60)).padStart(2, '0')}`)
const MODES = ['heating', 'cooling', 'off'] as const
const others = computed(() => MODES.filter((mode) => mode !== props.view.mode))
</script>

<template>
  <div class="line">
    <p class="clock"><span class="visually-hidden">Time at the unit: </span><span class="figure">{{ clock }}</span></p>
    <p class="told"><span class="quiet">{{ view.site }} · {{ catalogue.word('complaint', view.complaint) }}:</span> “{{ view.told }}”</p>
    <div class="runs" role="group" aria-label="Runs">
      <BButton v-for="(run, n) in view.runs" :key="run.id" :aria-pressed="run.id === runId" @click="$emit('choose', run.id)">
        run {{ n + 1 }} {{ catalogue.word('mode', run.mode) }}<template v-if="run.after_repair">, repaired</template>
      </BButton>
    </div>
    <span v-if="settles > 0 && view.mode !== 'off'" class="settling" role="status">◷ settles in {{ Math.ceil(settles) }} min</span>
    <template v-if="!view.said">
      <BButton v-for="mode in others" :key="mode" :disabled="busy" @click="$emit('switch', mode)">{{ mode === 'off' ? 'turn it off' : `call for ${mode}` }}</BButton>
      <BButton :disabled="busy" @click="$emit('wait')">wait {{ settles > 0 ? Math.ceil(settles) : 10 }} min</BButton>
      <BButton variant="primary" :disabled="busy" @click="$emit('say')">say what it is</BButton>
    </template>
  </div>
</template>

<style scoped>
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem 0.5rem;
  align-items: center;
  padding-top: 0.3rem;
}
.clock {
  margin: 0;
  font-size: 1.4rem;
  min-width: 3.4rem;
}
.told {
  margin: 0;
  flex: 1;
  min-width: 14rem;
}
.runs {
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem;
}
.runs .btn[aria-pressed='true'] {
  border-color: var(--ink);
  font-weight: 600;
}
.settling {
  color: var(--watch);
}
</style>
