<script setup lang="ts">
// A check as one short line; pressed, it shows what made it.
import { RouterLink } from 'vue-router'
import type { Check } from '../api/types'
import LazyDetails from '../shell/LazyDetails.vue'
import StatusMark from '../shell/StatusMark.vue'
import { useCatalogue } from '../stores/catalogue'
import { plain, signed } from './figures'

defineProps<{ check: Check }>()
const catalogue = useCatalogue()
const names = (codes: string[]) => codes.map((code) => catalogue.short(code)).join('; ')
</script>

<template>
  <LazyDetails>
    <template #summary><summary>
      <StatusMark :status="check.status" :word="check.status !== 'needs_readings'" />
      <span class="title">{{ check.title }}</span>
      <span v-if="check.status === 'needs_readings'" class="quiet">needs {{ names(check.needs) }}</span>
      <span v-else-if="check.measured" class="figure numbers">
        {{ signed(check.measured.value) }}<span v-if="check.limit" class="quiet limit">
          | {{ plain(check.limit.value) }} {{ catalogue.symbolOf(check.code, check.limit.unit) }}</span>
      </span>
    </summary></template>
    <div class="opened">
      <p>{{ check.explain }}</p>
      <dl>
        <template v-if="check.measured">
          <dt>measured</dt>
          <dd>{{ signed(check.measured.value, 2) }} ± {{ plain(check.measured.uncertainty) }}
            {{ catalogue.symbolOf(check.code, check.measured.unit) }}</dd>
        </template>
        <template v-if="check.margin !== null">
          <dt>margin</dt>
          <dd>{{ signed(check.margin, 2) }} {{ catalogue.symbolOf(check.code, check.limit?.unit ?? '') }}
            {{ check.margin < 0 ? 'outside' : 'inside' }} the limit</dd>
        </template>
        <template v-if="check.uses.length"><dt>from</dt><dd>{{ names(check.uses) }}</dd></template>
        <dt>limit</dt><dd>{{ check.basis }}</dd>
      </dl>
      <RouterLink class="page" :to="`/handbook/limits/${check.practice}`">its limit in the Handbook</RouterLink>
    </div>
  </LazyDetails>
</template>

<style scoped>
details {
  border-bottom: 1px solid var(--hair);
}
summary {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0 0.6rem;
  min-height: var(--target);
  padding: 0.35rem 0.9rem;
  cursor: pointer;
  list-style: none;
}
summary::-webkit-details-marker {
  display: none;
}
.title {
  font-weight: 600;
}
.numbers {
  margin-left: auto;
}
.limit {
  font-weight: 400;
}
.opened {
  padding: 0 0.9rem 0.7rem;
  font-size: 0.95rem;
}
.opened p {
  margin: 0 0 0.4rem;
}
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 0.15rem 0.75rem;
  margin: 0;
}
.page {
  display: inline-block;
  min-height: var(--target);
  align-content: center;
}
dt {
  font-weight: 400;
  color: var(--quiet);
}
dd {
  margin: 0;
}
</style>
