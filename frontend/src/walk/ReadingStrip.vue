<script setup lang="ts">
// Type a number, Enter, next station in walking order. The cursor never has to be fetched back.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormSelect } from 'bootstrap-vue-next/components/BFormSelect'
import { watchDebounced } from '@vueuse/core'
import { storeToRefs } from 'pinia'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useCatalogue } from '../stores/catalogue'
import { useSettings } from '../stores/settings'
import { spotKey, useVisit } from '../stores/visit'
import { numbersOf, readNumber, type Entry } from '../numbers/readNumber'
import { useMedia } from '../composables/useMedia'
import { figure } from './figures'
import { leaveField } from '../composables/useKeys'
import KeyPad from './KeyPad.vue'
import StationTag from './StationTag.vue'

const emit = defineEmits<{ reopen: [] }>()

/** A hand that rests so long may be through with a number. */
const TYPED_MS = 50

const visit = useVisit()
const catalogue = useCatalogue()
const { method, units } = storeToRefs(useSettings())

const text = ref('')
const problem = ref('')
/** What a number can mean, where it can mean two things; what stands behind it in its row waits. */
const either = ref<{ entries: Entry[]; rest: string[] } | null>(null)
const field = useTemplateRef<HTMLInputElement>('field')
const chips = useTemplateRef<HTMLElement>('chips')
const closed = useTemplateRef<HTMLElement>('closed')

const asked = computed(() =>
  catalogue.station(visit.spot.station)?.quantities.find((q) => q.quantity === visit.spot.quantity),
)
const accepted = computed(() => {
  const shown = asked.value?.display_unit[units.value]
  return shown ? [shown, ...asked.value!.units.filter((unit) => unit !== shown)] : []
})
/** The unit a bare number is in: the keypad goes through them. */
const padUnit = ref('')
const bare = computed(() => (padUnit.value && accepted.value.includes(padUnit.value) ? padUnit.value : (accepted.value[0] ?? '')))
const label = computed(() => catalogue.titleOf(visit.spot.station, visit.spot.quantity))
const fixed = computed(() => visit.instrumentAt(visit.spot))
const methods = computed(() =>
  Object.entries(catalogue.catalogue?.words.method ?? {})
    .filter(([value]) => value !== 'gauge' && value !== 'meter')
    .map(([value, word]) => ({ value, text: word })),
)

const touch = useMedia('(pointer: coarse)')
const away = ref(false)
const focused = ref(false)
const pad = computed(() => touch.value && focused.value && !away.value)

function enter() {
  problem.value = ''
  either.value = null
  if (text.value.trim()) takeAll(numbersOf(text.value))
  else visit.skip()
  field.value?.focus()
}

const read = (number: string) =>
  readNumber(number, [bare.value, ...accepted.value], catalogue.catalogue?.suffixes ?? {}, asked.value?.possible)

watchDebounced(
  text,
  () => {
    const [number, ...more] = numbersOf(text.value)
    const found = number === undefined || more.length ? null : read(number)
    if (found && 'value' in found) visit.foresee(visit.spot, found.value, found.unit)
  },
  { debounce: TYPED_MS },
)

/** One number after the other, each at the place the one before led to. What can't be taken stays in the field. */
function takeAll(numbers: string[]) {
  for (const [n, number] of numbers.entries()) {
    const rest = numbers.slice(n + 1)
    const found = read(number)
    if ('value' in found) {
      takeOne(found)
      continue
    }
    problem.value = found.problem
    if ('either' in found) either.value = { entries: found.either, rest }
    text.value = numbers.slice(n).join(' ')
    return
  }
  text.value = ''
}

const takeOne = ({ value, unit }: Entry) => visit.take(visit.spot, value, unit)

function mean(entry: Entry) {
  const rest = either.value?.rest ?? []
  either.value = null
  problem.value = ''
  if (takeOne(entry)) takeAll(rest)
  field.value?.focus()
}

function takeSame() {
  if (visit.isReader) return
  if (visit.closedAt) return emit('reopen')
  if (visit.same && takeOne(visit.same)) text.value = ''
  field.value?.focus()
}

function arrow(event: KeyboardEvent, by: 1 | -1) {
  const sideways = event.key === 'ArrowLeft' || event.key === 'ArrowRight'
  if (sideways && text.value) return
  event.preventDefault()
  visit.step(by)
}

function nextUnit() {
  const at = accepted.value.indexOf(bare.value)
  padUnit.value = accepted.value[(at + 1) % accepted.value.length] ?? ''
}

