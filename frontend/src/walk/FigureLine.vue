<script setup lang="ts">
// A figure with its band; pressed, it shows the readings it rests on.
import type { Indicator } from '../api/types'
import { useCatalogue } from '../stores/catalogue'
import { figure } from './figures'

defineProps<{ title: string; found: Indicator; large?: boolean }>()
const catalogue = useCatalogue()
</script>

<template>
  <details>
    <summary>
      <span class="quiet">{{ title }}<template v-if="large">, {{ catalogue.symbol(found.unit) }}</template></span>
      <span class="figure" :class="{ large }">{{ figure(found.value) }} <small>± {{ figure(found.uncertainty, found.value) }}{{ large ? '' : ` ${catalogue.symbol(found.unit)}` }}</small></span>
    </summary>
    <p>from {{ found.uses.map(catalogue.short).join('; ') || 'nothing read' }}</p>
  </details>
</template>

<style scoped>
summary {
  display: grid;
  min-height: var(--target);
  align-content: center;
  cursor: pointer;
  list-style: none;
}
summary::-webkit-details-marker {
  display: none;
}
.figure {
  font-size: 1.1rem;
  white-space: nowrap;
}
.large {
  font-size: 1.25rem;
}
small {
  font-size: 0.9rem;
  font-weight: 400;
  color: var(--quiet);
}
p {
  margin: 0 0 0.3rem;
  font-size: 0.95rem;
}
@media (max-width: 40rem) {
  .large {
    font-size: 1.1rem;
  }
}
</style>
