<script setup lang="ts">
// A keypad for touch screens: a phone's own has no minus and no Enter. The field keeps the cursor.
import { BButton } from 'bootstrap-vue-next/components/BButton'

defineProps<{ unit: string; units: string[]; symbol: (unit: string) => string }>()
defineEmits<{ type: [key: string]; erase: []; unit: []; enter: []; skip: []; hide: [] }>()
const ROWS = [['7', '8', '9'], ['4', '5', '6'], ['1', '2', '3'], ['−', '0', '.']]
</script>

<template>
  <div class="pad panel" role="group" aria-label="Keypad" @pointerdown.prevent @mousedown.prevent>
    <template v-for="(row, n) in ROWS" :key="n">
      <BButton v-for="key in row" :key="key" class="figure" :aria-label="key === '−' ? 'minus' : key === '.' ? 'decimal point' : key" tabindex="-1" @click="$emit('type', key)">{{ key }}</BButton>
      <BButton v-if="n === 0" tabindex="-1" aria-label="erase" @click="$emit('erase')">⌫</BButton>
      <BButton v-else-if="n === 1" tabindex="-1" :disabled="units.length < 2" :aria-label="`unit: ${symbol(unit)}`" @click="$emit('unit')">{{ symbol(unit) }}</BButton>
      <BButton v-else-if="n === 2" tabindex="-1" @click="$emit('skip')">skip</BButton>
      <BButton v-else variant="primary" tabindex="-1" aria-label="Enter" @click="$emit('enter')">↵</BButton>
    </template>
    <BButton class="hide" tabindex="-1" @click="$emit('hide')">put the keypad away</BButton>
  </div>
</template>

<style scoped>
.pad {
  position: fixed;
  inset: auto 0 0;
  z-index: 3;
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 0.3rem;
  padding: 0.4rem;
}
.pad .btn {
  min-height: 3.1rem;
  font-size: 1.25rem;
}
.pad .hide {
  grid-column: 1 / -1;
  min-height: var(--target);
  font-size: 0.95rem;
}
</style>
