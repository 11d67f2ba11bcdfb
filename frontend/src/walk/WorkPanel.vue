<script setup lang="ts">
// The compressor's work, and whether it adds up with the heat at both coils.
import { computed } from 'vue'
import type { QuantityName, RunExamination } from '../api/types'
import { spotKey, type Shown, type Spot } from '../stores/visit'
import CheckLine from './CheckLine.vue'
import FigureLine from './FigureLine.vue'
import StationTag from './StationTag.vue'

const props = defineProps<{ run: RunExamination; shown: Map<string, Shown>; selected: Spot }>()
defineEmits<{ press: [spot: Spot] }>()

const QUANTITIES: QuantityName[] = ['current', 'voltage', 'power']
const spots = QUANTITIES.map((quantity): Spot => ({ station: 'compressor', quantity }))
const power = computed(() => props.run.indicators['compressor_power'])
const CODES = ['exchange.balance', 'exchange.compression_ratio']
const checks = computed(() => props.run.checks.filter((check) => CODES.includes(check.code)))
</script>

<template>
  <section>
    <h2>compressor <span class="quiet">work in, between the coils</span></h2>
    <div class="tags" role="group" aria-label="compressor">
      <StationTag
        v-for="s in spots" :key="spotKey(s)" :code="s.station" :quantity="s.quantity" :shown="shown.get(spotKey(s))"
        :selected="spotKey(selected) === spotKey(s)" @press="$emit('press', s)"
      />
      <FigureLine v-if="power" title="drawn" :found="power" large />
    </div>
    <CheckLine v-for="check in checks" :key="check.code" :check="check" />
  </section>
</template>

<style scoped>
section {
  min-width: 0;
  border: 1px solid var(--hair);
  padding: 0.5rem 0.6rem;
}
h2 .quiet {
  font-weight: 400;
}
.tags {
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem 0.6rem;
  align-items: center;
  margin: 0.3rem 0;
}
</style>
