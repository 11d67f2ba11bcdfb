<script setup lang="ts">
// What the manufacturer's data and the nameplate state; everything here is optional.
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { BFormSelect } from 'bootstrap-vue-next/components/BFormSelect'
import { computed } from 'vue'
import type { Unit } from '../api/types'
import QuantityField from './QuantityField.vue'
import RowsField from './RowsField.vue'

const unit = defineModel<Unit>({ required: true })

type Design = NonNullable<Unit['design']>
type Target = NonNullable<Design['cooling']>
type Defrost = NonNullable<Unit['defrost']>

const DELTA = ['delta_degF', 'delta_degC'] as const
const TEMPERATURE = ['degF', 'degC'] as const
const CAPACITY = ['Btu/h', 'ton', 'kW', 'W'] as const
const NAMEPLATE = [
  { name: 'model', label: 'Model' },
  { name: 'serial', label: 'Serial number' },
] as const
const POWER = ['Btu/h', 'kW', 'W'] as const
const put = (part: Partial<Unit>) => (unit.value = { ...unit.value, ...part })
const design = (part: Partial<Design>) => put({ design: { ...unit.value.design, ...part } })
const target = (mode: 'cooling' | 'heating', part: Partial<Target>) =>
  design({ [mode]: { ...unit.value.design?.[mode], ...part } })
const defrost = (part: Partial<Defrost>) =>
  put({ defrost: { method: 'time_temperature', ...unit.value.defrost, ...part } })

const BULBS = [
  { value: '', text: 'not known' },
  { value: 'common_suction', text: 'common suction' },
  { value: 'coil_outlet', text: 'coil outlet' },
]
const BACKUPS = [
  { value: '', text: 'not known' },
  { value: 'electric', text: 'electric' },
  { value: 'other', text: 'other' },
  { value: 'none', text: 'none' },
]
function putBulb(side: 'indoor_meter' | 'outdoor_meter', place: string) {
  put({ [side]: { ...unit.value[side], bulb_at: place || null } })
}
const meters = computed(() => (['indoor_meter', 'outdoor_meter'] as const).filter((side) => ['txv', 'eev'].includes(unit.value[side].kind)))
const water = computed(() => unit.value.source === 'water' || unit.value.load === 'water')
const flowTable = computed({
  get: () => (unit.value.design?.water_flow_table ?? []).map((row) => [row.drop, row.flow] as [typeof row.drop, typeof row.flow]),
  set: (rows) => design({ water_flow_table: rows.length ? rows.map(([drop, flow]) => ({ drop, flow })) : null }),
})
const sensorTable = computed({
  get: () => (unit.value.design?.sensor_table ?? []).map((row) => [row.temperature, row.resistance] as [typeof row.temperature, typeof row.resistance]),
  set: (rows) =>
    design({ sensor_table: rows.length ? rows.map(([temperature, resistance]) => ({ temperature, resistance })) : null }),
})
</script>

