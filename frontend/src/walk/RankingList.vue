<script setup lang="ts">
// The ranking: what it may be, how likely, what speaks for and against, and what must be settled before a part goes. What a
// unit with a fault would show can be laid over the staircase.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { RankedFault, RunExamination, Status } from '../api/types'
import LazyDetails from '../shell/LazyDetails.vue'
import ComparedLine from './ComparedLine.vue'

const props = defineProps<{ outcome: Status; ranking: RankedFault[]; runs: RunExamination[]; run: string; laid: string }>()
defineEmits<{ lay: [fault: string] }>()
const SHOWN_FROM = 0.01
const percent = (share: number) => `${Math.min(share * 100, 99).toFixed(share < 0.1 ? 1 : 0)} %`
const STRONGEST = 3
/** Where nothing is wrong, what else it may be is one line. */
const sound = computed(() => props.outcome === 'pass' && props.ranking[0]?.fault === 'none')
const remaining = computed(() => props.ranking.filter((one) => one.fault !== 'none' && one.probability >= SHOWN_FROM))
const calm = computed(() => {
  const first = remaining.value[0]
  if (!first) return 'Nothing else is likely.'
  const others = remaining.value.length - 1
  return `${first.title}, ${percent(first.probability)}${others ? `, and ${others} less likely` : ''}`
})
const sides = (one: RankedFault) =>
  [{ title: 'for', said: one.for }, { title: 'against', said: one.against }]
    .filter(({ said }) => said.length)
    .map(({ title, said }) => {
      const lines = said.map((words) => ({ words, compared: one.compared.find((number) => number.words === words) }))
      return { title, strongest: lines.slice(0, STRONGEST), rest: lines.slice(STRONGEST) }
    })
const canLay = (one: RankedFault) => Object.keys(one.foretold[props.run] ?? {}).length > 0
const RULED = { done: '✓ done', open: '… open', contradicted: '✗ contradicted' } as const
const TONE = { done: 'pass', open: 'needs_readings', contradicted: 'fail' } as const
</script>

<template>
  <div class="ranking">
    <h2>{{ sound ? 'what remains possible' : 'what it may be' }}</h2>
    <LazyDetails v-if="sound" class="calm">
      <template #summary><summary><span class="title">{{ calm }}</span></summary></template>
      <ul v-if="ranking[0]?.for.length" class="sound">
        <li v-for="words in ranking[0].for" :key="words">{{ words }}</li>
      </ul>
      <p v-for="one in remaining" :key="one.fault" class="remains">
        <RouterLink :to="`/handbook/faults/${one.fault}`">{{ one.title }}</RouterLink> <span class="figure">{{ percent(one.probability) }}</span>
      </p>
    </LazyDetails>
    <LazyDetails v-for="(one, index) in sound ? [] : ranking.filter((r) => r.probability >= SHOWN_FROM)" :key="one.fault" :open="index === 0 && one.fault !== 'none'">
      <template #summary><summary>
        <span class="title">{{ one.title }}<template v-if="one.mode"> ({{ one.mode }})</template></span>
        <span class="figure">{{ percent(one.probability) }}</span>
        <span v-if="one.severity" class="severity">{{ one.severity.words }}</span>
        <span class="bar" aria-hidden="true"><span :style="{ width: `${one.probability * 100}%` }" /></span>
      </summary></template>
      <div class="opened">
        <p v-if="one.suspect" class="suspect">{{ one.suspect.words }}</p>
        <template v-for="side in sides(one)" :key="side.title">
          <h3>{{ side.title }}</h3>
          <ul>
            <li v-for="line in side.strongest" :key="line.words">
              <ComparedLine v-if="line.compared" :compared="line.compared" :runs="runs" :sound="one.fault === 'none'" />
              <template v-else>{{ line.words }}</template>
            </li>
          </ul>
          <LazyDetails v-if="side.rest.length" class="rest">
            <template #summary><summary>{{ side.rest.length }} more</summary></template>
            <ul>
              <li v-for="line in side.rest" :key="line.words">
                <ComparedLine v-if="line.compared" :compared="line.compared" :runs="runs" :sound="one.fault === 'none'" />
                <template v-else>{{ line.words }}</template>
              </li>
            </ul>
          </LazyDetails>
        </template>
        <p v-if="one.apart">{{ one.apart }}</p>
        <BButton v-if="canLay(one)" class="lay" :aria-pressed="laid === one.fault" @click="$emit('lay', one.fault)">
          {{ laid === one.fault ? 'take it off the staircase' : 'lay it over the staircase' }}</BButton>
        <template v-if="one.rule_out.length">
          <h3>before {{ one.replaces }} is condemned</h3>
          <ul class="rule-outs">
            <li v-for="out in one.rule_out" :key="out.text"><strong :class="TONE[out.status]">{{ RULED[out.status] }}</strong> {{ out.text }}</li>
          </ul>
        </template>
        <p v-if="one.fault !== 'none'" class="caution">{{ one.caution }}</p>
        <RouterLink :to="`/handbook/faults/${one.fault}`">about this in the Handbook</RouterLink>
      </div>
    </LazyDetails>
  </div>
</template>

<style scoped>
.ranking {
  border-bottom: 1px solid var(--hair);
  padding: 0.4rem 0.9rem;
}
h2,
h3 {
  font-size: 0.85rem;
  font-weight: 400;
  color: var(--quiet);
}
summary {
  display: grid;
  grid-template-columns: 1fr auto;
  align-items: center;
  align-content: center;
  gap: 0 0.5rem;
  min-height: var(--target);
  cursor: pointer;
  list-style: none;
}
summary::-webkit-details-marker {
  display: none;
}
.title {
  font-weight: 600;
}
.sound {
  margin: 0;
  padding-left: 1.1rem;
  font-size: 0.95rem;
}
.remains {
  display: flex;
  justify-content: space-between;
  align-items: center;
  min-height: var(--target);
  margin: 0;
}
.severity {
  grid-column: 1 / -1;
  font-size: 0.9rem;
}
.rest summary {
  display: block;
  color: var(--quiet);
}
.suspect {
  margin: 0 0 0.3rem;
}
.lay {
  width: 100%;
}
.lay[aria-pressed='true'] {
  outline: 2px solid var(--ink);
}
.bar {
  grid-column: 1 / -1;
  height: 6px;
  background: var(--raised);
}
.bar span {
  display: block;
  height: 100%;
  background: var(--ink);
}
/* Forced colors take backgrounds away; the bar is one. */
@media (forced-colors: active) {
  .bar span {
    forced-color-adjust: none;
    background: CanvasText;
  }
}
.opened {
  font-size: 0.95rem;
  padding: 0.3rem 0 0.5rem;
}
.opened ul {
  margin: 0 0 0.3rem;
  padding-left: 1.1rem;
}
/* What opens has a mark of its own. */
.opened li:has(> .compared) {
  list-style: none;
  margin-left: -0.9rem;
}
.opened .rule-outs {
  list-style: none;
  padding: 0;
}
.caution {
  margin: 0 0 0.2rem;
  padding-left: 0.6rem;
  border-left: 4px solid var(--watch);
}
.opened a {
  display: inline-block;
  min-height: var(--target);
  align-content: center;
}
</style>
