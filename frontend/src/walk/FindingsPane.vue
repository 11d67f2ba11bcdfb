<script setup lang="ts">
// What the examination says: the verdict, the checks, the next reading.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { Baseline, Check, EntryView, NextReading, RankedFault, RunExamination, Status, VisitView } from '../api/types'
import { useCatalogue } from '../stores/catalogue'
import LazyDetails from '../shell/LazyDetails.vue'
import CheckLine from './CheckLine.vue'
import RankingList from './RankingList.vue'
import type { Spot } from '../stores/visit'
import StationHistory from './StationHistory.vue'
import { dayOf } from './figures'

const props = defineProps<{
  visit: number
  headline: string
  outcome: Status
  verdict: string
  run: RunExamination
  runs: RunExamination[]
  ranking: RankedFault[]
  next: NextReading[]
  baseline: Baseline | null
  earlier: VisitView['earlier']
  history: EntryView[]
  place: string
  pending: string
  laid: string
  outOfReach: (Spot & { entry_key: string })[]
  closed: boolean
}>()
defineEmits<{ go: [next: NextReading]; cantReach: [next: NextReading]; look: [next: NextReading, seen: boolean]; lay: [fault: string]; takeBack: [key: string] }>()
const catalogue = useCatalogue()

const SUMS = [
  ['superheat', 'superheat'],
  ['subcooling', 'subcooling'],
  ['compression_ratio', 'ratio'],
  ['water_heat', 'water'],
] as const
// Of a closed visit nothing is asked any more.
const first = computed(() => (props.closed ? undefined : props.next.find((one) => !one.stop)))
const stop = computed(() => props.next.find((one) => one.stop))
const STEPS = 3
// The headline stands out; the sentences after it are for reading.
const more = computed(() => props.verdict.slice(props.headline.length).replace(/^\.\s*/, ''))
const turning = (next: NextReading) => {
  const words = next.switch_mode ? `switch mode to ${catalogue.word('mode', next.mode)}: ` : ''
  if (next.heads_calling) return `call head ${next.heads_calling.join(' and ')} alone: `
  return next.run === null && next.circuit ? `circuit ${next.circuit}, ${words || `${catalogue.word('mode', next.mode)}: `}` : words
}
const named = (next: NextReading) =>
  next.observe ? `look: ${catalogue.word('observation', next.observe)}` : next.quantity === 'temperature' ? catalogue.short(next.station) : `${catalogue.short(next.station)} ${catalogue.word('quantity', next.quantity)}`
const minutes = (next: NextReading) => (next.minutes < 1 ? 'a look' : `${Math.round(next.minutes)} min`)
// The steps after the first, as they stand now: each answer makes a new plan.
const plan = computed(() =>
  props.next.slice(1, STEPS).map((next) => ({ next, words: `${turning(next)}${named(next)}`, takes: minutes(next) })),
)
const later = computed(() => [...new Set(props.next.slice(STEPS).map(named))].join('; '))
const dated = (place: number) => {
  const one = props.earlier[place]
  return one ? dayOf(one.opened_at) : ''
}
// What fails comes before the ranking, what is near its limit or is asked of the valve behind it; the rest is folded.
const failing = computed(() => props.run.checks.filter((check) => check.status === 'fail'))
const isWatched = (check: Check) => check.status === 'watch' || (check.status === 'needs_readings' && check.code.startsWith('valve.'))
const watched = computed(() => props.run.checks.filter(isWatched))
const folds = computed(() => {
  const passing = props.run.checks.filter((check) => check.status === 'pass')
  const waiting = props.run.checks.filter((check) => check.status === 'needs_readings' && !isWatched(check))
  const count = (checks: Check[], one: string, many: string) => `${checks.length} ${checks.length === 1 ? one : many}`
  return [
    { key: 'passing', words: count(passing, 'check passes', 'checks pass'), checks: passing, open: false },
    { key: 'waiting', words: count(waiting, 'check waits for readings', 'checks wait for readings'), checks: waiting, open: false },
  ].filter((fold) => fold.checks.length)
})
</script>

