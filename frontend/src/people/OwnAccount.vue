<script setup lang="ts">
// Whoever has signed in: the role, another passphrase, and signing out.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref } from 'vue'
import LazyDetails from '../shell/LazyDetails.vue'
import { useAttempt } from '../composables/useAttempt'
import { useOutbox } from '../stores/outbox'
import { useSession } from '../stores/session'
import PassphraseField from './PassphraseField.vue'

const session = useSession()
const outbox = useOutbox()
const { trouble, busy, attempt, once } = useAttempt()
const before = ref('')
const after = ref('')
const changed = ref(false)
const waiting = computed(() => outbox.unsent.length)

const change = () =>
  once(async () => {
    changed.value = false
    await session.changePassphrase(before.value, after.value)
    before.value = after.value = ''
    changed.value = true
  })
</script>

<template>
  <section class="panel" aria-labelledby="own-title">
    <template v-if="session.here?.name">
      <h2 id="own-title">{{ session.here.name }}</h2>
      <p><strong>{{ session.here.role }}</strong> <span class="quiet">{{ session.here.may_in_words }}</span></p>
      <LazyDetails>
        <template #summary><summary>Another passphrase</summary></template>
        <form @submit.prevent="change">
          <input class="visually-hidden" :value="session.here.name" autocomplete="username" aria-label="Name" tabindex="-1" readonly />
          <PassphraseField id="own-before" v-model="before" label="Passphrase in force" autocomplete="current-password" />
          <PassphraseField id="own-after" v-model="after" label="New passphrase" autocomplete="new-password" fresh />
          <BButton type="submit" :disabled="busy">Change it</BButton>
        </form>
      </LazyDetails>
      <p v-if="changed" role="status">It is changed. You are signed out on every other device.</p>
      <p v-if="trouble" class="fail" role="alert">{{ trouble }}</p>
      <p v-if="waiting" class="alert-line">{{ waiting }} of your entries {{ waiting === 1 ? 'is' : 'are' }} kept on this device and not sent yet; signed out, {{ waiting === 1 ? 'it waits' : 'they wait' }} here until you sign in again.</p>
      <BButton @click="attempt(session.signOut)">Sign out</BButton>
    </template>
    <template v-else>
      <h2 id="own-title">Nobody signs in here</h2>
      <p>Icepick answers on this machine alone, and there is no account: whoever sits here may do everything, and what is written keeps when, but not who.</p>
      <p class="quiet">Make an account on this page, a lead's first, and everybody signs in from then on. Where others reach the server, nobody comes in without.</p>
    </template>
  </section>
</template>

<style scoped>
section {
  padding: 0.9rem 1rem;
}
section > p {
  margin: 0.4rem 0;
}
h2 {
  font-size: 1.1rem;
}
summary {
  min-height: var(--target);
  align-content: center;
  cursor: pointer;
}
form {
  display: grid;
  gap: 0.6rem;
  justify-items: start;
  padding-bottom: 0.6rem;
}
form > div {
  width: min(22rem, 100%);
}
</style>
