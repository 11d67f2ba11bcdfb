<script setup lang="ts">
// The debrief: the truth, the walk replayed beside an expert's, what each reading told, and the score.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, onScopeDispose, ref, watch } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import PracticeMark from '../bench/PracticeMark.vue'
import ToldSteps from '../bench/ToldSteps.vue'
import WalkLine from '../bench/WalkLine.vue'
import { useAttempt } from '../composables/useAttempt'
import { useKeys } from '../composables/useKeys'
import { useAttemptAtBench } from '../stores/attempt'
import { useBench } from '../stores/bench'

const props = defineProps<{ id: number }>()
const attempt = useAttemptAtBench()
const bench = useBench()
const router = useRouter()
const { trouble, busy, attempt: tried, once } = useAttempt()
watch(() => props.id, (id) => tried(async () => {
  await Promise.all([attempt.loadDebrief(id), bench.load()])
}), { immediate: true })
const view = computed(() => (attempt.debrief?.id === props.id ? attempt.debrief : null))
const debrief = computed(() => view.value?.debrief)
const at = ref(1)
const last = computed(() => debrief.value?.own.length ?? 0)
const step = (by: number) => (at.value = Math.min(Math.max(at.value + by, 1), last.value))
const now = computed(() => debrief.value?.own[at.value - 1])

// The walk replayed, a step a second; those who want no motion step by hand.
let playing: ReturnType<typeof setInterval> | undefined
const isPlaying = ref(false)
function stop() {
  clearInterval(playing)
  isPlaying.value = false
}
function play() {
  if (isPlaying.value) return stop()
  if (at.value >= last.value) at.value = 1
  isPlaying.value = true
  playing = setInterval(() => (at.value < last.value ? step(1) : stop()), 1000)
}
onScopeDispose(stop)
useKeys({ ArrowLeft: () => step(-1), ArrowRight: () => step(1), Home: () => (at.value = 1), End: () => (at.value = last.value) })

const next = computed(() => bench.home?.progress.next_lesson ?? null)
const begin = (code: string) => once(async () => void (await router.push({ name: 'benchcase', params: { id: await bench.begin({ code }) } })))
const signed = (points: number) => (points < 0 ? `−${Math.abs(points)}` : String(points))
</script>

<template>
  <div class="page">
    <p v-if="trouble" class="alert-line" role="alert">{{ trouble }} <RouterLink class="btn btn-sm" to="/bench">back to the bench</RouterLink></p>
    <p v-else-if="!debrief" role="status">Working the debrief out …</p>
    <template v-if="view && debrief">
      <h1>{{ view.title }}</h1>
      <PracticeMark :code="view.code" />
      <div class="head">
        <section class="panel" aria-labelledby="truth-title">
          <h2 id="truth-title">It was</h2>
          <div v-for="one in debrief.truth" :key="one.fault">
            <p class="truth">{{ one.title }}<template v-if="one.band">, {{ one.band }}</template></p>
            <p>{{ one.words }}</p>
            <p class="quiet">{{ one.apart }}</p>
            <p v-if="one.fault !== 'none'">To repair it: {{ one.repaired }}. <RouterLink :to="`/handbook/faults/${one.fault}`">Its page in the Handbook</RouterLink></p>
          </div>
          <p v-if="view.teaches" class="teaches">{{ view.teaches }}</p>
        </section>
        <section class="panel" aria-labelledby="score-title">
          <h2 id="score-title">{{ debrief.score.right ? 'Right' : 'Not it' }}: {{ Math.round(debrief.score.total) }} points</h2>
          <table class="table">
            <tbody><tr v-for="line in debrief.score.lines" :key="line.what"><th scope="row">{{ line.what }}</th><td class="number figure">{{ signed(line.points) }}<span v-if="line.of" class="quiet"> / {{ line.of }}</span></td><td>{{ line.why }}</td></tr></tbody>
          </table>
          <p v-if="debrief.score.dollars" class="wasted">Spent on what was not at fault: ${{ debrief.score.dollars }}<template v-if="debrief.score.parts.length">, for {{ debrief.score.parts.join(', ') }}</template>.</p>
          <p v-if="debrief.score.refrigerant" class="quiet">The gauges let {{ debrief.score.refrigerant }} % of the charge go.</p>
        </section>
      </div>
      <section class="panel" aria-labelledby="walk-title">
        <h2 id="walk-title">The walk, minute by minute</h2>
        <p>
          <template v-if="debrief.decidable !== null">Your readings decided it after <strong>{{ Math.round(debrief.decidable) }} min</strong>.</template><template v-else>Your readings never decided it.</template>
          An expert’s did after {{ debrief.best_decided === null ? '…' : `${Math.round(debrief.best_decided)} min` }}.
        </p>
        <WalkLine :debrief="debrief" :step="at" />
        <div v-if="last" class="replay" role="group" aria-label="Replay">
          <BButton aria-label="The step before" @click="step(-1)">←</BButton>
          <BButton class="play" @click="play">{{ isPlaying ? 'stop' : 'replay' }}</BButton>
          <BButton aria-label="The step after" @click="step(1)">→</BButton>
          <p aria-live="polite">Step {{ at }} of {{ last }}: {{ now?.words }}<template v-if="now?.found">, <strong>{{ now.found }}</strong></template>. {{ now?.told }}</p>
        </div>
        <div class="both">
          <ToldSteps :steps="debrief.own" :at="at" title="what you did" :speaks="debrief.said.speaks_for" @choose="(n) => (at = n)" />
          <ToldSteps :steps="debrief.best" :at="0" title="what an expert would have done" />
        </div>
      </section>
      <div class="ways">
        <BButton v-if="next" variant="primary" :disabled="busy" @click="begin(next)">next lesson</BButton>
        <BButton :disabled="busy" @click="begin(view.code)">this one again</BButton>
        <RouterLink class="btn" :to="{ name: 'benchcase', params: { id } }">look at the readings</RouterLink>
        <a class="btn" :href="`/api/bench/attempts/${id}/document`" :download="`practice-${view.code}.json`">as a file</a>
        <RouterLink class="btn" to="/bench">bench</RouterLink>
      </div>
    </template>
  </div>
</template>

<style scoped>
h2 {
  font-size: 1.1rem;
  margin: 0 0 0.4rem;
}
.panel {
  padding: 0.8rem 1rem;
  margin-top: 0.75rem;
}
.head {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.25fr);
  gap: 0.75rem;
  align-items: start;
}
.truth {
  font-size: 1.25rem;
  font-weight: 650;
  margin: 0;
}
.truth::first-letter {
  text-transform: uppercase;
}
.teaches {
  border-left: 4px solid var(--ink);
  padding-left: 0.7rem;
  margin-top: 0.6rem;
}
.table {
  --bs-table-bg: transparent;
  margin: 0;
}
th,
td {
  font-weight: 400;
  padding: 0.25rem 0.7rem 0.25rem 0;
  vertical-align: top;
}
.number {
  text-align: right;
  white-space: nowrap;
}
.wasted {
  color: var(--fail);
  margin: 0.5rem 0 0;
}
.replay {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem;
  align-items: center;
  margin: 0.4rem 0;
}
.replay p {
  margin: 0;
  flex: 1;
  min-width: 14rem;
}
.both {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 1.2rem;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
  margin-top: 0.8rem;
}
@media (prefers-reduced-motion: reduce) {
  .play {
    display: none;
  }
}
@media (max-width: 64rem) {
  .head,
  .both {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
