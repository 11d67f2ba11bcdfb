<script setup lang="ts">
// The last minutes of everything, as they come.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref } from 'vue'
import { useCatalogue } from '../stores/catalogue'
import type { Track } from '../stores/live'
import ManyLines from './ManyLines.vue'
import { inOrder, lookOf, onOneClock, type ManySeries } from './manyLines'

const props = defineProps<{ tracks: Map<string, Track>; now: number; theme: string }>()
const catalogue = useCatalogue()
const SPANS = [2, 5, 15] as const
const minutes = ref<(typeof SPANS)[number]>(5)
const hidden = ref(new Set<string>())
const toggle = (key: string) => {
  const next = new Set(hidden.value)
  if (!next.delete(key)) next.add(key)
  hidden.value = next
}
const span = computed<[number, number]>(() => [Math.max(0, props.now - 60 * minutes.value), Math.max(props.now, 60)])
const ordered = computed(() => inOrder([...props.tracks.values()]))
const clocked = computed(() => onOneClock(ordered.value, span.value[0] - 1))
const series = computed<ManySeries[]>(() =>
  ordered.value.map((track, n) => ({
    key: `${track.station} ${track.quantity}`,
    name: track.quantity === 'relative_humidity' ? `${catalogue.short(track.station)}, ${catalogue.word('quantity', track.quantity)}` : catalogue.short(track.station),
    unit: track.unit,
    quantity: track.quantity,
    values: clocked.value.rows[n] ?? [],
    ...lookOf(n),
  })),
)
</script>

<template>
  <div class="lines">
    <div class="spans" role="group" aria-label="Last minutes">
      <BButton v-for="one in SPANS" :key="one" size="sm" :aria-pressed="minutes === one" @click="minutes = one">{{ one }} min</BButton>
    </div>
    <ManyLines v-if="tracks.size" :seconds="clocked.seconds" :series="series" :span="span" :marks="[]" :theme="theme" :hidden="hidden" @toggle="toggle" />
    <p v-else class="quiet">Nothing heard yet.</p>
  </div>
</template>

<style scoped>
.lines {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  height: 100%;
  padding: 0 0.5rem;
}
.spans {
  display: flex;
  gap: 0.3rem;
}
@media (max-width: 60rem) {
  .lines {
    height: auto;
  }
}
</style>