/** Put the cursor in the field, or where it was closed. */
function focus() {
  away.value = false
  ;(field.value ?? closed.value?.querySelector('button'))?.focus()
}
defineExpose({ focus, takeSame })

watch(
  () => visit.spot,
  async (spot) => {
    problem.value = ''
    either.value = null
    await nextTick()
    const chip = chips.value?.querySelector<HTMLElement>(`[data-station="${spot.station}"][data-quantity="${spot.quantity}"]`)
    if (chip && chips.value) chips.value.scrollLeft = chip.offsetLeft - chips.value.clientWidth / 3
  },
)
</script>

<template>
  <section class="strip panel" aria-label="Readings">
    <div v-if="visit.shut" ref="closed" class="entry">
      <p class="shut"><strong>{{ label }}</strong> <span class="quiet">{{ visit.shut }}</span></p>
      <BButton v-if="!visit.isReader" @click="emit('reopen')">add to it …</BButton>
    </div>
    <form v-else class="entry" @submit.prevent="enter">
      <label for="reading" aria-live="polite">{{ label }}</label>
      <div class="line">
        <input
          id="reading" ref="field" v-model="text" class="form-control figure" :inputmode="touch && !away ? 'none' : 'decimal'"
          autocomplete="off" enterkeyhint="next" data-passes-letters :placeholder="catalogue.symbol(bare)" :aria-invalid="!!problem"
          :aria-describedby="problem ? 'reading-problem' : undefined"
          @keydown.left="arrow($event, -1)" @keydown.right="arrow($event, 1)"
          @keydown.up="arrow($event, -1)" @keydown.down="arrow($event, 1)"
          @keydown.page-up.prevent="visit.stepTray(-1)" @keydown.page-down.prevent="visit.stepTray(1)"
          @keydown.esc="text = problem = ''; either = null; leaveField()"
          @focus="focused = true" @blur="focused = false" @click="away = false"
        />
        <button type="submit" class="btn btn-primary" aria-label="Take this reading">↵</button>
        <span v-if="fixed" class="fixed quiet">{{ catalogue.word('method', fixed) }}</span>
        <BFormSelect v-else v-model="method" :options="methods" aria-label="Instrument" />
      </div>
      <p v-if="problem" id="reading-problem" class="problem fail" role="alert">{{ problem }}</p>
      <div v-if="either" class="either" role="group" aria-label="Which is meant">
        <BButton v-for="one in either.entries" :key="one.value" @click="mean(one)">{{ one.value }} {{ catalogue.symbol(one.unit) }}</BButton>
      </div>
      <p v-if="visit.said" class="problem quiet" aria-live="polite">{{ visit.said }}</p>
    </form>
    <div class="places">
      <div class="head">
        <div class="trays" role="group" aria-label="Trays">
          <BButton
            v-for="name in visit.traysHere" :key="name" :aria-pressed="visit.tray === name"
            @click="visit.chooseTray(name); focus()"
          >{{ name }}</BButton>
        </div>
        <BButton v-if="visit.same && !visit.shut" :aria-label="`as in the run before: ${figure(visit.same.value)} ${catalogue.symbol(visit.same.unit)}`" @click="takeSame">= {{ figure(visit.same.value) }}</BButton>
        <BButton v-if="!visit.shut" @click="visit.undo(); focus()">undo</BButton>
        <BButton v-if="visit.undone.length && !visit.shut" @click="visit.redo(); focus()">redo</BButton>
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
    <KeyPad
      v-if="pad" :unit="bare" :units="accepted" :symbol="catalogue.symbol" @type="(key) => (text += key)" @erase="text = text.slice(0, -1)"
      @unit="nextUnit" @enter="enter" @skip="text = ''; visit.skip()" @hide="away = true"
    />
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
.shut {
  margin: 0 0 0.3rem;
}
.fixed {
  align-self: center;
}
.problem {
  margin: 0.2rem 0 0;
  font-size: 0.9rem;
}
.either {
  display: flex;
  gap: 0.4rem;
  margin-top: 0.3rem;
}
.places {
  min-width: 0;
}
.head {
  display: flex;
  gap: 0.25rem;
  align-items: center;
}
.head > .btn {
  flex: none;
  padding: 0 0.6rem;
  border-color: var(--hair);
}
.trays {
  flex: 1;
  min-width: 0;
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
  }
}
</style>
