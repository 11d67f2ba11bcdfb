// Readings on their way to the server. Each is kept on this device until the server has it on disk, and
// carries a key of its own, so that one sent twice is stored once.
import { defineStore } from 'pinia'
import { ref, shallowRef, watch } from 'vue'
import { ask, client, Refused } from '../api/client'
import type { NewReading, VisitView } from '../api/types'
import { useSettings } from './settings'

export interface Entry {
  visitId: number
  body: NewReading
  refused: string | null
}

const SHELF = 'icepick.outbox'
const RETRY_AFTER_MS = 2000

function shelved(): Entry[] {
  try {
    return JSON.parse(localStorage.getItem(SHELF) ?? '[]') as Entry[]
  } catch {
    return []
  }
}

export const useOutbox = defineStore('outbox', () => {
  const entries = ref<Entry[]>(shelved())
  const latest = shallowRef<VisitView | null>(null)
  const offline = ref(false)
  let sending = false

  // Written at once: a closed lid must find the reading on the shelf.
  watch(entries, (now) => localStorage.setItem(SHELF, JSON.stringify(now)), { deep: true, flush: 'sync' })

  function post(visitId: number, body: NewReading) {
    entries.value.push({ visitId, body, refused: null })
    void flush()
  }

  function drop(key: string) {
    entries.value = entries.value.filter((entry) => entry.body.entry_key !== key)
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

  async function send(entry: Entry) {
    try {
      latest.value = await ask(
        client.POST('/api/visits/{visit_id}/readings', {
          params: { path: { visit_id: entry.visitId }, query: { units: useSettings().units } },
          body: entry.body,
        }),
      )
      drop(entry.body.entry_key)
    } catch (error) {
      if (!(error instanceof Refused) || error.details.status >= 500) throw error
      entry.refused = error.message
    }
  }

  const waiting = (visitId: number, run: string) =>
    entries.value.filter((entry) => entry.visitId === visitId && entry.body.run === run)

  addEventListener('online', () => void flush())
  return { entries, latest, offline, post, drop, flush, waiting }
})
