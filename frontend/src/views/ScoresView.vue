<script setup lang="ts">
// How often we were right: what was said of visits, beside what it was in the end.
import { computed, onMounted } from 'vue'
import { RouterLink } from 'vue-router'
import { useAttempt } from '../composables/useAttempt'
import LazyDetails from '../shell/LazyDetails.vue'
import ShareBar from '../scores/ShareBar.vue'
import { useScores } from '../stores/scores'
import { dayOf } from '../walk/figures'

const store = useScores()
const { trouble, attempt } = useAttempt()
onMounted(() => attempt(store.load))
const scores = computed(() => store.scores)
const percent = (share: number) => `${Math.round(share * 100)} %`
/** Nothing is ever said with certainty. */
const sure = (probability: number) => percent(Math.min(probability, 0.99))
/** No wider than it has to be: a band that ends at 100 % says so. */
const band = (low: number, high: number) => (high === 1 ? `${percent(low)} and more` : low === 0 ? `below ${percent(high)}` : `${Math.round(low * 100)} to ${percent(high)}`)
const FEW = 20
const misses = computed(() => (scores.value?.visits ?? []).filter((one) => one.place !== 1))
</script>

<template>
  <div class="page">
    <h1>How often we were right</h1>
    <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
    <template v-if="scores && !scores.scored">
      <p>Of no visit is it known yet what it was. Tell it on the visit’s page, under <em>what it was …</em>, when a part was opened or a repair cured it: then what Icepick said before is held to it here.</p>
    </template>
    <template v-else-if="scores">
      <p class="sum">
        Of <strong>{{ scores.scored }}</strong> visits it is known what it was. It had been said first at <strong>{{ scores.first.count }}</strong> of them, and was among the first three at <strong>{{ scores.among.count }}</strong>. By the probabilities that were said it should have been first at {{ scores.expected.toFixed(0) }}.
        <span v-if="scores.unsure" class="quiet">At {{ scores.unsure }} more the fault is not known, or guessed; they don’t count.</span>
      </p>
      <p v-if="scores.scored < FEW" class="quiet">With so few visits chance still has much to say: look at the width of the bars.</p>
      <div class="beside">
        <section class="panel" aria-labelledby="bands-title">
          <h2 id="bands-title">When it was said so surely, was it so?</h2>
          <div class="frame" tabindex="0" role="region" aria-label="By how surely it was said"><table class="table">
            <thead><tr><th scope="col">Said first with</th><th scope="col" class="number">It was so</th><th scope="col">The true share, nineteen times in twenty, and what was said (▾)</th></tr></thead>
            <tbody>
              <tr v-for="one in scores.bands" :key="one.low">
                <th scope="row">{{ band(one.low, one.high) }}</th>
                <td class="number">{{ one.came.count }} of {{ one.came.of }}</td>
                <td><ShareBar :share="one.came" :said="one.said" /></td>
              </tr>
            </tbody>
          </table></div>
        </section>
        <section class="panel" aria-labelledby="misses-title">
          <h2 id="misses-title">Where we were wrong</h2>
          <p v-if="!misses.length">Nowhere, as far as it is known.</p>
          <ul v-else>
            <li v-for="one in misses" :key="one.visit">
              <RouterLink :to="{ name: 'walk', params: { id: one.visit } }">{{ one.site }}, {{ one.unit }}</RouterLink> <span class="quiet">{{ dayOf(one.opened_at) }}</span><br />
              it was <strong>{{ one.was }}</strong><template v-if="one.place">, {{ one.place === 2 ? 'second' : one.place === 3 ? 'third' : `number ${one.place}` }} of what was said</template><template v-else>, which was not thought of</template>; said first: {{ one.said }}, {{ sure(one.probability) }}
            </li>
          </ul>
        </section>
      </div>
      <section class="panel" aria-labelledby="faults-title">
        <h2 id="faults-title">Fault by fault</h2>
        <div class="frame" tabindex="0" role="region" aria-label="By fault">
          <table class="table">
            <thead><tr><th scope="col">Fault</th><th scope="col" class="number">It was</th><th scope="col" class="number">By what was said</th><th scope="col" class="number">Said first where it was</th><th scope="col" class="number">Right when said first</th><th scope="col"><span class="visually-hidden">Share that was right</span></th></tr></thead>
            <tbody>
              <tr v-for="one in scores.faults" :key="one.fault">
                <th scope="row"><RouterLink v-if="one.fault !== 'none'" :to="`/handbook/faults/${one.fault}`">{{ one.title }}</RouterLink><template v-else>{{ one.title }}</template></th>
                <td class="number">{{ one.was }}</td>
                <td class="number">{{ one.expected.toFixed(1) }}</td>
                <td class="number">{{ one.found.of ? `${one.found.count} of ${one.found.of}` : '–' }}</td>
                <td class="number">{{ one.right.of ? `${one.right.count} of ${one.right.of}` : '–' }}</td>
                <td><ShareBar v-if="one.right.of" :share="one.right" :said="null" /></td>
              </tr>
            </tbody>
          </table>
        </div>
        <LazyDetails>
          <template #summary><summary>the {{ scores.scored }} visits that count</summary></template>
          <ul>
            <li v-for="one in scores.visits" :key="one.visit">
              <RouterLink :to="{ name: 'walk', params: { id: one.visit } }">{{ one.site }}, {{ one.unit }}</RouterLink> <span class="quiet">{{ dayOf(one.opened_at) }}</span>: said {{ one.said }}, {{ sure(one.probability) }}; it was {{ one.was }}
            </li>
          </ul>
        </LazyDetails>
        <p class="quiet">“By what was said” adds up the probabilities of a fault over all visits: where it stays far below what it was, the fault is told too seldom; where it is far above, too often.</p>
      </section>
    </template>
  </div>
</template>

<style scoped>
h2 {
  font-size: 1.1rem;
  margin-bottom: 0.4rem;
}
.sum {
  max-width: 60rem;
}
.beside {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 1rem;
  margin-bottom: 1rem;
  align-items: start;
}
.panel {
  padding: 0.9rem 1rem;
}
.panel > p:last-child {
  margin: 0.4rem 0 0;
}
.table {
  --bs-table-bg: transparent;
  margin: 0;
}
th,
td {
  padding: 0.3rem 0.6rem 0.3rem 0;
  font-weight: 400;
  vertical-align: middle;
}
thead th {
  font-weight: 650;
}
summary {
  min-height: var(--target);
  align-content: center;
  cursor: pointer;
}
.number {
  text-align: right;
  white-space: nowrap;
}
thead .number {
  white-space: normal;
}
.frame {
  /* What is there for readers of screens alone stays inside. */
  position: relative;
  overflow: auto;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  padding: 0.4rem 0;
  border-bottom: 1px solid var(--hair);
}
li a,
th a {
  display: inline-block;
  min-height: var(--target);
  align-content: center;
}
@media (max-width: 64rem) {
  .beside {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
