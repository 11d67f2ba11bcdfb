<script setup lang="ts">
// One calculator: inputs that keep, results as they change, the formula with the numbers in it.
import { BFormSelect } from 'bootstrap-vue-next/components/BFormSelect'
import { ref, watch } from 'vue'
import { Refused } from '../api/client'
import type { AnswerView, CalculatorInput, CalculatorView, Given, UnitSystem } from '../api/types'
import { useCatalogue } from '../stores/catalogue'
import { useHandbook } from '../stores/handbook'
import { useSettings } from '../stores/settings'
import { keep, kept } from '../stores/shelf'
import { inOneMessage, readNumber } from '../numbers/readNumber'
import { toSlider } from './slider'

const props = defineProps<{ calculator: CalculatorView; visit?: { id: number; run: string } | null; fixed?: Given }>()
const book = useHandbook()
const settings = useSettings()
const catalogue = useCatalogue()
const WAIT_MS = 80

type Field = { text: string; unit: string }
const fields = ref<Record<string, Field>>({})
const answer = ref<AnswerView | null>(null)
const trouble = ref<{ field: string; message: string } | null>(null)
const fromVisit = ref(false)

const shelf = () => `icepick.calculator.${props.calculator.code}`
const asField = (given: Given[string]): Field =>
  typeof given === 'string' ? { text: given, unit: '' } : { text: String(given.value), unit: given.unit }

const initial = (input: CalculatorInput, units: UnitSystem): Field => {
  const { default: value, unit } = input.shown[units]!
  return { text: String(value), unit }
}
const isUntouched = (input: CalculatorInput, units: UnitSystem) => {
  const [now, then] = [fields.value[input.name], initial(input, units)]
  return now?.text === then.text && now.unit === then.unit
}
// What nobody typed changes over with the units.
watch(() => settings.units, (now, before) => {
  for (const input of props.calculator.inputs) if (isUntouched(input, before)) fields.value[input.name] = initial(input, now)
})

async function open() {
  const before = JSON.parse(kept(shelf()) ?? '{}') as Record<string, Field>
  fields.value = Object.fromEntries(
    props.calculator.inputs.map((input) => [
      input.name, before[input.name] ?? initial(input, settings.units),
    ]),
  )
  put(props.fixed ?? {})
  fromVisit.value = false
  if (props.visit) {
    put(await book.filling(props.visit.id, props.visit.run, props.calculator.code))
    fromVisit.value = true
  }
  await calculate()
}
function put(given: Given) {
  for (const [name, value] of Object.entries(given)) if (name in fields.value) fields.value[name] = asField(value)
}

function given(): Given | null {
  const filled: Given = {}
  for (const input of props.calculator.inputs) {
    const field = fields.value[input.name]
    if (!field) return null
    if (!input.units.length) filled[input.name] = field.text
    else {
      // As in Walk: `118psi` names its unit by itself.
      const found = readNumber(field.text, [field.unit, ...input.units], catalogue.catalogue?.suffixes ?? {})
      if ('problem' in found) {
        trouble.value = { field: input.name, message: inOneMessage(found) }
        return null
      }
      filled[input.name] = { value: found.value, unit: found.unit }
    }
  }
  return filled
}

let timer = 0
let asked = 0
async function calculate() {
  const turn = ++asked
  trouble.value = null
  const question = given()
  if (!question) return
  try {
    const found = await book.calculate(props.calculator.code, question)
    if (turn === asked) answer.value = found
  } catch (error) {
    if (turn !== asked) return
    answer.value = null
    const wrong = error instanceof Refused ? error.details.errors?.[0] : undefined
    trouble.value = { field: wrong?.pointer.split('/')[2] ?? '', message: wrong?.message ?? (error as Error).message }
  }
}
watch(
  [fields, () => settings.units],
  () => {
    const typed = props.calculator.inputs.filter((input) => !isUntouched(input, settings.units)).map(({ name }) => [name, fields.value[name]])
    if (!fromVisit.value && !props.fixed) keep(shelf(), JSON.stringify(Object.fromEntries(typed)))
    clearTimeout(timer)
    timer = window.setTimeout(calculate, WAIT_MS)
  },
  { deep: true },
)
watch(() => [props.calculator.code, props.visit?.id, props.visit?.run, props.fixed], open, { immediate: true })
const slider = (input: CalculatorInput) => toSlider(input.shown[settings.units]!, fields.value[input.name]?.unit ?? '')
const shown = (input: CalculatorInput) => !(input.name in (props.fixed ?? {}))
</script>