<template>
  <div class="fields">
    <div v-for="field in NAMEPLATE" :key="field.name">
      <label :for="`m-${field.name}`">{{ field.label }}</label>
      <BFormInput :id="`m-${field.name}`" :model-value="unit[field.name] ?? ''" maxlength="200" autocomplete="off" spellcheck="false" @update:model-value="(v) => put({ [field.name]: String(v).trim() || null })" />
    </div>
    <QuantityField id="m-capacity" label="Nominal capacity" :units="CAPACITY" at="/nominal_capacity" :model-value="unit.nominal_capacity" @update:model-value="(v) => put({ nominal_capacity: v })" />
    <QuantityField id="m-current" label="Rated load amps (RLA)" :units="['A']" at="/compressor/rated_current" :model-value="unit.compressor.rated_current" @update:model-value="(v) => put({ compressor: { ...unit.compressor, rated_current: v } })" />
    <QuantityField id="m-sc" label="Subcooling, cooling" :units="DELTA" at="/design/cooling/subcooling" :model-value="unit.design?.cooling?.subcooling" @update:model-value="(v) => target('cooling', { subcooling: v })" />
    <QuantityField id="m-sh" label="Superheat, cooling" :units="DELTA" at="/design/cooling/superheat" :model-value="unit.design?.cooling?.superheat" @update:model-value="(v) => target('cooling', { superheat: v })" />
    <QuantityField id="m-sch" label="Subcooling, heating chart" :units="DELTA" at="/design/heating/subcooling" :model-value="unit.design?.heating?.subcooling" @update:model-value="(v) => target('heating', { subcooling: v })" />
    <QuantityField id="m-shh" label="Superheat, heating" :units="DELTA" at="/design/heating/superheat" :model-value="unit.design?.heating?.superheat" @update:model-value="(v) => target('heating', { superheat: v })" />
    <div v-for="side in meters" :key="side">
      <label :for="`m-bulb-${side}`">{{ side === 'indoor_meter' ? 'Indoor' : 'Outdoor' }} bulb sits at</label>
      <BFormSelect :id="`m-bulb-${side}`" :model-value="unit[side].bulb_at ?? ''" :options="BULBS" @update:model-value="(v) => putBulb(side, String(v))" />
    </div>
    <QuantityField id="m-line" label="Line set length" :units="['ft', 'm']" at="/line_set_length" :model-value="unit.line_set_length" @update:model-value="(v) => put({ line_set_length: v })" />
    <template v-if="unit.load === 'air'">
      <QuantityField id="m-airflow" label="Indoor airflow" :units="['cfm', 'm3/h', 'L/s']" at="/design/indoor_airflow" :model-value="unit.design?.indoor_airflow" @update:model-value="(v) => design({ indoor_airflow: v })" />
      <QuantityField id="m-fan" label="Supply fan power" :units="['W', 'kW', 'Btu/h']" at="/design/supply_fan_power" :model-value="unit.design?.supply_fan_power" @update:model-value="(v) => design({ supply_fan_power: v })" />
      <QuantityField id="m-backup" label="Backup heat" :units="['kW', 'W', 'Btu/h']" at="/design/backup_heat_power" :model-value="unit.design?.backup_heat_power" @update:model-value="(v) => design({ backup_heat_power: v })" />
    </template>
    <template v-if="unit.source === 'air' && unit.defrost && unit.defrost.method !== 'none'">
      <QuantityField id="m-interval" label="Defrost interval" :units="['min', 's']" at="/defrost/interval" :model-value="unit.defrost.interval" @update:model-value="(v) => defrost({ interval: v })" />
      <QuantityField id="m-start" label="Defrost starts below" :units="TEMPERATURE" at="/defrost/start_below" :model-value="unit.defrost.start_below" @update:model-value="(v) => defrost({ start_below: v })" />
      <QuantityField id="m-stop" label="Defrost stops above" :units="TEMPERATURE" at="/defrost/stop_above" :model-value="unit.defrost.stop_above" @update:model-value="(v) => defrost({ stop_above: v })" />
      <QuantityField v-if="unit.defrost.method === 'demand'" id="m-least" label="Minimum time between defrosts" :units="['min', 's']" at="/defrost/least_interval" :model-value="unit.defrost.least_interval" @update:model-value="(v) => defrost({ least_interval: v })" />
      <QuantityField v-if="unit.defrost.method === 'demand'" id="m-demand" label="Demand starts at a difference of" :units="DELTA" at="/defrost/demand_difference" :model-value="unit.defrost.demand_difference" @update:model-value="(v) => defrost({ demand_difference: v })" />
      <div v-if="unit.load === 'air'">
        <label for="m-backup-kind">Backup heat is</label>
        <BFormSelect id="m-backup-kind" :model-value="unit.backup_heat ?? ''" :options="BACKUPS" @update:model-value="(v) => put({ backup_heat: (v || null) as NonNullable<Unit['backup_heat']> | null })" />
      </div>
      <QuantityField id="m-limit" label="Defrost time limit" :units="['min', 's']" at="/defrost/limit" :model-value="unit.defrost.limit" @update:model-value="(v) => defrost({ limit: v })" />
    </template>
    <template v-if="water">
      <QuantityField id="m-extract" label="Heat of extraction" :units="POWER" at="/design/heat_of_extraction" :model-value="unit.design?.heat_of_extraction" @update:model-value="(v) => design({ heat_of_extraction: v })" />
      <QuantityField id="m-reject" label="Heat of rejection" :units="POWER" at="/design/heat_of_rejection" :model-value="unit.design?.heat_of_rejection" @update:model-value="(v) => design({ heat_of_rejection: v })" />
      <RowsField id="m-flow" v-model="flowTable" at="/design/water_flow_table" class="wide" label="Water flow by pressure drop" :first="{ name: 'drop', units: ['psi', 'kPa', 'bar'], difference: true }" :second="{ name: 'flow', units: ['gpm', 'L/min', 'L/s'] }" />
    </template>
    <RowsField v-if="unit.source === 'air'" id="m-sensor" v-model="sensorTable" at="/design/sensor_table" class="wide" label="Sensor resistance table" :first="{ name: 'temperature', units: TEMPERATURE }" :second="{ name: 'resistance', units: ['kohm', 'ohm'] }" />
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0.45rem 0.6rem;
  align-items: end;
}
@media (max-width: 480px) {
  .fields {
    grid-template-columns: 1fr;
  }
}
.wide {
  grid-column: 1 / -1;
}
</style>
