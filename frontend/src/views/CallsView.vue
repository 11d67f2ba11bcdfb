<script setup lang="ts">
import { computed, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { silentSince } from '../api/line'
import type { VisitsAsked } from '../api/types'
import { askedIn, queryOf } from '../calls/asked'
import { useAskAgain } from '../composables/useAskAgain'
import { useAttempt } from '../composables/useAttempt'
import { useUnitsFound } from '../composables/useUnitsFound'
import CallFilter from '../calls/CallFilter.vue'
import CallList from '../calls/CallList.vue'
import CallPages from '../calls/CallPages.vue'
import StartCall from '../calls/StartCall.vue'
import { useCalls, type NewCall } from '../stores/calls'
import { useSession } from '../stores/session'

const calls = useCalls()
const session = useSession()
const route = useRoute()
const router = useRouter()
const { trouble, busy, attempt, once } = useAttempt()

const start = (call: NewCall) =>
  once(async () => router.push({ name: 'walk', params: { id: await calls.start(call) } }))

const asked = computed(() => askedIn(route.query))
const narrow = (now: VisitsAsked) => router.replace({ name: 'calls', query: queryOf(now) })
const turn = (page: number) => router.push({ name: 'calls', query: queryOf({ ...asked.value, page }) })

const toStart = useUnitsFound()
const toList = useUnitsFound()
watch(() => asked.value.unit, (unit) => attempt(() => Promise.all([toStart.find('', unit), toList.find('', unit)])), { immediate: true })
useAskAgain(() => calls.list, (list) => !list.waiting && list.visits.every((line) => line.up_to_date), () => attempt(() => calls.look(asked.value)))
watch(
  () => route.name === 'calls' && queryOf(asked.value),
  () => route.name === 'calls' && attempt(() => calls.look(asked.value)),
  { immediate: true },
)
</script>

<template>
  <div class="calls">
    <aside aria-labelledby="start-title">
      <h2 id="start-title">Start a call</h2>
      <p v-if="!session.may('enter')" class="quiet">{{ session.refusal('enter', 'a technician starts calls') }}</p>
      <StartCall v-else-if="toStart.found.value" :key="toStart.wanted.value" :found="toStart.found.value" :first="toStart.wanted.value" :silent="silentSince !== null" :busy="busy" @find="(words) => attempt(() => toStart.find(words))" @start="start" />
    </aside>
    <section aria-labelledby="calls-title">
      <div class="head"><h1 id="calls-title">Calls</h1> <RouterLink class="btn" :to="{ name: 'scores' }">how often we were right</RouterLink></div>
      <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
      <CallFilter v-if="toList.found.value" :asked="asked" :found="toList.found.value" :silent="silentSince !== null" @ask="narrow" />
      <p v-if="calls.looking" class="quiet looking" role="status">{{ calls.list ? 'searching …' : 'reading the calls …' }}</p>
      <template v-if="calls.list">
        <CallList :visits="calls.list.visits" :all="calls.list.found === 0 && !Object.values(asked).some(Boolean)" />
        <CallPages :list="calls.list" :silent="silentSince !== null" @turn="turn" />
      </template>
    </section>
  </div>
</template>

<style scoped>
.calls {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 24rem;
  gap: 1.25rem;
  padding: 1rem;
  flex: 1;
  min-height: 0;
}
.calls > * {
  min-height: 0;
  overflow: auto;
  grid-row: 1;
}
aside {
  grid-column: 2;
}
section {
  grid-column: 1;
}
/* Most lists are there before a word about them could be read. */
.looking {
  margin: 0 0 0.4rem;
  padding: 0 3px;
  animation: appear 0s 300ms both;
}
@keyframes appear {
  from {
    visibility: hidden;
  }
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 0 1rem;
  justify-content: space-between;
  align-items: center;
  padding: 3px;
}
h1,
h2 {
  font-size: 1.25rem;
  margin-bottom: 0.6rem;
}
@media (max-width: 64rem) {
  .calls {
    grid-template-columns: minmax(0, 1fr);
  }
  .calls > * {
    grid-area: auto;
  }
}
</style>
