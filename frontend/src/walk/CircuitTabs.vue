<script setup lang="ts">
// The circuits of a unit that has several, each with what is said of it: which is in hand, and which way each one runs.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed } from 'vue'
import type { CircuitExamination, RunExamination } from '../api/types'
import StatusMark from '../shell/StatusMark.vue'
import { useCatalogue } from '../stores/catalogue'

const props = defineProps<{ circuits: CircuitExamination[]; runs: RunExamination[]; current: string; mode: string }>()
defineEmits<{ choose: [id: string] }>()
const catalogue = useCatalogue()

const each = computed(() =>
  props.circuits.map((circuit) => {
    const own = props.runs.filter((run) => run.circuit === circuit.id)
    return { circuit, run: own.filter((run) => run.commanded_mode === props.mode).at(-1) ?? own.at(-1) }
  }),
)
</script>

<template>
  <div class="tabs" role="group" aria-label="Circuits">
    <BButton v-for="{ circuit, run } in each" :key="circuit.id" class="tab" :aria-pressed="circuit.id === current" @click="$emit('choose', circuit.id)">
      <span class="name"><strong>circuit {{ circuit.id }}</strong> <StatusMark :status="circuit.outcome" :word="false" />
        <span v-if="run" class="ways" :class="{ other: !['unknown', run.commanded_mode].includes(run.apparent_mode) }">
          ▷ {{ catalogue.word('mode', run.commanded_mode) }} ▶ {{ catalogue.word('apparent_mode', run.apparent_mode) }}
        </span>
      </span>
      <span class="said">{{ circuit.headline }}</span>
    </BButton>
  </div>
</template>

<style scoped>
.tabs {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(11rem, 1fr));
  gap: 0.4rem;
  margin-bottom: 0.5rem;
}
.tab {
  display: grid;
  align-content: start;
  gap: 0.15rem;
  padding: 0.4rem 0.6rem;
  text-align: left;
}
.tab[aria-pressed='true'] {
  border-color: var(--ink);
  border-bottom-width: 4px;
  background: var(--panel);
}
.name {
  display: flex;
  flex-wrap: wrap;
  gap: 0 0.5rem;
  align-items: center;
}
.ways {
  font-size: 0.85rem;
  color: var(--quiet);
}
.ways.other {
  color: var(--ink);
  font-weight: 700;
  text-decoration: underline;
}
.said {
  font-size: 0.9rem;
  line-height: 1.25;
}
</style>
