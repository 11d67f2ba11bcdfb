<script setup lang="ts">
// What the examination says of what the probes show now.
import type { Findings } from '../api/types'
import { computed } from 'vue'
import { useCatalogue } from '../stores/catalogue'
import { afterHeadline } from './afterHeadline'
import CheckLine from '../walk/CheckLine.vue'

const props = defineProps<{ findings: Findings }>()
const catalogue = useCatalogue()
const said = computed(() => props.findings.run.checks.filter((check) => check.status === 'fail' || check.status === 'watch'))
const passing = computed(() => props.findings.run.checks.filter((check) => check.status === 'pass').length)
const more = computed(() => afterHeadline(props.findings))
const MOST = 4
</script>

<template>
  <section aria-label="Findings now">
    <p class="verdict" role="status">{{ findings.headline }}<span v-if="more" class="more"> {{ more }}</span></p>
    <p class="direction"><span class="quiet">calling for</span> <strong>▷ {{ catalogue.word('mode', findings.run.commanded_mode) }}</strong>
      <span class="quiet"> running in</span> <strong>▶ {{ catalogue.word('apparent_mode', findings.run.apparent_mode) }}</strong></p>
    <ul v-if="findings.run.doubts.length" class="list" aria-label="Doubts">
      <li v-for="doubt in findings.run.doubts" :key="doubt.code + doubt.stations"><strong class="watch">≈ {{ doubt.stations.map(catalogue.short).join('; ') }}</strong> {{ doubt.explain }}</li>
    </ul>
    <template v-if="findings.ranking.length">
      <ol class="list" aria-label="Ranking">
        <li v-for="one in findings.ranking.slice(0, MOST)" :key="one.fault">
          <span>{{ one.title }}</span> <span class="figure">{{ Math.round(one.probability * 100) }} %</span>
          <span class="share" aria-hidden="true" :style="{ width: `${one.probability * 100}%` }" />
        </li>
      </ol>
      <ul class="list checks" aria-label="Checks"><li v-for="check in said" :key="check.code"><CheckLine :check="check" /></li></ul>
      <p class="quiet list">{{ passing }} {{ passing === 1 ? 'check passes' : 'checks pass' }}. Take all to keep this in the visit.</p>
    </template>
  </section>
</template>

<style scoped>
.verdict {
  margin: 0;
  padding: 0.7rem 0.9rem;
  font-size: 1.1rem;
  font-weight: 600;
  border-bottom: 1px solid var(--hair);
}
.more {
  display: block;
  font-size: 1rem;
  font-weight: 400;
}
.direction,
.list {
  margin: 0;
  padding: 0.4rem 0.9rem;
  border-bottom: 1px solid var(--hair);
  list-style: none;
}
.checks {
  padding-inline: 0;
}
ol li {
  display: grid;
  grid-template-columns: 1fr auto;
  padding: 0.15rem 0;
}
.share {
  grid-column: 1 / -1;
  height: 5px;
  background: var(--edge);
}
.watch {
  color: var(--watch);
}
</style>
