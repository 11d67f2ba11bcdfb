<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormSelect } from 'bootstrap-vue-next/components/BFormSelect'
import { computed, nextTick, ref, watch } from 'vue'
import type { Complaint, UnitsFound } from '../api/types'
import type { NewCall } from '../stores/calls'
import { useKeys } from '../composables/useKeys'
import { useCatalogue } from '../stores/catalogue'
import { useSettings } from '../stores/settings'
import HeadsCalling from '../walk/HeadsCalling.vue'
import UnitPick from './UnitPick.vue'
import NewUnitFields from './NewUnitFields.vue'
import { blankUnit, toUnit, type UnitDraft } from './unitDraft'

const props = defineProps<{ found: UnitsFound; first: number; silent: boolean; busy: boolean }>()
const emit = defineEmits<{ start: [call: NewCall]; find: [words: string] }>()
const catalogue = useCatalogue()
const settings = useSettings()

const ANOTHER = 0
const OTHER = { value: ANOTHER, text: 'Another unit …' }
const firstOf = (found: UnitsFound) => found.units[0]?.id ?? ANOTHER
const unitId = ref<number>(props.found.units.find((one) => one.id === props.first)?.id ?? firstOf(props.found))
// The first of those that were searched for is meant, unless another is chosen.
watch(() => props.found, (found) => {
  if (unitId.value !== ANOTHER && !found.units.some((one) => one.id === unitId.value)) unitId.value = firstOf(found)
})
/** Of a unit with several circuits the one that is begun on. */
const circuits = computed(() => props.found.units.find((one) => one.id === unitId.value)?.circuits ?? [])
const circuit = ref('')
watch(circuits, (ids) => ids.includes(circuit.value) || (circuit.value = ids[0] ?? ''), { immediate: true })
/** Of a unit with several heads those that call, once somebody says so. */
const heads = computed(() => props.found.units.find((one) => one.id === unitId.value)?.heads ?? [])
const calling = ref<number[] | null>(null)
watch(heads, () => (calling.value = null))
const draft = ref<UnitDraft>(blankUnit())
const complaint = ref<Complaint>('routine')
const running = ref<'just' | 'long' | 'unknown'>('just')

const complaints = computed(() =>
  Object.entries(catalogue.catalogue?.words.complaint ?? {}).map(([value, text]) => ({ value, text })),
)
const RUNNING = [
  { value: 'just', text: 'starts now' },
  { value: 'long', text: 'has run long enough to settle' },
  { value: 'unknown', text: 'running, nobody knows how long' },
]
const settlingMinutes = computed(
  () => catalogue.catalogue?.limits.find((limit) => limit.name === 'settling_time')?.value ?? 0,
)
const complete = computed(() => unitId.value !== ANOTHER || (draft.value.site.trim() && draft.value.label.trim()))

const ready = computed(() => complete.value && !props.silent && !props.busy)
const MODES = ['heating', 'cooling'] as const

/** A unit that is not in the book yet: its first field takes the cursor. */
async function another() {
  unitId.value = ANOTHER
  await nextTick()
  document.getElementById('unit-site')?.focus()
}
useKeys({ n: another })

function start(mode: (typeof MODES)[number]) {
  settings.season = mode
  const clock =
    running.value === 'unknown'
      ? {}
      : { started_at: new Date(Date.now() - (running.value === 'long' ? settlingMinutes.value * 60e3 : 0)).toISOString() }
  emit('start', {
    ...(unitId.value === ANOTHER
      ? { new_unit: { site: { name: draft.value.site }, unit: toUnit(draft.value, catalogue.usualBypass) } }
      : { unit_id: unitId.value }),
    complaint: complaint.value,
    run: { mode, circuit: circuit.value || null, heads_calling: calling.value, ...clock },
  })
}
</script>

<template>
  <form class="panel form" @submit.prevent="ready && start(settings.season)">
    <UnitPick id="call-unit" v-model="unitId" label="Unit" :found="found" :other="OTHER" :silent="silent" @find="(words) => emit('find', words)" />
    <div v-if="circuits.length">
      <label for="call-circuit">Circuit to begin with</label>
      <BFormSelect id="call-circuit" v-model="circuit" :options="circuits" />
    </div>
    <HeadsCalling v-if="heads.length" v-model="calling" :labels="heads" />
    <NewUnitFields v-if="unitId === ANOTHER" v-model="draft" :sites="found.units.map((one) => one.site)" />
    <div>
      <label for="call-complaint">What the customer says</label>
      <BFormSelect id="call-complaint" v-model="complaint" :options="complaints" />
    </div>
    <div>
      <label for="call-running">The unit</label>
      <BFormSelect id="call-running" v-model="running" :options="RUNNING" />
    </div>
    <fieldset>
      <legend>It is calling for</legend>
      <div class="modes">
        <BButton v-for="mode in MODES" :key="mode" :variant="mode === settings.season ? 'primary' : 'secondary'" :type="mode === settings.season ? 'submit' : 'button'" :disabled="!ready" :aria-label="mode" @click="mode === settings.season || start(mode)">
          {{ mode }} <span v-if="mode === settings.season" aria-hidden="true">↵</span>
        </BButton>
      </div>
      <p v-if="silent" class="quiet why">A call is started on the server, which does not answer. A visit of the list opens all the same.</p>
      <p v-else-if="!complete" class="quiet why">A new unit needs its site and a label.</p>
    </fieldset>
    <p class="quiet caution">
      Qualified, licensed people only; local codes and the manufacturer's instructions win. Fans start without
      warning, and the discharge pipe burns skin.
    </p>
  </form>
</template>

<style scoped>
.form {
  display: grid;
  gap: 0.8rem;
  padding: 0.9rem;
}
.modes {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0.6rem;
}
.modes .btn {
  min-height: 3.5rem;
  font-size: 1.1rem;
}
.why {
  margin: 0.4rem 0 0;
  font-size: 0.9rem;
}
.caution {
  font-size: 0.9rem;
  margin: 0;
}
</style>
