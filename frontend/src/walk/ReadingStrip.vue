<script setup lang="ts">
// Type a number, Enter, next station in walking order. The cursor never has to be fetched back.
import { BFormSelect } from 'bootstrap-vue-next/components/BFormSelect'
import { storeToRefs } from 'pinia'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useCatalogue } from '../stores/catalogue'
import { useSettings } from '../stores/settings'
import { useVisit } from '../stores/visit'
import { parseEntry } from './parseEntry'
import StationTag from './StationTag.vue'

const visit = useVisit()
const catalogue = useCatalogue()
const { method, units } = storeToRefs(useSettings())

const text = ref('')
const problem = ref('')
const field = useTemplateRef<HTMLInputElement>('field')
const chips = useTemplateRef<HTMLElement>('chips')

const quantity = computed(() => catalogue.station(visit.station)?.quantities.find((q) => q.quantity === 'temperature'))
const accepted = computed(() => {
  const shown = quantity.value?.display_unit[units.value]
  return shown ? [shown, ...quantity.value!.units.filter((unit) => unit !== shown)] : []
})
const methods = computed(() =>
  Object.entries(catalogue.catalogue?.words.method ?? {}).map(([value, word]) => ({ value, text: word })),
)

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
  text.value = ''
  visit.take(visit.station, parsed.value, parsed.unit)
}

function arrow(event: KeyboardEvent, by: 1 | -1) {
  const sideways = event.key === 'ArrowLeft' || event.key === 'ArrowRight'
  if (sideways && text.value) return
  event.preventDefault()
  visit.step(by)
}

/** Put the cursor in the field, with what was already typed elsewhere. */
function focus(first = '') {
  if (first) text.value = first
  field.value?.focus()
}
defineExpose({ focus })

watch(
  () => visit.station,
  async (code) => {
    problem.value = ''
    await nextTick()
    const chip = chips.value?.querySelector<HTMLElement>(`[data-station="${code}"]`)
    if (chip && chips.value) chips.value.scrollLeft = chip.offsetLeft - chips.value.clientWidth / 3
  },
)
</script>

<template>
  <section class="strip panel" aria-label="Readings">
    <form class="entry" @submit.prevent="enter">
      <label for="reading">{{ catalogue.title(visit.station) }}</label>
      <div class="line">
        <input
          id="reading" ref="field" v-model="text" class="form-control figure" inputmode="text" autocomplete="off"
          enterkeyhint="next" :placeholder="catalogue.symbol(accepted[0] ?? '')" :aria-invalid="!!problem"
          :aria-describedby="problem ? 'reading-problem' : undefined"
          @keydown.left="arrow($event, -1)" @keydown.right="arrow($event, 1)"
          @keydown.up="arrow($event, -1)" @keydown.down="arrow($event, 1)"
          @keydown.esc="text = problem = ''"
        />
        <button type="submit" class="btn btn-primary" aria-label="Take this reading">↵</button>
        <BFormSelect v-model="method" :options="methods" aria-label="Instrument" />
      </div>
      <p v-if="problem" id="reading-problem" class="problem fail" role="alert">{{ problem }}</p>
    </form>
    <div ref="chips" class="chips">
      <StationTag
        v-for="code in visit.stations" :key="code" :code="code" :shown="visit.shown.get(code)"
        :selected="visit.station === code" @press="visit.station = code; focus()"
      />
    </div>
  </section>
</template>

<style scoped>
.strip {
  display: grid;
  grid-template-columns: 19rem minmax(0, 1fr);
  gap: 0.75rem;
  padding: 0.5rem 0.75rem;
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
.problem {
  margin: 0.2rem 0 0;
  font-size: 0.9rem;
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
