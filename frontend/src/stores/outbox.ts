// Entries on their way to the server. Each is kept on this device until the server has it on disk, and carries
// a key of its own, so that one sent twice is stored once. They go in the order they were made.
import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import { ask, client, Refused } from '../api/client'
import type { NewObservation, NewReading, VisitView, Withdrawal } from '../api/types'
import { useSettings } from './settings'

export type Post =
  | { what: 'readings'; body: NewReading }
  | { what: 'observations'; body: NewObservation }
  | { what: 'withdrawals'; body: Withdrawal }

/** `shelf` is where this device keeps it; shelves sort in the order the entries were made. */
export type Entry = Post & { visitId: number; refused: string | null; shelf: string }

const SHELF = 'icepick.outbox.'
const RETRY_AFTER_MS = 1500

// One shelf an entry: two windows of one browser never write over each other's.
function shelved(): Entry[] {
  const shelves = Object.keys(localStorage).filter((key) => key.startsWith(SHELF)).sort()
  return shelves.flatMap((shelf) => {
    try {
      return [{ ...(JSON.parse(localStorage.getItem(shelf) ?? '') as Entry), shelf }]
    } catch {
      return []
    }
  })
}
const keep = (entry: Entry) => localStorage.setItem(entry.shelf, JSON.stringify(entry))

/** A key nobody else will make. `randomUUID` would be missing on a phone that comes over plain HTTP. */
export const entryKey = () =>
  Array.from(crypto.getRandomValues(new Uint8Array(16)), (byte) => byte.toString(16).padStart(2, '0')).join('')

export const useOutbox = defineStore('outbox', () => {
  const entries = ref<Entry[]>(shelved())
  const latest = shallowRef<VisitView | null>(null)
  const offline = ref(false)
  let sending = false
  let made = 0

  function post(visitId: number, post: Post) {
    const stamp = [Date.now(), made++].map((part) => String(part).padStart(15, '0')).join('-')
    const entry = { ...post, visitId, refused: null, shelf: `${SHELF}${stamp}-${entryKey()}` }
    keep(entry)
    entries.value.push(entry)
    void flush()
  }

  function drop(entry: Entry) {
    localStorage.removeItem(entry.shelf)
    entries.value = entries.value.filter((one) => one.shelf !== entry.shelf)
  }

  async function flush() {
    if (sending) return
    sending = true
    try {
      let next: Entry | undefined
      while ((next = entries.value.find((entry) => !entry.refused))) await send(next)
      offline.value = false
    } catch {
      offline.value = true
      setTimeout(() => void flush(), RETRY_AFTER_MS)
    } finally {
      sending = false
    }
  }

  function request(entry: Entry) {
    const params = { path: { visit_id: entry.visitId }, query: { units: useSettings().units } }
    switch (entry.what) {
      case 'readings':
        return client.POST('/api/visits/{visit_id}/readings', { params, body: entry.body })
      case 'observations':
        return client.POST('/api/visits/{visit_id}/observations', { params, body: entry.body })
      case 'withdrawals':
        return client.POST('/api/visits/{visit_id}/withdrawals', { params, body: entry.body })
    }
  }

  async function send(entry: Entry) {
    try {
      latest.value = await ask<VisitView>(request(entry))
      drop(entry)
    } catch (error) {
      if (!(error instanceof Refused) || error.details.status >= 500) throw error
      entry.refused = error.message
      keep(entry)
    }
  }

  addEventListener('online', () => void flush())
  return { entries, latest, offline, post, drop, flush }
})
