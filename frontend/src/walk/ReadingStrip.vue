<script setup lang="ts">
// Type a number, Enter, next station in walking order. The cursor never has to be fetched back.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormSelect } from 'bootstrap-vue-next/components/BFormSelect'
import { storeToRefs } from 'pinia'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useCatalogue } from '../stores/catalogue'
import { useSettings } from '../stores/settings'
import { spotKey, TRAYS, useVisit } from '../stores/visit'
import { parseEntry } from './parseEntry'
import StationTag from './StationTag.vue'

const visit = useVisit()
const catalogue = useCatalogue()
const { method, units } = storeToRefs(useSettings())

const text = ref('')
const problem = ref('')
const field = useTemplateRef<HTMLInputElement>('field')
const chips = useTemplateRef<HTMLElement>('chips')

const asked = computed(() =>
  catalogue.station(visit.spot.station)?.quantities.find((q) => q.quantity === visit.spot.quantity),
)
const accepted = computed(() => {
  const shown = asked.value?.display_unit[units.value]
  return shown ? [shown, ...asked.value!.units.filter((unit) => unit !== shown)] : []
})
const label = computed(() => catalogue.titleOf(visit.spot.station, visit.spot.quantity))
const fixed = computed(() => visit.instrumentAt(visit.spot))
const methods = computed(() =>
  Object.entries(catalogue.catalogue?.words.method ?? {})
    .filter(([value]) => value !== 'gauge' && value !== 'meter')
    .map(([value, word]) => ({ value, text: word })),
)
const trays = computed(() => TRAYS.filter((name) => visit.spots.get(name)?.length))

function enter() {
  problem.value = ''
  if (!text.value.trim()) {
    visit.advance()
    return
  }
  const parsed = parseEntry(text.value, accepted.value, catalogue.catalogue?.suffixes ?? {})
  if ('problem' in parsed) {
    problem.value = parsed.problem
    return
  }
  if (visit.take(visit.spot, parsed.value, parsed.unit)) text.value = ''
  else problem.value = 'Not taken: this device has no room left to keep it until it is sent.'
}

function arrow(event: KeyboardEvent, by: 1 | -1) {
  const sideways = event.key === 'ArrowLeft' || event.key === 'ArrowRight'
  if (sideways && text.value) return
  event.preventDefault()
  visit.step(by)
}

/** Put the cursor in the field. */
function focus() {
  field.value?.focus()
}
defineExpose({ focus })

watch(
  () => visit.spot,
  async (spot) => {
    problem.value = ''
    await nextTick()
    const chip = chips.value?.querySelector<HTMLElement>(`[data-station="${spot.station}"][data-quantity="${spot.quantity}"]`)
    if (chip && chips.value) chips.value.scrollLeft = chip.offsetLeft - chips.value.clientWidth / 3
  },
)
</script>

<template>
  <section class="strip panel" aria-label="Readings">
    <form class="entry" @submit.prevent="enter">
      <label for="reading">{{ label }}</label>
      <div class="line">
        <input
          id="reading" ref="field" v-model="text" class="form-control figure" inputmode="decimal" autocomplete="off"
          enterkeyhint="next" :placeholder="catalogue.symbol(accepted[0] ?? '')" :aria-invalid="!!problem"
          :aria-describedby="problem ? 'reading-problem' : undefined"
          @keydown.left="arrow($event, -1)" @keydown.right="arrow($event, 1)"
          @keydown.up="arrow($event, -1)" @keydown.down="arrow($event, 1)"
          @keydown.esc="text = problem = ''; field?.blur()"
        />
        <button type="submit" class="btn btn-primary" aria-label="Take this reading">↵</button>
        <span v-if="fixed" class="fixed quiet">{{ catalogue.word('method', fixed) }}</span>
        <BFormSelect v-else v-model="method" :options="methods" aria-label="Instrument" />
      </div>
      <p v-if="problem" id="reading-problem" class="problem fail" role="alert">{{ problem }}</p>
    </form>
    <div class="places">
      <div class="trays" role="group" aria-label="Trays">
        <BButton
          v-for="name in trays" :key="name" :aria-pressed="visit.tray === name"
          @click="visit.chooseTray(name); focus()"
        >{{ name }}</BButton>
        <BButton class="undo" @click="visit.undo(); focus()">undo</BButton>
      </div>
      <div ref="chips" class="chips">
        <StationTag
          v-for="spot in visit.here" :key="spotKey(spot)" :code="spot.station" :quantity="spot.quantity"
          :shown="visit.shown.get(spotKey(spot))" :selected="spotKey(visit.spot) === spotKey(spot)"
          @press="visit.spot = spot; focus()"
        />
        <BButton v-if="visit.tray === 'circuits'" aria-label="More circuits" @click="visit.circuitCount += 2">+</BButton>
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
.entry label {
  display: block;
  color: var(--ink);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.line {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto 6.6rem;
  gap: 0.4rem;
}
input.figure {
  font-size: 1.4rem;
  padding-block: 0;
}
.fixed {
  align-self: center;
}
.problem {
  margin: 0.2rem 0 0;
  font-size: 0.9rem;
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
.trays .undo {
  margin-left: auto;
  border-color: var(--hair);
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
  }
}
</style>
