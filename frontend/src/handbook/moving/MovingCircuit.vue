<script setup lang="ts">
// The whole circuit in three modes: walked step by step, with the state of the refrigerant at each.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, onScopeDispose, ref, watch } from 'vue'
import { ask, client } from '../../api/client'
import { useKeys } from '../../composables/useKeys'
import { useNarrow } from '../../composables/useMedia'
import { useCatalogue } from '../../stores/catalogue'
import { spotKey, type Shown } from '../../stores/visit'
import CircuitPicture from '../../walk/CircuitPicture.vue'
import { signed } from '../../walk/figures'
import { useAnswer } from './asking'
import MeasureList from './MeasureList.vue'
import PickOne from './PickOne.vue'

const catalogue = useCatalogue()
const narrow = useNarrow()
const ran = ref<'heating' | 'cooling' | 'defrost'>('heating')
const { answer: walk, trouble } = useAnswer(() => ({ ran: ran.value }), (query) => ask(client.GET('/api/handbook/moving/circuit', { params: { query } })))
const at = ref(1)
watch(ran, () => (at.value = 1))
const last = computed(() => walk.value?.steps.length ?? 1)
const now = computed(() => walk.value?.steps[at.value - 1])
const go = (by: number) => (at.value = ((at.value - 1 + by + last.value) % last.value) + 1)
const shown = computed(() => {
  const tags = new Map<string, Shown>()
  for (const { pipe } of walk.value?.steps ?? []) {
    if (pipe) tags.set(spotKey({ station: pipe.station, quantity: 'temperature' }), { ...pipe.temperature, early: false, infrared: false, doubted: false, state: 'kept' })
  }
  return tags
})
const half = computed(() => (walk.value?.path.find((stop) => stop.station === now.value?.at)?.place === 'indoors' ? 'indoors' : 'outdoors'))
function press({ station }: { station: string }) {
  const found = walk.value?.steps.find((one) => one.pipe?.station === station)
  if (found) at.value = found.number
}
const MODES = { heating: 'heating', cooling: 'cooling', defrost: 'defrost' }
let playing: ReturnType<typeof setInterval> | undefined
const isPlaying = ref(false)
function play() {
  clearInterval(playing)
  isPlaying.value = !isPlaying.value
  if (isPlaying.value) playing = setInterval(() => go(1), 1800)
}
onScopeDispose(() => clearInterval(playing))
useKeys({ ArrowLeft: () => go(-1), ArrowRight: () => go(1), Home: () => (at.value = 1), End: () => (at.value = last.value) })
</script>

<template>
  <div>
    <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
    <PickOne v-model="ran" label="The unit is in" :choices="MODES" />
    <template v-if="walk && now">
      <div class="step panel" role="group" aria-label="Step">
        <BButton aria-label="The step before" @click="go(-1)">←</BButton>
        <BButton aria-label="The step after" @click="go(1)">→</BButton>
        <BButton class="play" @click="play">{{ isPlaying ? 'stop' : 'walk on' }}</BButton>
        <div class="words" aria-live="polite">
          <p><strong>{{ now.number }} of {{ last }}: {{ now.title }}</strong><template v-if="now.pipe"> · {{ now.pipe.words }} · <span class="figure">{{ signed(now.pipe.temperature.value) }} {{ catalogue.symbol(now.pipe.temperature.unit) }}, {{ signed(now.pipe.pressure.value, 0) }} {{ catalogue.symbol(now.pipe.pressure.unit) }}</span></template></p>
          <p v-if="now.words">{{ now.words }}</p>
          <MeasureList v-if="now.measure" :measures="[now.measure]" />
        </div>
      </div>
      <div class="frame">
        <CircuitPicture
          :path="walk.path" :taps="[]" :meters="{ active: walk.active, bypassed: walk.bypassed }" :commanded="ran === 'heating' ? 'heating' : 'cooling'" :apparent="ran === 'heating' ? 'heating' : 'cooling'"
          :shown="shown" :selected="now.at" :fold="narrow ? half : 'whole'" @press="press"
        />
      </div>
    </template>
  </div>
</template>

<style scoped>
.step {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem;
  padding: 0.5rem 0.7rem;
  min-height: 7.2rem;
  align-items: start;
  border-color: var(--edge);
}
.words {
  flex: 1;
  min-width: 15rem;
}
.words p {
  margin: 0;
}
.frame {
  container-type: inline-size;
  height: 27rem;
  margin-top: 0.5rem;
  overflow: auto;
}
.frame :deep(.picture) {
  width: min(100%, 46rem);
  min-width: 0;
}
@media (prefers-reduced-motion: reduce) {
  .play {
    display: none;
  }
}
@media (max-width: 40rem) {
  .frame {
    height: auto;
  }
}
</style>
