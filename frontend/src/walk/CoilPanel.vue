<script setup lang="ts">
// One coil as an exchanger: what goes in and out on the air or water side, what the refrigerant does, the heat moved.
import { computed } from 'vue'
import type { Check, QuantityName, RunExamination } from '../api/types'
import { spotKey, type Shown, type Spot } from '../stores/visit'
import CheckLine from './CheckLine.vue'
import { headOf } from './heads'
import FigureLine from './FigureLine.vue'
import StationTag from './StationTag.vue'

const props = defineProps<{ side: 'indoor' | 'outdoor'; medium: 'air' | 'water'; run: RunExamination; shown: Map<string, Shown>; selected: Spot }>()
defineEmits<{ press: [spot: Spot] }>()

const coil = computed(() => `${props.side}_coil`)
const condenses = computed(() => props.run.coils?.condenser === coil.value)
const WATER = { indoor: 'load_water', outdoor: 'source_water' } as const
/** Of a unit with several heads the place is that of the head the run is examined along, as its figures are. */
const spot = (station: string, quantity: QuantityName = 'temperature'): Spot => ({ station: here(station), quantity })
const here = (station: string) => {
  const head = headOf(props.run.path.find((stop) => headOf(stop.station))?.station ?? '')
  return head && props.run.stations.includes(`${station}:${head}`) ? `${station}:${head}` : station
}
const spots = computed<Spot[]>(() => {
  if (props.medium === 'water') {
    const name = WATER[props.side]
    return [
      spot(`${name}_in`), spot(`${name}_out`), spot(`${name}_in`, 'pressure'), spot(`${name}_out`, 'pressure'),
      spot(name, 'flow'), spot(name, 'fluid_factor'),
    ]
  }
  return props.side === 'indoor'
    ? [spot('return_air'), spot('supply_air'), spot('return_air', 'wet_bulb'), spot('supply_air', 'wet_bulb'), spot('indoor_airflow', 'flow')]
    : [spot('outdoor_air_in'), spot('outdoor_air_out'), spot('outdoor_air_in', 'relative_humidity')]
})
const NAMES = computed(() =>
  condenses.value
    ? ([['condensing_temperature', 'condensing'], ['subcooling', 'subcooling'], ['condenser_split', 'split']] as const)
    : ([['evaporating_temperature', 'evaporating'], ['superheat', 'superheat'], ['evaporator_split', 'TD'], ['frost_margin', 'over the frost point']] as const),
)
const figures = computed(() =>
  NAMES.value.flatMap(([name, title]) => {
    const found = props.run.indicators[name]
    return found && (name !== 'frost_margin' || props.side === 'outdoor') ? [{ title, found }] : []
  }),
)
const heats = computed(() => {
  const name = props.medium === 'water' ? 'water_capacity' : 'air_capacity'
  const carries = props.medium === 'water' ? props.side === 'outdoor' || !props.run.stations.includes('source_water') : props.side === 'indoor'
  const outside = carries ? props.run.indicators[name] : undefined
  const inside = props.run.indicators[condenses.value ? 'condenser_heat_refrigerant' : 'evaporator_heat_refrigerant']
  return [
    ...(outside ? [{ title: `by ${props.medium}`, found: outside }] : []),
    ...(inside ? [{ title: 'by refrigerant', found: inside }] : []),
  ]
})
const CODES = {
  condenses: ['exchange.subcooling', 'exchange.condenser_split', 'exchange.noncondensables'],
  evaporates: ['metering.superheat_control', 'exchange.evaporator_split', 'exchange.frost_margin'],
  indoor: ['exchange.air_difference', 'exchange.capacity'],
  outdoor: ['water.extraction', 'water.rejection'],
} as const
const checks = computed<Check[]>(() => {
  const wanted: readonly string[] = [...CODES[condenses.value ? 'condenses' : 'evaporates'], ...CODES[props.side]]
  return props.run.checks.filter((check) => wanted.includes(check.code))
})
</script>

<template>
  <section class="coil">
    <h2>{{ side }} coil <span class="quiet">{{ condenses ? 'condenses, rejects heat' : 'evaporates, takes up heat' }}</span></h2>
    <div class="sides">
      <div class="tags" role="group" :aria-label="`${side} ${medium}`">
        <StationTag
          v-for="s in spots" :key="spotKey(s)" :code="s.station" :quantity="s.quantity" :shown="shown.get(spotKey(s))"
          :selected="spotKey(selected) === spotKey(s)" @press="$emit('press', s)"
        />
      </div>
      <svg viewBox="0 0 60 150" aria-hidden="true">
        <rect x="6" y="6" width="48" height="138" rx="3" />
        <path d="M30 0V18H44V34H16V50H44V66H16V82H44V98H16V114H44V130H30V150" />
        <path class="way" :d="condenses ? 'M0 75H-14M-14 75l7 -6M-14 75l7 6' : 'M-14 75H0M0 75l-7 -6M0 75l-7 6'" transform="translate(2 0)" />
      </svg>
      <div>
        <FigureLine v-for="heat in heats" :key="heat.title" :title="heat.title" :found="heat.found" large />
        <p v-if="!figures.length" class="quiet">Not enough readings yet: a bend of this coil, or a gauge on its side.</p>
        <FigureLine v-for="one in figures" :key="one.title" :title="one.title" :found="one.found" />
      </div>
    </div>
    <CheckLine v-for="check in checks" :key="check.code" :check="check" />
  </section>
</template>

<style scoped>
.coil {
  min-width: 0;
  border: 1px solid var(--hair);
  padding: 0.5rem 0.6rem;
}
.sides {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 2.8rem minmax(0, 1.1fr);
  gap: 0.7rem;
  align-items: center;
  margin: 0.4rem 0;
}
.tags {
  display: grid;
  gap: 0.3rem;
}
svg {
  overflow: visible;
}
rect {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 2;
}
path {
  fill: none;
  stroke: var(--edge);
  stroke-width: 2;
}
.way {
  stroke: var(--ink);
  stroke-width: 3;
}
h2 .quiet {
  font-weight: 400;
}
@media (max-width: 40rem) {
  .sides {
    grid-template-columns: minmax(0, 1fr) 1.7rem minmax(0, 1fr);
    gap: 0.5rem;
  }
}
</style>
