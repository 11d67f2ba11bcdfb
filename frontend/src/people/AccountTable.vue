<script setup lang="ts">
// Everybody who works or worked here, and one more.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import type { AccountView, Role } from '../api/types'
import { useAttempt } from '../composables/useAttempt'
import { usePeople } from '../stores/people'
import { useSession } from '../stores/session'
import { dayOf } from '../walk/figures'
import PassphraseField from './PassphraseField.vue'

const people = usePeople()
const session = useSession()
const { trouble, busy, attempt, once } = useAttempt()

const name = ref('')
const passphrase = ref('')
const chosen = ref<Role>('technician')
/** Nobody can make the others before there is a lead. */
const role = computed({ get: () => (people.accounts?.length ? chosen.value : 'lead'), set: (now) => (chosen.value = now) })
const add = () =>
  once(async () => {
    await people.add({ name: name.value, role: role.value, passphrase: passphrase.value })
    name.value = passphrase.value = ''
    // The first account closes the door behind it.
    await session.load()
  })

/** Whose passphrase is being given anew. */
const giving = ref<AccountView | null>(null)
const given = ref('')
function give(to: AccountView) {
  giving.value = giving.value?.id === to.id ? null : to
  given.value = ''
}
const hand = () =>
  once(async () => {
    const to = giving.value
    if (!to) return
    await people.change(to.id, { passphrase: given.value, ...(to.ended_at ? { ended: false } : {}) })
    giving.value = null
  })
</script>

<template>
  <section class="panel" aria-labelledby="accounts-title">
    <h2 id="accounts-title">Accounts</h2>
    <p v-if="trouble" class="fail" role="alert">{{ trouble }}</p>
    <ul v-if="people.accounts?.length">
      <li v-for="one in people.accounts" :key="one.id">
        <span class="name"><strong :class="{ quiet: one.ended_at }">{{ one.name }}</strong> <span class="quiet since">{{ one.ended_at ? `ended ${dayOf(one.ended_at)}` : `since ${dayOf(one.made_at)}` }}</span></span>
        <select
          v-if="!one.ended_at" class="form-select" :aria-label="`Role of ${one.name}`" :value="one.role"
          @change="attempt(() => people.change(one.id, { role: ($event.target as HTMLSelectElement).value as Role }))"
        >
          <option v-for="each in people.roles" :key="each.role">{{ each.role }}</option>
        </select>
        <span v-else class="quiet">{{ one.role }}</span>
        <RouterLink class="btn" :to="{ name: 'audit', query: { account: one.id } }">what they did<span class="visually-hidden"> ({{ one.name }})</span></RouterLink>
        <BButton v-if="one.id !== session.account" :aria-expanded="giving?.id === one.id" @click="give(one)">{{ one.ended_at ? 'let in again …' : 'new passphrase …' }}<span class="visually-hidden"> for {{ one.name }}</span></BButton>
        <BButton v-if="!one.ended_at && one.id !== session.account" :disabled="busy" @click="once(() => people.change(one.id, { ended: true }))">end<span class="visually-hidden"> {{ one.name }}</span></BButton>
        <form v-if="giving?.id === one.id" class="giving" @submit.prevent="hand">
          <PassphraseField :id="`given-${one.id}`" v-model="given" :label="`New passphrase of ${one.name}`" autocomplete="new-password" fresh />
          <BButton type="submit" :disabled="busy">{{ one.ended_at ? 'Let in again with it' : 'Give it; sign out everywhere' }}</BButton>
        </form>
      </li>
    </ul>
    <h3>{{ people.accounts?.length ? 'One more' : 'The first, a lead\'s' }}</h3>
    <form class="more" @submit.prevent="add">
      <div>
        <label for="account-name">Name</label>
        <input id="account-name" v-model="name" class="form-control" maxlength="80" autocomplete="off" required />
      </div>
      <div>
        <label for="account-role">Role</label>
        <select id="account-role" v-model="role" class="form-select" :disabled="!people.accounts?.length">
          <option v-for="each in people.roles" :key="each.role">{{ each.role }}</option>
        </select>
      </div>
      <PassphraseField id="account-passphrase" v-model="passphrase" label="Passphrase for the first time" autocomplete="new-password" fresh />
      <BButton type="submit" :disabled="busy">Make the account</BButton>
    </form>
    <dl>
      <template v-for="each in people.roles" :key="each.role">
        <dt>{{ each.role }}</dt>
        <dd class="quiet">{{ each.may }}</dd>
      </template>
    </dl>
  </section>
</template>

<style scoped>
section {
  padding: 0.9rem 1rem;
}
h2 {
  font-size: 1.1rem;
}
h3 {
  margin-top: 0.9rem;
}
ul {
  list-style: none;
  margin: 0.4rem 0 0;
  padding: 0;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
  align-items: center;
  padding: 0.4rem 0;
  border-bottom: 1px solid var(--hair);
}
.name {
  flex: 1;
  min-width: 9rem;
}
.since {
  display: block;
  font-size: 0.9rem;
}
li .form-select {
  width: 9rem;
}
.giving,
.more {
  display: grid;
  gap: 0.6rem;
  justify-items: start;
}
.giving {
  flex-basis: 100%;
}
.giving > div,
.more > div {
  width: min(22rem, 100%);
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 0.15rem 0.8rem;
  margin: 1rem 0 0;
}
dd {
  margin: 0;
}
</style>