<template>
  <section class="findings panel" aria-label="Findings">
    <p class="verdict" role="status">{{ headline }}<span v-if="more" class="more"> {{ more }}</span></p>
    <p class="direction">
      <span class="quiet">calling for</span> <strong>▷ {{ catalogue.word('mode', run.commanded_mode) }}</strong>
      <span class="quiet">running in</span> <strong>▶ {{ catalogue.word('apparent_mode', run.apparent_mode) }}</strong>
      <span v-if="pending" class="pending">working out: {{ pending }}…</span>
    </p>
    <div v-if="first?.observe" class="next look" role="group" aria-label="Next look">
      <p><strong>Look: {{ catalogue.word('observation', first.observe) }}?</strong></p>
      <BButton variant="primary" @click="$emit('look', first, true)">Yes</BButton>
      <BButton variant="primary" @click="$emit('look', first, false)">No</BButton>
      <p class="quiet">{{ first.why }}</p>
    </div>
    <div v-else-if="first" class="next">
      <BButton variant="primary" @click="$emit('go', first)">
        {{ turning(first) || 'next: ' }}{{ catalogue.titleOf(first.station, first.quantity) }} ↵</BButton>
      <div class="why">
        <p class="quiet">{{ first.why }} About {{ minutes(first) }}.</p>
        <BButton size="sm" @click="$emit('cantReach', first)">can't reach it</BButton>
      </div>
    </div>
    <p v-if="stop" class="stop"><strong>Enough readings.</strong> {{ stop.why }}</p>
    <ul v-if="outOfReach.length" class="away" aria-label="Out of reach">
      <li v-for="one in outOfReach" :key="one.entry_key">
        <span class="quiet">can't reach: {{ catalogue.titleOf(one.station, one.quantity) }}</span>
        <BButton v-if="!closed" size="sm" :aria-label="`take back: can't reach ${catalogue.titleOf(one.station, one.quantity)}`" @click="$emit('takeBack', one.entry_key)">take back</BButton>
      </li>
    </ul>
    <ul v-if="run.doubts.length" class="doubts" aria-label="Doubts">
      <li v-for="doubt in run.doubts" :key="doubt.code + doubt.stations">
        <strong class="watch"><span aria-hidden="true">≈ </span>{{ catalogue.word('doubt', doubt.code) }}:
          {{ doubt.stations.map(catalogue.short).join('; ') }}</strong>
        {{ doubt.explain }}
      </li>
    </ul>
    <ul v-if="failing.length" class="checks" aria-label="Checks that fail">
      <li v-for="check in failing" :key="check.code"><CheckLine :check="check" /></li>
    </ul>
    <RankingList v-if="ranking.length" :outcome="outcome" :ranking="ranking" :runs="runs" :run="run.id" :laid="laid" @lay="(fault) => $emit('lay', fault)" />
    <ul v-if="watched.length" class="checks" aria-label="Checks to watch">
      <li v-for="check in watched" :key="check.code"><CheckLine :check="check" /></li>
    </ul>
    <LazyDetails v-if="!closed && (plan.length || later)" class="fold">
      <template #summary><summary class="quiet">next readings after that</summary></template>
      <ol class="plan" start="2" aria-label="Then, as it stands now">
        <li v-for="step in plan" :key="step.words">
          {{ step.words }} <span class="quiet">{{ step.takes }}</span>
        </li>
      </ol>
      <p v-if="later" class="after quiet">Then: {{ later }}.</p>
    </LazyDetails>
    <LazyDetails v-for="fold in folds" :key="fold.key" class="fold" :open="fold.open">
      <template #summary><summary class="quiet">{{ fold.words }}</summary></template>
      <ul class="checks"><li v-for="check in fold.checks" :key="check.code"><CheckLine :check="check" /></li></ul>
    </LazyDetails>
    <details v-if="baseline" class="fold baseline">
      <summary>{{ baseline.words || 'Earlier visits taught nothing of this unit.' }}</summary>
      <ul>
        <li v-for="figure in baseline.learned" :key="figure.title">{{ figure.words }}</li>
      </ul>
      <ul>
        <li v-for="one in baseline.visits" :key="one.place" class="quiet">{{ dated(one.place) }}: {{ one.used ? 'learned from' : one.why }}</li>
      </ul>
    </details>
    <StationHistory v-if="history.length" :title="place" :entries="history" :closed="closed" @take-back="(key) => $emit('takeBack', key)" />
    <nav class="sums" aria-label="Calculate with these readings">
      <span class="quiet">calculate with these readings:</span>
      <RouterLink v-for="[code, name] in SUMS" :key="code" :to="{ path: `/handbook/calculators/${code}`, query: { visit, run: run.id } }">{{ name }}</RouterLink>
    </nav>
    <p class="quiet caution">
      The discharge line burns skin; so does the vapor line in heating. Lock out and verify zero voltage before
      touching wiring.
    </p>
  </section>
