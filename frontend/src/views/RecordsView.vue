<script setup lang="ts">
// Records out of the book, and others into it.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, onMounted } from 'vue'
import { RouterLink } from 'vue-router'
import { silentSince } from '../api/line'
import { useAttempt } from '../composables/useAttempt'
import ComingTable from '../records/ComingTable.vue'
import ChooseFile from '../shell/ChooseFile.vue'
import FileProgress from '../shell/FileProgress.vue'
import { useRecords } from '../stores/records'
import { useSession } from '../stores/session'

/** So many are entered in so short a time that nobody who types meanwhile notices. */
const MANY = 2000

const session = useSession()
const records = useRecords()
const { trouble, attempt } = useAttempt()
onMounted(() => session.may('records') && attempt(records.resume))

const size = (bytes: number) => (bytes < 1e6 ? `${Math.ceil(bytes / 1e3)} kB` : `${(bytes / 1e6).toFixed(1)} MB`)
const now = computed(() => records.now)
const doing = computed(() => {
  const one = now.value
  if (one?.state === 'arriving') return { words: 'sending', done: one.received, of: one.bytes }
  if (one?.state === 'looking') return { words: 'looking through the records', done: one.done, of: one.of }
  if (one?.state === 'entering') return { words: 'entering', done: one.done, of: one.of }
  return null
})
const changes = computed(() => {
  const coming = now.value?.coming
  if (!coming) return 0
  const { new: fresh = 0, more = 0 } = coming.visits
  const units = (coming.units.new ?? 0) + (coming.units.more ?? 0) + (coming.units.parted ?? 0)
  return fresh + more || (units || coming.limits === 'new' || coming.shop === 'new' ? -1 : 0)
})
</script>

<template>
  <div class="page">
    <h1>Records</h1>
    <p v-if="!session.may('records')" class="quiet">{{ session.refusal('records', 'a lead takes all records out and brings others in') }}</p>
    <div v-else class="beside">
      <section class="panel" aria-labelledby="out-title">
        <h2 id="out-title">Take records out</h2>
        <p>Everything in one ZIP: each visit and unit as JSON, with who wrote what and when, what was taken back, and every description a unit had; the same as CSV tables with a description of every column. Another Icepick takes it in again to the letter.</p>
        <p><a class="btn btn-primary" href="/api/records/archive" download>Take everything out</a></p>
        <p class="quiet">One unit’s history is taken out on its page in the book, one visit on its report. Accounts and passphrases never leave; a copy that holds them too is made with <code>icepick backup</code>.</p>
      </section>
      <section class="panel" aria-labelledby="in-title">
        <h2 id="in-title">Bring records in</h2>
        <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
        <template v-if="!now">
          <p>An archive that an Icepick took out, or one visit document (JSON). First it is looked at, and nothing is entered before you say so. What stands here is never changed, and what comes in twice stands here once.</p>
          <ChooseFile accept=".zip,.json" :disabled="silentSince !== null" @chosen="(file) => attempt(() => records.send(file))" />
        </template>
        <template v-else>
          <p class="name"><strong>{{ now.name }}</strong> <span class="quiet">{{ size(now.bytes) }}</span></p>
          <FileProgress v-if="doing" v-bind="doing" :counted="now.state !== 'arriving'" stops @stop="attempt(records.leave)" />
          <p v-if="now.trouble" class="alert-line" role="alert">{{ now.trouble }}</p>
          <p v-if="now.state === 'done'" role="status"><strong>Entered.</strong> The calls are being examined and come into the list one by one.</p>
          <ComingTable v-if="now.coming && now.state !== 'entering'" :coming="now.coming" :done="now.state === 'done'" />
          <p v-if="now.state === 'looked' && changes > MANY" class="quiet">While so many are entered, what others type waits on their devices for some seconds.</p>
          <div v-if="!records.busy" class="actions">
            <BButton v-if="now.state === 'looked' && changes" variant="primary" @click="attempt(records.enter)">{{ changes > 0 ? `Enter ${changes.toLocaleString()} visit${changes === 1 ? '' : 's'}` : 'Enter it' }}</BButton>
            <p v-if="now.state === 'looked' && !changes" role="status">All of it stands here already: there is nothing to enter.</p>
            <RouterLink v-if="now.state === 'done'" class="btn btn-primary" to="/calls">to the calls</RouterLink>
            <BButton @click="attempt(records.leave)">{{ now.state === 'looked' && changes ? 'leave it' : 'another file' }}</BButton>
          </div>
        </template>
      </section>
    </div>
  </div>
</template>

<style scoped>
h2 {
  font-size: 1.1rem;
  margin-bottom: 0.4rem;
}
.beside {
  display: grid;
  grid-template-columns: minmax(0, 26rem) minmax(0, 48rem);
  gap: 1rem;
  align-items: start;
}
.panel {
  padding: 0.9rem 1rem;
}
code {
  color: inherit;
  font-family: var(--figure);
}
.name {
  overflow-wrap: anywhere;
}
.actions {
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
  align-items: center;
  margin-top: 0.8rem;
}
.actions p {
  margin: 0;
  width: 100%;
}
@media (max-width: 64rem) {
  .beside {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
