<script setup lang="ts">
// Where one would type: here the reading is taken. Enter takes it, the arrows go on to the next place.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, nextTick, useTemplateRef, watch } from 'vue'
import { useAttemptAtBench } from '../stores/attempt'
import { useCatalogue } from '../stores/catalogue'
import { spotKey, type Spot } from '../stores/visit'
import StationTag from '../walk/StationTag.vue'

defineProps<{ busy: boolean; closed: boolean }>()
const emit = defineEmits<{ take: [spot: Spot] }>()
const infrared = defineModel<boolean>('infrared', { required: true })
const attempt = useAttemptAtBench()
const catalogue = useCatalogue()
const chips = useTemplateRef<HTMLElement>('chips')
const button = useTemplateRef<HTMLElement>('take')
const label = computed(() => catalogue.titleOf(attempt.spot.station, attempt.spot.quantity))
const aims = computed(() => attempt.view?.kit.includes('infrared') && attempt.spot.quantity === 'temperature' && ['pipes', 'circuits'].includes(attempt.tray))
const how = computed(() => {
  if (attempt.spot.quantity === 'pressure') return 'hook up the gauge'
  if (infrared.value && aims.value) return 'aim the infrared gun'
  return attempt.tray === 'electrical' ? 'read the meter' : attempt.tray === 'pipes' || attempt.tray === 'circuits' ? 'clamp it' : 'read the probe'
})
const focus = () => button.value?.focus()
defineExpose({ focus })

watch(
  () => attempt.spot,
  async (spot) => {
    await nextTick()
    const chip = chips.value?.querySelector<HTMLElement>(`[data-station="${spot.station}"][data-quantity="${spot.quantity}"]`)
    if (chip && chips.value) chips.value.scrollLeft = chip.offsetLeft - chips.value.clientWidth / 3
  },
)
</script>

<template>
  <section class="strip panel" aria-label="Readings">
    <div class="entry">
      <p class="label" aria-live="polite">{{ label }}</p>
      <div class="line">
        <button ref="take" type="button" class="btn btn-primary" :disabled="busy || closed" @click="emit('take', attempt.spot)">↵ {{ how }}</button>
        <BButton v-if="aims" :aria-pressed="infrared" :disabled="closed" @click="infrared = !infrared; focus()">infrared</BButton>
      </div>
    </div>
    <div class="places">
      <div class="trays" role="group" aria-label="Trays">
        <BButton v-for="name in attempt.traysHere" :key="name" :aria-pressed="attempt.tray === name" @click="attempt.chooseTray(name); focus()">{{ name }}</BButton>
      </div>
      <div ref="chips" class="chips">
        <StationTag
          v-for="spot in attempt.here" :key="spotKey(spot)" :code="spot.station" :quantity="spot.quantity"
          :shown="attempt.shown.get(spotKey(spot))" :selected="spotKey(attempt.spot) === spotKey(spot)"
          @press="attempt.goTo(spot); focus()"
        />
      </div>
    </div>
  </section>
</template>

<style scoped>
.strip {
  display: grid;
  grid-template-columns: 19rem minmax(0, 1fr);
  gap: 0.75rem;
  padding: 0.4rem 0.75rem;
  align-items: center;
}
.label {
  margin: 0 0 0.2rem;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.line {
  display: flex;
  gap: 0.4rem;
}
.line .btn-primary {
  flex: 1;
  white-space: nowrap;
}
.line .btn[aria-pressed='true'] {
  outline: 2px solid var(--ink);
  font-weight: 600;
}
.places {
  min-width: 0;
}
.trays {
  display: flex;
  gap: 0.25rem;
  overflow-x: auto;
  padding: 3px;
}
.trays .btn {
  border-color: transparent;
  padding: 0 0.6rem;
  flex: none;
}
.trays .btn[aria-pressed='true'] {
  border-color: var(--ink);
  font-weight: 600;
}
.chips {
  position: relative;
  display: flex;
  gap: 0.4rem;
  overflow-x: auto;
  padding: 4px;
}
.chips > * {
  flex: none;
}
@media (max-width: 40rem) {
  .strip {
    grid-template-columns: minmax(0, 1fr);
    gap: 0.2rem;
  }
}
</style>
