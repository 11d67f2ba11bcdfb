<script setup lang="ts">
// A walk step by step: what was done, what came of it, and what it told.
import type { ToldStep } from '../api/types'

defineProps<{ steps: ToldStep[]; at: number; title: string; speaks?: number[] }>()
defineEmits<{ choose: [step: number] }>()
const percent = (share: number) => `${Math.round(share * 100)} %`
</script>

<template>
  <div class="frame" tabindex="0" role="region" :aria-label="title">
    <table class="table">
      <thead><tr><th scope="col" class="number">min</th><th scope="col">{{ title }}</th><th scope="col">what it told</th><th scope="col" class="number">truth</th></tr></thead>
      <tbody>
        <tr v-for="one in steps" :key="one.number" :class="{ at: one.number === at }" :aria-current="one.number === at ? 'step' : undefined" @click="$emit('choose', one.number)">
          <td class="number figure">{{ Math.round(one.ended) }}</td>
          <th scope="row">{{ one.words }}<template v-if="one.found">: <strong>{{ one.found }}</strong></template> <span v-if="speaks?.includes(one.number)" class="quiet">(you picked this)</span>
            <span v-for="words in one.missed" :key="words" class="missed">≈ missed: {{ words }}</span></th>
          <td>{{ one.told }}<br v-if="one.told && one.lead" /><span v-if="one.bits !== null" class="quiet">{{ one.lead }}</span></td>
          <td class="number figure">{{ one.bits === null ? '' : percent(one.share) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.frame {
  overflow: auto;
  max-height: 26rem;
  position: relative;
}
.table {
  --bs-table-bg: transparent;
  margin: 0;
}
th,
td {
  font-weight: 400;
  padding: 0.25rem 0.5rem 0.25rem 0;
  vertical-align: top;
}
thead th {
  font-weight: 650;
  position: sticky;
  top: 0;
  background: var(--panel);
}
.number {
  text-align: right;
  white-space: nowrap;
}
.at > * {
  background: var(--raised);
}
.missed {
  display: block;
  color: var(--watch);
  font-size: 0.9rem;
}
</style>
