<script setup lang="ts">
// How one gets on: what is taken for what, how sure against how right, the subjects, and what was tried lately.
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { BenchHome, BenchProgress } from '../api/types'
import ShareBar from '../scores/ShareBar.vue'
import { dayOf } from '../walk/figures'

const props = defineProps<{ progress: BenchProgress; past: BenchHome['attempts'] }>()
const percent = (share: number) => `${Math.round(share * 100)} %`
const truths = computed(() => [...new Map(props.progress.mistaken.map((one) => [one.truth, one.truth_title]))])
const ofTruth = (truth: string) => props.progress.mistaken.filter((one) => one.truth === truth)
</script>

<template>
  <section class="panel" aria-labelledby="progress-title">
    <h2 id="progress-title">How you get on</h2>
    <p v-if="!progress.tried">Nothing said yet. What you take for what, and how sure you were, fills this table.</p>
    <template v-else>
      <p>
        <strong>{{ progress.right.count }}</strong> of {{ progress.tried }} right<template v-if="progress.streak > 1">, the last <strong>{{ progress.streak }}</strong> in a row</template>; {{ progress.mean_score }} points on the whole.
        <a class="btn btn-sm" href="/api/bench/progress.csv" download>as a table (CSV)</a>
      </p>
      <div class="beside">
        <div>
          <h3>What you take for what</h3>
          <div class="frame" tabindex="0" role="region" aria-label="What you take for what"><table class="table">
            <thead><tr><th scope="col">It was</th><th scope="col">You said</th></tr></thead>
            <tbody><tr v-for="[truth, title] in truths" :key="truth">
              <th scope="row"><RouterLink v-if="truth !== 'none'" :to="`/handbook/faults/${truth}`">{{ title }}</RouterLink><template v-else>{{ title }}</template></th>
              <td><span v-for="one in ofTruth(truth)" :key="one.said" class="said" :class="{ it: one.said === one.truth }"><span aria-hidden="true">{{ one.said === one.truth ? '✓' : '✗' }}</span> {{ one.said === one.truth ? 'that' : one.said_title }} {{ one.count > 1 ? `× ${one.count}` : '' }}</span></td>
            </tr></tbody>
          </table></div>
        </div>
        <div>
          <h3>How sure, and how right</h3>
          <table class="table">
            <thead><tr><th scope="col">You were</th><th scope="col">Right</th><th scope="col">The true share, nineteen times in twenty (▾ what you said)</th></tr></thead>
            <tbody><tr v-for="one in progress.sure" :key="one.low"><th scope="row">{{ Math.round(one.low * 100) }} to {{ percent(one.high) }} sure</th><td>{{ one.right.count }} of {{ one.right.of }}</td><td><ShareBar :share="one.right" :said="one.said" /></td></tr></tbody>
          </table>
          <h3>Lessons solved</h3>
          <ul><li v-for="one in progress.groups" :key="one.code">{{ one.title }}: {{ one.solved }} of {{ one.of }}</li></ul>
        </div>
      </div>
      <h3>Lately</h3>
      <ul class="past"><li v-for="one in past" :key="one.id"><RouterLink :to="{ name: 'debrief', params: { id: one.id } }">{{ one.title }}</RouterLink> <span class="quiet">{{ one.code }} · {{ dayOf(one.started_at) }} · {{ one.right ? 'right' : 'not it' }}, {{ Math.round(one.score ?? 0) }}</span></li></ul>
    </template>
  </section>
</template>

<style scoped>
.panel {
  padding: 0.8rem 1rem;
}
h2 {
  font-size: 1.1rem;
}
h3 {
  font-size: 1rem;
  margin: 0.6rem 0 0.2rem;
}
.beside {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 1.2rem;
}
.frame {
  overflow: auto;
  position: relative;
}
.table {
  --bs-table-bg: transparent;
  margin: 0;
}
th,
td {
  font-weight: 400;
  padding: 0.25rem 0.6rem 0.25rem 0;
}
thead th {
  font-weight: 650;
}
.said {
  display: block;
}
.it {
  color: var(--pass);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
th a,
.past a {
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
