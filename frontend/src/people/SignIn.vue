<script setup lang="ts">
// Before the records: name and passphrase, or, where nobody can sign in yet, the first account.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, onMounted, ref, useTemplateRef } from 'vue'
import { useAttempt } from '../composables/useAttempt'
import { useOutbox } from '../stores/outbox'
import { useSession } from '../stores/session'
import PassphraseField from './PassphraseField.vue'

const session = useSession()
const outbox = useOutbox()
const { trouble, busy, once } = useAttempt()
const first = computed(() => session.here?.state === 'first')
// Whoever has to sign in again has the passphrase left to type.
const name = ref(session.page?.name ?? '')
const passphrase = ref('')
const code = ref('')
const form = useTemplateRef<HTMLFormElement>('form')
onMounted(() => [...(form.value?.querySelectorAll('input') ?? [])].find((field) => !field.value)?.focus())
const kept = computed(() => outbox.entries.filter((entry) => !entry.sent && !entry.refused).length)

function enter() {
  // A browser that fills a form in by itself may say nothing of it.
  const typed = new FormData(form.value!)
  const body = { name: String(typed.get('username')), passphrase: String(typed.get('password')) }
  return once(async () => {
    await (first.value ? session.makeFirst({ ...body, code: code.value }) : session.signIn(body))
    passphrase.value = ''
  })
}
</script>

<template>
  <div class="door">
    <form ref="form" class="panel" @submit.prevent="enter">
      <h1>{{ first ? 'The first account' : 'Sign in' }}</h1>
      <p v-if="first" class="quiet">Nobody can sign in yet. Where Icepick was started it printed a code; whoever has it makes the first account, a lead's, who makes the others.</p>
      <div v-if="first">
        <label for="door-code">Code from the terminal</label>
        <input id="door-code" v-model="code" class="form-control figure" autocomplete="off" autocapitalize="characters" spellcheck="false" required />
      </div>
      <div>
        <label for="door-name">Name</label>
        <input id="door-name" v-model="name" name="username" class="form-control" autocomplete="username" autocapitalize="words" spellcheck="false" required />
      </div>
      <PassphraseField id="door-passphrase" v-model="passphrase" name="password" label="Passphrase" :autocomplete="first ? 'new-password' : 'current-password'" :fresh="first" />
      <p v-if="trouble" class="fail" role="alert">{{ trouble }}</p>
      <BButton type="submit" variant="primary" :disabled="busy">{{ first ? 'Make the account' : 'Sign in' }}</BButton>
      <p v-if="kept" class="quiet">{{ kept }} {{ kept === 1 ? 'entry is' : 'entries are' }} kept on this device and {{ kept === 1 ? 'goes' : 'go' }} to the server once whoever typed {{ kept === 1 ? 'it' : 'them' }} signs in.</p>
      <p v-if="!first" class="quiet">Forgotten? A lead gives you a new passphrase.</p>
    </form>
  </div>
</template>

<style scoped>
.door {
  display: grid;
  flex: 1;
  place-items: start center;
  padding: 8vh 1rem 1rem;
}
form {
  display: grid;
  gap: 0.8rem;
  width: min(24rem, 100%);
  padding: 1.25rem;
}
form p {
  margin: 0;
}
h1 {
  font-size: 1.25rem;
}
</style>
