<script setup lang="ts">
// A unit by its parts.
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { BFormSelect } from 'bootstrap-vue-next/components/BFormSelect'
import { computed } from 'vue'
import type { Site, Unit } from '../api/types'
import { useCatalogue } from '../stores/catalogue'
import { FITTED, fittedWord, isFitted } from '../calls/unitDraft'
import CircuitsField from './CircuitsField.vue'
import HeadsField from './HeadsField.vue'
import QuantityField from './QuantityField.vue'

type Elevation = NonNullable<Site['elevation']> | null

const props = defineProps<{ modelValue: Unit; site: string; elevation: Elevation; siteFixed: boolean; sites: string[] }>()
const emit = defineEmits<{ 'update:modelValue': [unit: Unit]; 'update:site': [site: string]; 'update:elevation': [elevation: Elevation] }>()
const catalogue = useCatalogue()

const put = (part: Partial<Unit>) => emit('update:modelValue', { ...props.modelValue, ...part })
const options = (vocabulary: string) =>
  Object.entries(catalogue.catalogue?.words[vocabulary] ?? {}).map(([value, text]) => ({ value, text }))
const MEDIA = [{ value: 'air', text: 'air' }, { value: 'water', text: 'water' }]
const DRIERS = [
  { value: 'unknown', text: 'not known' },
  { value: 'none', text: 'none' },
  { value: 'bi_flow outdoor_unit', text: 'bi-flow, outdoors' },
  { value: 'bi_flow line_set', text: 'bi-flow, line set' },
  { value: 'one_way outdoor_unit', text: 'one-way, outdoors' },
  { value: 'one_way line_set', text: 'one-way, line set' },
]
const CONVENTIONS = [
  { value: 'cooling', text: 'cooling (O)' },
  { value: 'heating', text: 'heating (B)' },
]
const drier = computed(() => {
  const { kind, place } = props.modelValue.drier
  return kind === 'none' || kind === 'unknown' ? kind : `${kind} ${place ?? 'outdoor_unit'}`
})
function putDrier(choice: string) {
  const [kind, place] = choice.split(' ')
  put({ drier: { kind: kind as Unit['drier']['kind'], place: (place as 'line_set' | undefined) ?? null } })
}
function putMeter(side: 'indoor_meter' | 'outdoor_meter', kind: Unit['indoor_meter']['kind']) {
  // A meter that isn't there has nothing to bypass; any other brings its usual way round.
  const bypass = kind === props.modelValue[side].kind ? props.modelValue[side].bypass : catalogue.usualBypass(kind)
  put({ [side]: { ...props.modelValue[side], kind, bypass } })
}
</script>

<template>
  <form class="fields" @submit.prevent>
    <div>
      <label for="b-site">Site</label>
      <BFormInput id="b-site" :model-value="site" :disabled="siteFixed" list="b-sites" maxlength="200" autocomplete="off" @update:model-value="(v) => emit('update:site', String(v))" />
      <datalist id="b-sites"><option v-for="s in sites" :key="s" :value="s" /></datalist>
    </div>
    <div>
      <label for="b-label">Unit</label>
      <BFormInput id="b-label" :model-value="modelValue.label" maxlength="200" placeholder="where it stands" @update:model-value="(v) => put({ label: String(v) })" />
    </div>
    <div>
      <label for="b-layout">Layout</label>
      <BFormSelect id="b-layout" :model-value="modelValue.layout" :options="options('layout')" @update:model-value="(v) => put({ layout: v as Unit['layout'] })" />
    </div>
    <div>
      <label for="b-refrigerant">Refrigerant</label>
      <BFormSelect id="b-refrigerant" :model-value="modelValue.refrigerant" :options="catalogue.catalogue?.refrigerants ?? []" @update:model-value="(v) => put({ refrigerant: v as Unit['refrigerant'] })" />
    </div>
    <div>
      <label for="b-source">Source (outdoor coil)</label>
      <BFormSelect id="b-source" :model-value="modelValue.source" :options="MEDIA" @update:model-value="(v) => put({ source: v as 'air' })" />
    </div>
    <div>
      <label for="b-load">Load (indoor coil)</label>
      <BFormSelect id="b-load" :model-value="modelValue.load" :options="MEDIA" @update:model-value="(v) => put({ load: v as 'air' })" />
    </div>
    <template v-for="side in ['indoor_meter', 'outdoor_meter'] as const" :key="side">
      <div>
        <label :for="`b-${side}`">{{ catalogue.word('part', side) }}</label>
        <BFormSelect :id="`b-${side}`" :model-value="modelValue[side].kind" :options="options('meter')" @update:model-value="(v) => putMeter(side, v as 'txv')" />
      </div>
      <div>
        <label :for="`b-${side}-bypass`">bypass</label>
        <BFormSelect :id="`b-${side}-bypass`" :model-value="modelValue[side].bypass" :options="options('bypass')" :disabled="modelValue[side].kind === 'none'" @update:model-value="(v) => put({ [side]: { ...modelValue[side], bypass: v as 'none' } })" />
      </div>
    </template>
    <div>
      <label for="b-drier">Drier</label>
      <BFormSelect id="b-drier" :model-value="drier" :options="DRIERS" @update:model-value="(v) => putDrier(String(v))" />
    </div>
    <div>
      <label for="b-valve">Valve energized in</label>
      <BFormSelect id="b-valve" :model-value="modelValue.reversing_valve.energized_in" :options="CONVENTIONS" @update:model-value="(v) => put({ reversing_valve: { energized_in: v as 'cooling' } })" />
    </div>
    <div>
      <label for="b-compressor">Compressor</label>
      <BFormSelect id="b-compressor" :model-value="modelValue.compressor.kind" :options="options('compressor')" @update:model-value="(v) => put({ compressor: { ...modelValue.compressor, kind: v as 'single' } })" />
    </div>
    <div>
      <label for="b-defrost">Defrost</label>
      <BFormSelect id="b-defrost" :model-value="modelValue.defrost?.method ?? 'none'" :options="options('defrost')" @update:model-value="(v) => put({ defrost: { ...modelValue.defrost, method: v as 'none' } })" />
    </div>
    <QuantityField v-if="!siteFixed" id="b-elevation" label="Elevation of the site" :units="['ft', 'm']" :model-value="elevation" @update:model-value="(v) => emit('update:elevation', v ?? null)" />
    <div>
      <label for="b-accumulator">Accumulator</label>
      <BFormSelect id="b-accumulator" :model-value="fittedWord(modelValue.accumulator)" :options="FITTED" @update:model-value="(v) => put({ accumulator: isFitted(v) })" />
    </div>
    <CircuitsField v-if="!modelValue.heads" :model-value="modelValue.circuits ?? null" @update:model-value="(v) => put({ circuits: v })" />
    <HeadsField v-if="modelValue.heads || (modelValue.layout === 'ductless' && !modelValue.circuits)" :model-value="modelValue.heads ?? null" @update:model-value="(v) => put({ heads: v })" />
  </form>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0.45rem 0.6rem;
}
</style>
