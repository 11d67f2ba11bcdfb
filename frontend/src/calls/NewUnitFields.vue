<script setup lang="ts">
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { BFormSelect } from 'bootstrap-vue-next/components/BFormSelect'
import { computed } from 'vue'
import { useCatalogue } from '../stores/catalogue'
import { FITTED, fittedWord, isFitted, type UnitDraft } from './unitDraft'

defineProps<{ sites: string[] }>()
const draft = defineModel<UnitDraft>({ required: true })
const catalogue = useCatalogue()

const meters = computed(() =>
  Object.entries(catalogue.catalogue?.words.meter ?? {})
    .filter(([value]) => value !== 'none')
    .map(([value, text]) => ({ value, text })),
)
const DRIERS = [
  { value: 'bi_flow', text: 'bi-flow' },
  { value: 'one_way', text: 'one-way' },
  { value: 'none', text: 'none' },
  { value: 'unknown', text: 'not known' },
]
const CONVENTIONS = [
  { value: 'cooling', text: 'cooling (terminal O)' },
  { value: 'heating', text: 'heating (terminal B)' },
]
</script>

<template>
  <div class="fields">
    <div class="wide">
      <label for="unit-site">Site</label>
      <BFormInput id="unit-site" v-model="draft.site" list="unit-sites" maxlength="200" autocomplete="off" />
      <datalist id="unit-sites"><option v-for="site in new Set(sites)" :key="site" :value="site" /></datalist>
    </div>
    <div class="wide">
      <label for="unit-label">Unit</label>
      <BFormInput id="unit-label" v-model="draft.label" maxlength="200" placeholder="where it stands" />
    </div>
    <div>
      <label for="unit-refrigerant">Refrigerant</label>
      <BFormSelect id="unit-refrigerant" v-model="draft.refrigerant" :options="catalogue.catalogue?.refrigerants ?? []" />
    </div>
    <div>
      <label for="unit-drier">Drier</label>
      <BFormSelect id="unit-drier" v-model="draft.drier" :options="DRIERS" />
    </div>
    <div>
      <label for="unit-indoor">Indoor metering device</label>
      <BFormSelect id="unit-indoor" v-model="draft.indoor" :options="meters" />
    </div>
    <div>
      <label for="unit-outdoor">Outdoor metering device</label>
      <BFormSelect id="unit-outdoor" v-model="draft.outdoor" :options="meters" />
    </div>
    <div class="wide">
      <label for="unit-valve">Reversing valve energized in</label>
      <BFormSelect id="unit-valve" v-model="draft.energizedIn" :options="CONVENTIONS" />
    </div>
    <div class="wide">
      <label for="unit-accumulator">Accumulator</label>
      <BFormSelect id="unit-accumulator" :model-value="fittedWord(draft.accumulator)" :options="FITTED" @update:model-value="(v) => (draft.accumulator = isFitted(v))" />
    </div>
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0.6rem;
  border-left: 3px solid var(--hair);
  padding-left: 0.7rem;
}
.wide {
  grid-column: 1 / -1;
}
</style>
