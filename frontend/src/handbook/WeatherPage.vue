<script setup lang="ts">
// What a unit of the book should do in any weather, sound and with a fault; it prints.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { BFormSelect } from 'bootstrap-vue-next/components/BFormSelect'
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { ChartAsked, WeatherChart } from '../api/types'
import { meanings } from '../numbers/readNumber'
import { useAttempt } from '../composables/useAttempt'
import { useBook } from '../stores/book'
import { useCatalogue } from '../stores/catalogue'
import { useSettings } from '../stores/settings'
import WeatherPanel from './WeatherPanel.vue'

const props = defineProps<{ unit: string; titleOf: (code: string) => string }>()
const book = useBook()
const settings = useSettings()
const catalogue = useCatalogue()
const route = useRoute()
const router = useRouter()
const { trouble, attempt } = useAttempt()

const mode = ref<'cooling' | 'heating'>(route.query.mode === 'cooling' ? 'cooling' : 'heating')
const fault = ref(String(route.query.fault ?? ''))
const severity = ref<number | null>(route.query.severity ? Number(route.query.severity) : null)
const indoor = ref('')
const humidity = ref('')
const speed = ref(100)
const at = ref(0)
const chart = ref<WeatherChart | null>(null)
const working = ref(false)

onMounted(() => attempt(book.load))
const entry = computed(() => book.units?.find((one) => String(one.id) === props.unit) ?? book.units?.[0])
const units = computed(() => (book.units ?? []).map((one) => ({ value: String(one.id), text: `${one.site.name}: ${one.unit.label}` })))
const open = (id: unknown) => router.push({ path: `/handbook/weather/${String(id)}`, query: route.query })

const number = (text: string) => {
  const [value, other] = meanings(text.trim())
  return value !== undefined && other === undefined ? value : null
}
const asked = computed<ChartAsked | null>(() => {
  if (!entry.value) return null
  const inside = number(indoor.value)
  return {
    unit: entry.value.unit as ChartAsked['unit'],
    mode: mode.value,
    indoor: inside === null ? null : { value: inside, unit: settings.units === 'metric' ? 'degC' : 'degF' },
    indoor_humidity: number(humidity.value),
    speed: speed.value,
    fault: (fault.value || null) as NonNullable<ChartAsked['fault']> | null,
    severity: fault.value ? severity.value : null,
  }
})

// A slider asks faster than the answers come: the last question wins, and one is under way at a time.
let next: ChartAsked | null = null
async function work() {
  if (working.value) return
  working.value = true
  while (next) {
    const now = next
    next = null
    await attempt(async () => {
      const found = await book.chart(now)
      if (next) return
      if (found.panels[0]?.points.length !== chart.value?.panels[0]?.points.length) {
        at.value = Math.floor((found.panels[0]?.points.length ?? 0) / 2)
      }
      chart.value = found
      if (found.severity !== null) severity.value = found.severity
    })
  }
  working.value = false
}
watch(
  [asked, () => settings.units],
  ([now]) => {
    next = now
    void work()
  },
  { immediate: true },
)
watch([mode, fault, severity], () => {
  const query = { mode: mode.value, ...(fault.value ? { fault: fault.value, severity: severity.value ?? undefined } : {}) }
  void router.replace({ path: route.path, query })
})
const turn = (to: 'cooling' | 'heating') => {
  mode.value = to
  fault.value = ''
}
const pick = (code: unknown) => {
  severity.value = null
  fault.value = String(code)
}

const faults = computed(() => [
  { value: '', text: 'sound, without a fault' },
  ...(chart.value?.faults ?? []).map((one) => ({ value: one.fault as string, text: props.titleOf(one.fault) })),
])
const kind = computed(() => chart.value?.faults.find((one) => one.fault === fault.value))
const symbol = (unit: string) => catalogue.symbol(unit) || unit
const said = computed(() =>
  kind.value && severity.value !== null ? `${severity.value} ${kind.value.unit === 'percent' ? '%' : kind.value.unit} ${kind.value.words}` : '',
)
const faulted = computed(() => chart.value?.fault !== null && chart.value?.fault === fault.value)
const points = computed(() => chart.value?.panels[0]?.points ?? [])
const outdoor = computed(() => `${String(points.value[at.value]?.outdoor ?? '').replace('-', '−')} ${symbol(chart.value?.outdoor_unit ?? '')}`)
const gaps = computed(() => faulted.value && points.value.some((point) => point.with_fault === null))
const print = () => window.print()
</script>

