<script setup lang="ts">
// Saturation of one refrigerant: both lines, the value under the finger, and a sheet that prints.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { scaleLinear } from 'd3-scale'
import { line } from 'd3-shape'
import { computed, ref, useTemplateRef, watch } from 'vue'
import type { CalculatorView, SaturationTable } from '../api/types'
import { useSheet } from '../composables/useSheet'
import { useCatalogue } from '../stores/catalogue'
import { useHandbook } from '../stores/handbook'
import { useSettings } from '../stores/settings'
import CalculatorPage from './CalculatorPage.vue'

const props = defineProps<{ refrigerant: string; calculators: CalculatorView[] }>()
const book = useHandbook()
const settings = useSettings()
const catalogue = useCatalogue()

const table = ref<SaturationTable | null>(null)
const at = ref(80)
watch(
  () => [props.refrigerant, settings.units],
  async () => {
    const found = await book.saturation(props.refrigerant)
    table.value = found
    at.value = Math.min(Math.max(Math.round(found.rows.length * 0.45), 0), found.rows.length - 1)
  },
  { immediate: true },
)

const WIDTH = 760
const { scale, style } = useSheet(useTemplateRef<SVGSVGElement>('sheet'), WIDTH)
const HEIGHT = 320
const LEFT = 58
const BOTTOM = 288
const rows = computed(() => table.value?.rows ?? [])
const x = computed(() =>
  scaleLinear().domain([rows.value[0]?.temperature ?? 0, rows.value.at(-1)?.temperature ?? 1]).range([LEFT, WIDTH - 10]),
)
const y = computed(() => scaleLinear().domain([0, (rows.value.at(-1)?.bubble ?? 1) * 1.02]).nice().range([BOTTOM, 10]))
const curve = (which: 'bubble' | 'dew') =>
  line<SaturationTable['rows'][number]>((row) => x.value(row.temperature), (row) => y.value(row[which]))(rows.value) ?? ''
const row = computed(() => rows.value[at.value])
const glides = computed(() => (table.value?.glide ?? 0) > 0.3)
const symbols = computed(() => ({
  temperature: catalogue.symbol(table.value?.temperature_unit ?? ''),
  pressure: catalogue.symbol(table.value?.pressure_unit ?? ''),
}))

function follow(event: PointerEvent) {
  const box = (event.currentTarget as Element).getBoundingClientRect()
  const temperature = x.value.invert(((event.clientX - box.left) / box.width) * WIDTH)
  const first = rows.value[0]?.temperature ?? 0
  at.value = Math.min(Math.max(Math.round(temperature - first), 0), rows.value.length - 1)
}
const EVERY = computed(() => (settings.units === 'field' ? 2 : 1))
const sheet = computed(() => rows.value.filter((_, index) => index % EVERY.value === 0))
const fixed = computed(() => ({ refrigerant: props.refrigerant, elevation: { value: 0, unit: 'ft' } }))
const both = computed(() => props.calculators.filter((c) => c.code.startsWith('saturation_')))
const print = () => window.print()
// The slider runs under the chart: its thumb, 1.6 rem wide, stands below the cursor.
const under = {
  marginLeft: `calc(${(LEFT / WIDTH) * 100}% - 0.8rem)`,
  width: `calc(${((WIDTH - 10 - LEFT) / WIDTH) * 100}% + 1.6rem)`,
}
</script>

