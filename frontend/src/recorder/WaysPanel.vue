<script setup lang="ts">
// The ways probes can be listened to, before anything is.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import type { Way } from '../api/types'
import { useCatalogue } from '../stores/catalogue'

defineProps<{ offers: Way[]; shut: string; busy: boolean; here: boolean }>()
defineEmits<{ listen: [by: Way] }>()
const catalogue = useCatalogue()

const WAYS: Record<Way, string> = {
  simulated: 'A unit of the machine model runs with a kit on it. Nothing of it is measured.',
  bluetooth: 'Probes within reach of the machine that serves.',
  relayed: 'Probes within reach of this phone or computer.',
}
</script>

<template>
  <div class="ways panel">
    <h2>Listen to probes</h2>
    <p v-if="shut" class="quiet">{{ shut }}</p>
    <div v-for="by in offers" :key="by" class="way">
      <BButton variant="primary" :disabled="shut !== '' || busy || (by === 'relayed' && !here)" @click="$emit('listen', by)">{{ catalogue.word('way', by) }}</BButton>
      <span>{{ WAYS[by] }}<template v-if="by === 'relayed' && !here"> This browser has no Bluetooth, or the page did not come over TLS.</template></span>
    </div>
    <p class="quiet caution">Clamps go on bare pipe, away from moving fans and hot gas lines; gauges only with the right hoses and eye protection, by who may.</p>
  </div>
</template>

<style scoped>
.ways {
  padding: 0.75rem;
}
h2 {
  font-size: 1.15rem;
}
.way {
  display: flex;
  align-items: center;
  gap: 0.75rem;
  margin-bottom: 0.5rem;
}
.way .btn {
  min-width: 15rem;
}
.caution {
  margin: 0.5rem 0 0;
}
@media (max-width: 60rem) {
  .way {
    flex-direction: column;
    align-items: stretch;
  }
}
</style>
