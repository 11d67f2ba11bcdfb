<script setup lang="ts">
import { onMounted, watch } from 'vue'
import { useRouter } from 'vue-router'
import { silentSince } from '../api/line'
import { useAttempt } from '../composables/useAttempt'
import CallList from '../calls/CallList.vue'
import StartCall from '../calls/StartCall.vue'
import { useCalls, type NewCall } from '../stores/calls'
import { useSettings } from '../stores/settings'

const calls = useCalls()
const settings = useSettings()
const router = useRouter()
const { trouble, busy, attempt, once } = useAttempt()

const start = (call: NewCall) =>
  once(async () => router.push({ name: 'walk', params: { id: await calls.start(call) } }))

onMounted(() => attempt(calls.load))
watch(() => settings.units, () => attempt(calls.load))
</script>

<template>
  <div class="calls">
    <aside aria-labelledby="start-title">
      <h2 id="start-title">Start a call</h2>
      <StartCall v-if="calls.units" :units="calls.units" :silent="silentSince !== null" :busy="busy" @start="start" />
    </aside>
    <section aria-labelledby="calls-title">
      <h1 id="calls-title">Calls</h1>
      <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
      <CallList v-if="calls.visits" :visits="calls.visits" />
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
