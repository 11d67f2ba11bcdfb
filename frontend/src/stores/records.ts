// Records that are brought in: sent in parts, looked at by the server, and entered when that is wanted.
import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { ask, client, Refused } from '../api/client'
import type { ImportView } from '../api/types'
import { ASK_AGAIN_MS, asBytes, sendParts } from './inParts'
import { forget, keep, kept } from './shelf'

/** The import this window follows, also after it was loaded again. */
const SHELF = 'icepick.import'
const TOO_LATE = 409

const path = ({ id }: { id: string }) => ({ params: { path: { name: id } } })
const sendPart = (one: ImportView, part: Blob) =>
  ask(client.PUT('/api/imports/{name}/part', { params: { path: { name: one.id }, query: { at: one.received } }, ...asBytes(part) }))

export const useRecords = defineStore('records', () => {
  const now = shallowRef<ImportView | null>(null)
  const busy = computed(() => ['arriving', 'looking', 'entering'].includes(now.value?.state ?? ''))

  let stopping = false

  function show(one: ImportView | null) {
    now.value = one
    if (one) keep(SHELF, one.id)
    else forget(SHELF)
  }

  /** Ask how far it has come until it waits for somebody, or is over. */
  async function follow() {
    while (now.value && busy.value) {
      const { id } = now.value
      await new Promise((done) => setTimeout(done, ASK_AGAIN_MS))
      const answer = await ask(client.GET('/api/imports/{name}', path({ id }))).catch((error: unknown) => {
        // What is being stopped may be gone by now.
        if (!stopping) throw error
      })
      if (!answer) return
      if (now.value?.id === id) show(answer)
    }
  }

  async function send(file: File) {
    show(await ask(client.POST('/api/imports', { body: { name: file.name, bytes: file.size } })))
    const begun = now.value!
    await sendParts(file, begun, sendPart, (one) => {
      const same = now.value?.id === begun.id
      if (same) show(one)
      return same
    })
    if (now.value?.id !== begun.id) return
    await follow()
  }

  async function enter() {
    if (!now.value) return
    show(await ask(client.POST('/api/imports/{name}/entry', { ...path(now.value), body: {} })))
    await follow()
  }

  /** Stop it, or put it away; nothing of it is entered, if it was not done. */
  async function leave() {
    const one = now.value
    if (!one) return
    stopping = true
    try {
      await ask(client.DELETE('/api/imports/{name}', path(one)))
    } catch (error) {
      // Too late: it is shown to its end. What is gone already, or can't be asked for, is let go here.
      if (error instanceof Refused && error.details.status === TOO_LATE) throw error
    } finally {
      stopping = false
    }
    if (now.value?.id === one.id) show(null)
  }

  /** Go on with what was followed before this window was loaded again. */
  async function resume() {
    const id = kept(SHELF)
    if (now.value || !id) return
    const found = await ask(client.GET('/api/imports/{name}', path({ id }))).catch(() => null)
    show(found)
    // What had not arrived is sent anew.
    if (found?.state === 'arriving') return leave()
    await follow()
  }

  return { now, busy, send, enter, leave, resume }
})
