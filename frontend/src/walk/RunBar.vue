<script setup lang="ts">
// The runs of the visit, the settling clock, and the way to another mode.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormSelect } from 'bootstrap-vue-next/components/BFormSelect'
import { computed } from 'vue'
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import type { Clock, CompressorLoad, Mode, FirstRun, OutcomeView, Run, RunExamination, Unit } from '../api/types'
import { useNow } from '../composables/useNow'
import { useCatalogue } from '../stores/catalogue'
import { clockFace } from './figures'

const props = defineProps<{ runs: Run[]; examined: RunExamination[]; current: string; compressor: Unit['compressor']['kind']; silent: boolean; busy: boolean; empty: boolean; closed: boolean; reader: boolean; mayClose: boolean; outcome: OutcomeView | null }>()
const emit = defineEmits<{ choose: [id: string]; add: [run: FirstRun]; clock: [clock: Clock]; load: [load: CompressorLoad]; another: []; remove: []; close: []; reopen: []; outcome: [] }>()
const catalogue = useCatalogue()
const now = useNow()

const settlingSeconds = computed(
  () => (catalogue.catalogue?.limits.find((limit) => limit.name === 'settling_time')?.value ?? 0) * 60,
)
const run = computed(() => props.runs.find((r) => r.id === props.current))
const opposite = computed<Mode>(() => (run.value?.mode === 'heating' ? 'cooling' : 'heating'))

function settling(r: Run): string {
  if (r.mode === 'off') return ''
  const gone = r.started_at ? (now.value - Date.parse(r.started_at)) / 1000 : (r.minutes_running ?? NaN) * 60
  if (Number.isNaN(gone)) return 'not timed'
  const left = settlingSeconds.value - gone
  return left > 0 ? (r.started_at ? `${clockFace(left)} to settle` : `read after ${clockFace(gone)}`) : 'settled'
}
const stages = computed(() => [
  { value: '', text: 'stage not known' },
  ...Object.entries(catalogue.catalogue?.words.stage ?? {}).map(([value, text]) => ({ value, text })),
])
function setStage(value: unknown) {
  emit('load', { compressor_stage: (value || null) as 'low' | 'high' | null, compressor_speed: null })
}
function setSpeed(event: Event) {
  const text = (event.target as HTMLInputElement).value.trim()
  emit('load', { compressor_stage: null, compressor_speed: text === '' ? null : Number(text) })
}
const isSettled = computed(() => run.value && settling(run.value) === 'settled')
const begin = () => new Date().toISOString()
</script>

<template>
  <div class="runs" role="group" aria-label="Runs">
    <BButton
      v-for="(r, index) in runs" :key="r.id" class="run" :class="{ current: r.id === current }"
      :aria-pressed="r.id === current" @click="emit('choose', r.id)"
    >
      <span class="number">run {{ index + 1 }}<template v-if="r.after_repair">, repaired</template><template v-if="r.circuit">, circuit {{ r.circuit }}</template><template v-if="r.heads_calling">, {{ r.heads_calling.length === 1 ? 'head' : 'heads' }} {{ r.heads_calling.join(', ') }}</template></span> {{ catalogue.word('mode', r.mode) }}
      <span class="quiet">{{ settling(r) }}</span>
    </BButton>
    <span v-if="reader" class="quiet why">{{ closed ? 'closed' : 'open' }}</span>
    <BButton v-else-if="closed" @click="emit('reopen')">closed: add to it …</BButton>
    <template v-else>
      <BButton :disabled="silent || busy" @click="emit('add', { mode: opposite, circuit: run?.circuit ?? null, heads_calling: run?.heads_calling ?? null, started_at: begin() })">switch mode: {{ opposite }}</BButton>
      <BButton :disabled="silent || busy" @click="emit('another')">another run …</BButton>
      <BFormSelect
        v-if="run && run.mode !== 'off' && compressor === 'two_stage'" class="other" :model-value="run.compressor_stage ?? ''"
        :options="stages" :disabled="silent" aria-label="Compressor stage" @update:model-value="setStage"
      />
      <label v-if="run && run.mode !== 'off' && compressor === 'inverter'" class="speed">
        <span class="quiet">speed</span>
        <BFormInput
          :model-value="run.compressor_speed ?? ''" type="number" min="0" max="200" placeholder="?" :disabled="silent" aria-label="Compressor speed in percent"
          @change="setSpeed"
        />
        <span class="quiet">%</span>
      </label>
      <BButton v-if="run && !isSettled" class="clock" :disabled="silent" @click="emit('clock', { started_at: begin() })">
        starts now
      </BButton>
      <BButton v-if="empty" :disabled="silent || busy" @click="emit('remove')">remove this {{ runs.length > 1 ? 'run' : 'visit' }}</BButton>
      <BButton v-if="mayClose" :disabled="silent || busy" @click="emit('close')">close this visit</BButton>
    </template>
    <BButton v-if="!reader" class="outcome" :disabled="silent && !outcome" @click="emit('outcome')">{{ outcome ? `it was: ${outcome.title ?? 'not known'}` : 'what it was …' }}</BButton>
    <span v-if="silent" class="quiet why">another run waits for the server</span>
  </div>
</template>

<style scoped>
.runs {
  display: flex;
  gap: 0.5rem;
  overflow-x: auto;
  padding: 0.35rem 3px;
}
.runs .btn {
  flex: none;
  padding-block: 0.15rem;
}
.run.current {
  border-color: var(--ink);
  border-bottom-width: 4px;
  background: var(--panel);
  font-weight: 600;
}
.run .quiet,
.number {
  font-weight: 400;
}
.other {
  width: 11rem;
  flex: none;
  background-color: transparent;
}
.speed {
  display: flex;
  align-items: center;
  gap: 0.3rem;
  flex: none;
}
.speed input {
  width: 5rem;
}
.why {
  align-self: center;
  flex: none;
}
.clock {
  margin-left: auto;
}
</style>