<template>
  <article class="page">
    <header>
      <h2>What this unit should do</h2>
      <BButton class="print" @click="print">Print the chart</BButton>
    </header>
    <p v-if="book.units && !book.units.length" class="quiet">There is no unit in the book yet: enter one under Units.</p>
    <form v-else class="asked" @submit.prevent>
      <div class="wide">
        <label for="chart-unit">unit</label>
        <BFormSelect id="chart-unit" :model-value="String(entry?.id ?? '')" :options="units" @update:model-value="open" />
      </div>
      <div class="modes" role="group" aria-label="Mode">
        <BButton v-for="m in ['heating', 'cooling'] as const" :key="m" :aria-pressed="mode === m" @click="turn(m)">{{ m }}</BButton>
      </div>
      <div class="wide">
        <label for="chart-fault">fault</label>
        <BFormSelect id="chart-fault" :model-value="fault" :options="faults" @update:model-value="pick" />
      </div>
      <div v-if="kind && severity !== null" class="severity">
        <label for="chart-severity">severity: <b>{{ said }}</b></label>
        <input id="chart-severity" v-model.number="severity" class="form-range" type="range" min="0" :max="kind.most" :step="kind.most > 50 ? 5 : 1" />
      </div>
      <div v-if="entry" class="small">
        <label for="chart-indoor">{{ entry.unit.load === 'water' ? 'load water in' : 'return air' }}, {{ settings.units === 'metric' ? '°C' : '°F' }}</label>
        <BFormInput id="chart-indoor" v-model="indoor" inputmode="decimal" placeholder="rating" />
      </div>
      <div v-if="mode === 'cooling' && entry?.unit.load !== 'water'" class="small">
        <label for="chart-humidity">humidity, %</label>
        <BFormInput id="chart-humidity" v-model="humidity" inputmode="decimal" placeholder="rating" />
      </div>
      <div v-if="entry && entry.unit.compressor.kind !== 'single'" class="severity">
        <label for="chart-speed">compressor at <b class="figure">{{ speed }} %</b></label>
        <input id="chart-speed" v-model.number="speed" class="form-range" type="range" min="30" max="120" step="5" />
      </div>
    </form>
    <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
    <p v-if="chart && !chart.sized" class="alert-line" role="alert">This machine can't be sized. {{ chart.field }}: {{ chart.why }}</p>
    <template v-else-if="chart">
      <div class="conditions">
        <div class="over">
          <label for="chart-outdoor">{{ chart.over }} <b class="figure">{{ outdoor }}</b></label>
          <input id="chart-outdoor" v-model.number="at" class="form-range" type="range" min="0" :max="points.length - 1" :aria-valuetext="outdoor" />
        </div>
        <p>
          <b class="paper">{{ entry?.site.name }}: {{ chart.label }}, {{ chart.mode }}. </b>{{ chart.given }}.
          <span role="status">{{ working ? 'Working it out…' : '' }}</span>
        </p>
      </div>
      <div class="panels">
        <WeatherPanel
          v-for="panel in chart.panels" :key="panel.name" :panel="panel" :at="at" :over="chart.over" :faulted="faulted"
          @point="at = $event"
        />
      </div>
      <p class="quiet">
        Line: this unit, sound. Band: what a sound one of its kind may show (19 in 20 lie inside).
        <template v-if="faulted"><b class="key">■ Broken line</b>: with {{ said }}. </template>
        <template v-if="gaps">Where it is broken off, the model finds no steady state. </template>
        Worked out by the machine model at a steady state, dry coil outdoors; a manufacturer's chart wins.
      </p>
    </template>
    <p v-else-if="working" class="quiet" role="status">Working it out…</p>
  </article>
</template>

<style scoped>
.page {
  display: grid;
  gap: 0.5rem;
  align-content: start;
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 1rem;
  align-items: baseline;
}
h2 {
  flex: 1;
  margin: 0;
  font-size: 1.25rem;
}
.asked {
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem 0.8rem;
  align-items: end;
}
.asked label,
.over label {
  display: block;
  color: var(--quiet);
}
.asked b,
.over b {
  color: var(--ink);
}
.wide {
  width: 17rem;
}
.small {
  width: 8.5rem;
}
.severity {
  width: 21rem;
}
.modes {
  display: flex;
  gap: 0.3rem;
}
.modes .btn[aria-pressed='true'] {
  border: 2px solid var(--ink);
  font-weight: 600;
}
.conditions {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 0.2rem 1.2rem;
  align-items: end;
}
.conditions p {
  margin: 0;
}
.paper {
  display: none;
}
.over label {
  font-size: 1.15rem;
}
.panels {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(18rem, 1fr));
  gap: 0.6rem 1.2rem;
}
.key {
  color: var(--fail);
}
@media (max-width: 40rem) {
  .wide,
  .severity {
    width: 100%;
  }
  .conditions {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media print {
  .asked,
  .print,
  .over input {
    display: none;
  }
  .paper {
    display: inline;
  }
  .panels {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
