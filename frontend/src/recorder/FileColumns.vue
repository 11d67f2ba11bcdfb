<script setup lang="ts">
// The columns of a file: how each is headed, what stands in it, and what that is.
import { computed } from 'vue'
import type { FileChoice, FileColumn } from '../api/types'
import { useCatalogue } from '../stores/catalogue'

export interface Said {
  known: boolean
  place: { station: string; quantity: string; unit: string } | null
}

const props = defineProps<{ columns: FileColumn[]; said: Said[]; choices: FileChoice[]; shut: string }>()
const emit = defineEmits<{ change: [column: number, said: Said] }>()
const catalogue = useCatalogue()

const key = (one: { station: string; quantity: string }) => `${one.station} ${one.quantity}`
const byKey = computed(() => new Map(props.choices.map((one) => [key(one), one])))
const choiceOf = (at: number) => {
  const { known = false, place = null } = props.said[at] ?? {}
  return place ? key(place) : known ? 'leave out' : ''
}
const unitsOf = (at: number) => byKey.value.get(choiceOf(at))?.units ?? []

function choose(at: number, to: string) {
  const choice = byKey.value.get(to)
  if (!choice) return emit('change', at, { known: to === 'leave out', place: null })
  const { station, quantity, units } = choice
  // A unit is never guessed: a wrong one is a wrong number that looks right.
  const unit = units.length === 1 ? units[0]! : ''
  emit('change', at, { known: unit !== '', place: { station, quantity, unit } })
}
const setUnit = (at: number, unit: string) => emit('change', at, { known: unit !== '', place: { ...props.said[at]!.place!, unit } })
const WHENCE = { heading: 'says so itself', remembered: 'as the last time', said: '' } as const
const range = ({ lowest, highest }: FileColumn) => (lowest === null || highest === null ? 'no numbers' : lowest === highest ? `all ${+lowest.toPrecision(6)}` : `${+lowest.toPrecision(6)} to ${+highest.toPrecision(6)}`)
const name = (column: FileColumn, at: number) => column.heading || `column ${at + 2}, no heading`
</script>

<template>
  <ul class="columns" aria-label="Columns">
    <li v-for="(column, at) in columns" :key="at" :class="{ open: choiceOf(at) === '' || (said[at]?.place && !said[at]?.place?.unit) }">
      <p class="head"><strong>{{ name(column, at) }}</strong> <span v-if="column.known && WHENCE[column.known]" class="quiet">{{ WHENCE[column.known] }}</span></p>
      <p><span class="figure">{{ range(column) }}</span> <span class="quiet">{{ column.samples.toLocaleString('en-US') }} samples{{ column.samples ? '' : `, such as ${column.examples.join(', ')}` }}</span></p>
      <div class="holds">
        <select class="form-select" :value="choiceOf(at)" :disabled="shut !== ''" :aria-label="`${name(column, at)} holds`" @change="choose(at, ($event.target as HTMLSelectElement).value)">
          <option value="">choose …</option>
          <option value="leave out">leave it out</option>
          <option v-for="one in choices" :key="key(one)" :value="key(one)">{{ one.title }}, {{ catalogue.word('quantity', one.quantity) }}</option>
        </select>
        <select v-if="unitsOf(at).length > 1" class="form-select unit" :value="said[at]?.place?.unit ?? ''" :disabled="shut !== ''" :aria-label="`unit of ${name(column, at)}`" @change="setUnit(at, ($event.target as HTMLSelectElement).value)">
          <option value="">unit …</option>
          <option v-for="one in unitsOf(at)" :key="one" :value="one">{{ catalogue.symbol(one) }}</option>
        </select>
      </div>
    </li>
  </ul>
</template>

<style scoped>
.columns {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) minmax(0, 2.2fr);
  gap: 0 0.8rem;
  align-items: center;
  padding: 0.25rem 0 0.25rem 0.5rem;
  border-bottom: 1px solid var(--hair);
  border-left: 3px solid transparent;
}
li.open {
  border-left-color: var(--ink);
}
p {
  margin: 0;
}
.head {
  overflow-wrap: anywhere;
}
.head .quiet {
  display: block;
}
.holds {
  display: flex;
  gap: 0.4rem;
}
.holds .form-select {
  min-width: 0;
  flex: 1;
}
.holds .unit {
  flex: none;
  width: 7rem;
}
@media (max-width: 48rem) {
  li {
    grid-template-columns: minmax(0, 1fr);
    gap: 0.2rem;
  }
  .holds {
    flex-wrap: wrap;
  }
  .holds .form-select {
    flex: 1 0 100%;
  }
}
</style>
