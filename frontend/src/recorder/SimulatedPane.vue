<script setup lang="ts">
// What the simulated unit is told, and what happens to its probes.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { ref } from 'vue'
import type { Happening, Live } from '../api/types'
import { useCatalogue } from '../stores/catalogue'
import { clockFace } from '../walk/figures'

defineProps<{ live: Live; shut: string }>()
defineEmits<{ happen: [what: Partial<Happening>] }>()
const catalogue = useCatalogue()
const CALLS = ['heating', 'cooling', 'off'] as const
const TROUBLES = ['none', 'fell_off', 'silent', 'battery_low', 'out_of_range', 'wrong_pipe'] as const
const probe = ref('')
</script>

<template>
  <section v-if="live.simulated" class="simulated" aria-label="Simulated unit">
    <p><strong>Simulated unit</strong> <span class="quiet">none of this is measured</span></p>
    <div class="choices" role="group" aria-label="The thermostat calls for">
      <BButton v-for="call in CALLS" :key="call" :disabled="shut !== ''" :aria-pressed="live.simulated.call === call" @click="$emit('happen', { call })">{{ call }}</BButton>
      <BButton :disabled="shut !== '' || live.simulated.call !== 'heating' || live.simulated.defrosting" @click="$emit('happen', { force_defrost: true })">force a defrost</BButton>
    </div>
    <p class="quiet">{{ live.simulated.defrosting ? 'in a defrost' : live.simulated.call === 'off' ? 'off' : live.simulated.call }} for {{ clockFace(live.simulated.seconds) }}</p>
    <div class="choices">
      <label>what happens to <select v-model="probe" :disabled="shut !== ''">
        <option value="">a probe …</option>
        <option v-for="one in live.probes" :key="one.address" :value="one.address">{{ one.name }}</option>
      </select></label>
      <select v-if="probe" aria-label="What happens" :value="live.simulated.troubles[probe]" @change="$emit('happen', { address: probe, trouble: ($event.target as HTMLSelectElement).value as never })">
        <option v-for="one in TROUBLES" :key="one" :value="one">{{ catalogue.word('probe_trouble', one) }}</option>
      </select>
    </div>
  </section>
</template>

<style scoped>
.simulated {
  padding: 0.5rem 0.75rem;
  border-bottom: 1px solid var(--hair);
}
p {
  margin: 0 0 0.3rem;
  font-size: 0.9rem;
}
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 0.35rem;
  margin-bottom: 0.3rem;
  align-items: center;
}
select {
  min-height: var(--target);
}
</style>
