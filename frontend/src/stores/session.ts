// Who has signed in on this device, and what that role may do. The server decides; what is asked here only spares a press that
// would be refused.
import { defineStore } from 'pinia'
import { computed, shallowRef, watch } from 'vue'
import { holdToken, turnedAway } from '../api/admission'
import { ask, client } from '../api/client'
import type { Right, SessionView } from '../api/types'
import { forgetAnswers } from './memory'

type Credentials = { name: string; passphrase: string }

export const useSession = defineStore('session', () => {
  const here = shallowRef<SessionView | null>(null)
  /** Signing in comes first. Nobody is kept out before the server said so. */
  const outside = computed(() => here.value?.state === 'out' || here.value?.state === 'first')
  const account = computed(() => here.value?.account ?? null)
  /** Whose page this is, also while signing in again comes first: the screens behind that stay as they are. */
  const page = shallowRef<SessionView | null>(null)
  const may = (right: Right) => page.value?.may.includes(right) ?? true
  /** Why what needs a right is not to be had; empty where it is. */
  const refusal = (right: Right, who: string) =>
    may(right) ? '' : `Signed in as ${page.value?.role ?? 'nobody'}, you read here; ${who}.`

  function accept(now: SessionView) {
    if (now.state === 'in' || now.state === 'open') {
      // What is on screen, and what was begun here, is another's.
      if (page.value && page.value.account !== now.account) return location.reload()
      page.value = now
    }
    here.value = now
    holdToken(now.csrf ?? '')
  }

  let loading: Promise<void> | null = null
  /** Once at a time, however many ask. */
  async function load() {
    loading ??= ask(client.GET('/api/session', { cache: 'no-store' }))
      .then(accept)
      .finally(() => (loading = null))
    await loading
  }

  const signIn = async (body: Credentials) => accept(await ask(client.POST('/api/session', { body })))
  const makeFirst = async (body: Credentials & { code: string }) => accept(await ask(client.POST('/api/session/first', { body })))
  const changePassphrase = async (passphrase: string, to: string) =>
    accept(await ask(client.PUT('/api/session/passphrase', { body: { passphrase, new: to } })))

  /** Sign out. What was read is forgotten here; what was typed and not sent waits until the same person signs in again. */
  async function signOut() {
    await ask(client.DELETE('/api/session'))
    await forgetAnswers()
    location.assign('/')
  }

  watch(turnedAway, () => void load().catch(() => undefined))
  return { here, page, outside, account, may, refusal, load, signIn, makeFirst, changePassphrase, signOut }
})