</template>

<style scoped>
.findings {
  display: flex;
  flex-direction: column;
  overflow: auto;
}
.verdict {
  font-size: 1.15rem;
  font-weight: 600;
  line-height: 1.3;
  padding: 0.8rem 0.9rem;
  margin: 0;
  border-bottom: 1px solid var(--hair);
}
.more {
  display: block;
  margin-top: 0.3rem;
  font-size: 1rem;
  font-weight: 400;
}
.direction {
  display: flex;
  flex-wrap: wrap;
  gap: 0 0.5rem;
  padding: 0.45rem 0.9rem;
  margin: 0;
  border-bottom: 1px solid var(--hair);
}
/* Most answers are there before a word about them could be read. */
.pending {
  margin-left: auto;
  color: var(--quiet);
  animation: appear 0s 150ms both;
}
@keyframes appear {
  from {
    visibility: hidden;
  }
}
.checks {
  list-style: none;
  margin: 0;
  padding: 0;
}
.doubts {
  list-style: none;
  margin: 0;
  padding: 0.5rem 0.9rem;
  border-bottom: 1px solid var(--hair);
  display: grid;
  gap: 0.4rem;
  font-size: 0.95rem;
}
.fold > summary {
  min-height: var(--target);
  align-content: center;
  padding: 0 0.9rem;
  cursor: pointer;
}
.next {
  padding: 0.6rem 0.9rem;
  border-bottom: 1px solid var(--hair);
}
.next > .btn {
  width: 100%;
}
.why,
.away li {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 0.6rem;
}
.why .btn,
.away .btn {
  flex: none;
}
.away {
  list-style: none;
  margin: 0;
  padding: 0.3rem 0.9rem;
  border-bottom: 1px solid var(--hair);
  font-size: 0.9rem;
}
.plan {
  margin: 0;
  padding: 0.3rem 0.9rem 0.3rem 2.1rem;
  font-size: 0.95rem;
}
.after,
.stop {
  margin: 0;
  padding: 0 0.9rem 0.4rem;
  font-size: 0.9rem;
}
.stop {
  padding-top: 0.4rem;
  border-bottom: 1px solid var(--hair);
}
.baseline {
  border-bottom: 1px solid var(--hair);
  font-size: 0.9rem;
}
.baseline > summary {
  padding: 0.3rem 0.9rem;
}
.baseline ul {
  margin: 0 0 0.3rem;
  padding: 0 0.9rem 0 2rem;
}
.look {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0.4rem;
}
.look p {
  grid-column: 1 / -1;
}
.next p {
  margin: 0.4rem 0 0;
  font-size: 0.9rem;
}
.sums {
  display: flex;
  flex-wrap: wrap;
  gap: 0 0.9rem;
  align-items: center;
  padding: 0.4rem 0.9rem;
  margin-top: auto;
  font-size: 0.9rem;
}
.sums a {
  min-height: var(--target);
  min-width: var(--target);
  align-content: center;
}
.caution {
  margin: 0;
  padding: 0.7rem 0.9rem;
  font-size: 0.9rem;
}
</style>