<template>
  <article v-if="table && row" class="page">
    <header>
      <h2>{{ table.refrigerant }}</h2>
      <p>
        safety group {{ table.safety_group }} · glide {{ table.glide }} {{ table.glide_unit }}
        <BButton class="print" @click="print">Print the sheet</BButton>
      </p>
    </header>
    <div class="screen">
      <p class="reading">
        <span class="figure">{{ row.temperature }} {{ symbols.temperature }}</span>
        <span>{{ glides ? 'bubble' : 'saturation' }} <b class="figure">{{ row.bubble }} {{ symbols.pressure }}</b></span>
        <span v-if="glides">dew <b class="figure">{{ row.dew }} {{ symbols.pressure }}</b></span>
      </p>
      <div class="chart">
        <svg ref="sheet" :style="style" :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="`Saturation pressure of ${table.refrigerant} over temperature`" @pointermove="follow" @pointerdown="follow">
          <g v-for="tick in y.ticks(6)" :key="tick">
            <path class="grid" :d="`M${LEFT} ${y(tick)}H${WIDTH - 10}`" />
            <text :x="LEFT - 6" :y="y(tick) + 5" text-anchor="end">{{ tick }}</text>
          </g>
          <text v-for="tick in x.ticks(scale > 1.6 ? 4 : 8)" :key="`x${tick}`" :x="x(tick)" :y="BOTTOM + 22" text-anchor="middle">{{ tick }}</text>
          <path class="curve" :d="curve('bubble')" />
          <path v-if="glides" class="curve dew" :d="curve('dew')" />
          <path class="cursor" :d="`M${x(row.temperature)} 10V${BOTTOM}`" />
          <circle :cx="x(row.temperature)" :cy="y(row.bubble)" r="6" />
          <circle v-if="glides" :cx="x(row.temperature)" :cy="y(row.dew)" r="6" />
        </svg>
        <input v-model.number="at" class="form-range" :style="under" type="range" min="0" :max="rows.length - 1" aria-label="Temperature" :aria-valuetext="`${row.temperature} ${symbols.temperature}`" />
      </div>
      <p class="quiet">{{ glides ? 'Plain line: bubble, for liquid and subcooling. Broken line: dew, for vapor and superheat. ' : '' }}Gauge pressure at sea level.</p>
      <div class="both"><CalculatorPage v-for="c in both" :key="c.code" :calculator="c" :fixed="fixed" /></div>
    </div>
    <ul class="sheet" aria-label="Pressure–temperature sheet">
      <li class="head" aria-hidden="true"><span>{{ symbols.temperature }}</span><span v-if="glides">bubble</span><span>{{ glides ? 'dew' : symbols.pressure }}</span></li>
      <li v-for="one in sheet" :key="one.temperature" class="figure">
        <span>{{ one.temperature }}</span><span v-if="glides">{{ one.bubble }}</span><span>{{ one.dew }}</span>
      </li>
    </ul>
  </article>
</template>

<style scoped>
.page {
  display: grid;
  gap: 0.6rem;
  align-content: start;
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 1rem;
  align-items: baseline;
}
h2 {
  font-size: 1.25rem;
}
header p {
  margin: 0;
  flex: 1;
}
.print {
  margin-left: 1rem;
}
.reading {
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 1.5rem;
  font-size: 1.4rem;
  margin: 0;
}
.chart {
  max-width: 54rem;
}
svg {
  width: 100%;
  touch-action: pan-y;
  cursor: crosshair;
}
text {
  fill: var(--quiet);
  font-size: max(14px, 11.5 * var(--px, 1px));
}
.grid {
  stroke: var(--hair);
}
.curve {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2.5;
}
.dew {
  stroke-dasharray: 9 5;
}
.cursor {
  stroke: var(--edge);
}
circle {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 2.5;
}
.form-range {
  max-width: 54rem;
}
.both {
  display: grid;
  gap: 1.5rem;
}
.sheet {
  list-style: none;
  margin: 0;
  padding: 0;
  columns: 4 9rem;
  column-gap: 1.4rem;
}
.sheet li {
  display: grid;
  grid-auto-flow: column;
  grid-auto-columns: 1fr;
  text-align: right;
  border-bottom: 1px solid var(--hair);
  font-size: 0.9rem;
  break-inside: avoid;
}
.head {
  font-weight: 700;
}
@media print {
  .screen,
  .print {
    display: none;
  }
  .sheet {
    columns: 4;
  }
  .sheet li {
    font-size: 9.5pt;
  }
}
</style>
