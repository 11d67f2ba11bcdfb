<script setup lang="ts">
// Earlier visits to the same unit: the nearest beside this run, and the trend of the figure that is pressed.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref, watch } from 'vue'
import { useAttempt } from '../composables/useAttempt'
import { useCatalogue } from '../stores/catalogue'
import { useHistory } from '../stores/history'
import { useSettings } from '../stores/settings'
import BeforeTable from './BeforeTable.vue'
import TrendPicture from './TrendPicture.vue'

// `readings` counts what was read so far, so that a new figure is compared at once.
const props = defineProps<{ visit: number; run: string; readings: number }>()
const store = useHistory()
const catalogue = useCatalogue()
const settings = useSettings()
const { trouble, attempt } = useAttempt()
const load = () => attempt(() => store.load(props.visit))
watch(() => [props.visit, settings.units, props.readings], load, { immediate: true })

const comparison = computed(() => store.history?.comparisons.find((one) => one.run === props.run))
const now = computed(() => store.history?.runs.find((one) => one.visit === props.visit && one.run === props.run))
const inMode = computed(() => store.history?.runs.filter((one) => one.mode === now.value?.mode) ?? [])
const picked = ref('')
const chosen = computed(() => {
  const names = comparison.value?.changes.map((one) => one.indicator) ?? []
  if (names.includes(picked.value)) return picked.value
  return comparison.value?.changes.find((one) => one.clear)?.indicator ?? names[0] ?? ''
})
</script>

<template>
  <div class="before">
    <p v-if="trouble" class="alert-line" role="alert">{{ trouble }} <BButton size="sm" @click="load">Try again</BButton></p>
    <p v-else-if="store.history && !comparison" class="quiet">
      No earlier visit to this unit in this mode. The next one will be held against this.
    </p>
    <template v-else-if="comparison && now">
      <TrendPicture v-if="chosen" :runs="inMode" :indicator="chosen" :visit="visit" />
      <p v-if="now.indicators[chosen]" class="quiet">Now from {{ now.indicators[chosen]!.uses.map(catalogue.short).join('; ') }}.</p>
      <BeforeTable :comparison="comparison" :now="now" :chosen="chosen" @choose="(name) => (picked = name)" />
    </template>
  </div>
</template>