<template>
  <article class="calculator">
    <header>
      <h2>{{ calculator.title }}</h2>
      <p class="formula">{{ calculator.formula }}</p>
      <p v-if="fromVisit" class="quiet">Starts with the readings of the visit.</p>
    </header>
    <form @submit.prevent>
      <template v-for="input in calculator.inputs" :key="input.name">
        <div v-if="fields[input.name] && shown(input)" class="field" :class="{ tall: !input.units.length && !input.choices.length }">
          <label :for="`${calculator.code}-${input.name}`">{{ input.title }}</label>
          <BFormSelect v-if="input.choices.length" :id="`${calculator.code}-${input.name}`" v-model="fields[input.name]!.text" :options="input.choices.map((value) => ({ value, text: value.replace('_', ' ') }))" />
          <textarea v-else-if="!input.units.length" :id="`${calculator.code}-${input.name}`" v-model="fields[input.name]!.text" class="form-control figure" rows="4" :aria-invalid="trouble?.field === input.name" />
          <template v-else>
            <input :id="`${calculator.code}-${input.name}`" v-model="fields[input.name]!.text" class="form-control figure" inputmode="decimal" autocomplete="off" :aria-invalid="trouble?.field === input.name" />
            <BFormSelect v-if="input.units.length > 1" v-model="fields[input.name]!.unit" :options="input.units.map((value) => ({ value, text: catalogue.symbol(value) }))" :aria-label="`${input.title}, unit`" />
            <span v-else class="unit">{{ catalogue.symbol(fields[input.name]!.unit) }}</span>
            <input v-if="slider(input)" v-model="fields[input.name]!.text" class="form-range" type="range" v-bind="slider(input)" :aria-label="`${input.title}, slide`" />
          </template>
        </div>
      </template>
    </form>
    <p v-if="trouble" class="alert-line" role="alert">{{ trouble.message }}</p>
    <dl v-if="answer" class="answer" aria-live="polite">
      <template v-for="result in answer.results" :key="result.title">
        <dt>{{ result.title }}</dt>
        <dd class="figure">{{ result.value }}</dd>
      </template>
    </dl>
    <p v-if="answer?.formula" class="worked">{{ answer.formula }}</p>
    <p class="quiet">Source: {{ calculator.source }}.</p>
  </article>
</template>

<style scoped>
.calculator {
  display: grid;
  gap: 0.8rem;
  max-width: 46rem;
  align-content: start;
}
h2::first-letter {
  text-transform: uppercase;
}
h2 {
  font-size: 1.25rem;
}
header p {
  margin: 0.2rem 0 0;
}
form {
  display: grid;
  gap: 0.5rem;
}
.field {
  display: grid;
  grid-template-columns: 11rem 7.5rem 7.5rem minmax(0, 1fr);
  gap: 0.3rem 0.6rem;
  align-items: center;
}
.tall {
  grid-template-columns: 11rem minmax(0, 1fr);
}
.answer {
  display: grid;
  grid-template-columns: 11rem 1fr;
  gap: 0.1rem 0.6rem;
  margin: 0;
  padding: 0.6rem 0.8rem;
  border: 1px solid var(--edge);
  border-left-width: 6px;
}
dt {
  font-weight: 400;
  align-self: center;
}
dd {
  margin: 0;
  font-size: 1.6rem;
}
.worked,
.calculator > .quiet {
  margin: 0;
}
@media (max-width: 40rem) {
  .field {
    grid-template-columns: minmax(0, 1fr) 7.4rem;
  }
  .field label,
  .form-range {
    grid-column: 1 / -1;
  }
  .tall {
    grid-template-columns: minmax(0, 1fr);
  }
  .answer {
    grid-template-columns: 1fr;
  }
}
</style>
