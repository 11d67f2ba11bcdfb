// Entries on their way to the server. Each is kept on this device until the server has it on disk, and carries a key of its
// own, so that one sent twice is stored once. Those of one visit go in the order they were made; no visit waits for another.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, triggerRef, watch } from 'vue'
import { ask, client, Refused } from '../api/client'
import type { NewMark, NewObservation, NewReading, Withdrawal } from '../api/types'
import { keyOf, underKey } from '../api/visitKeys'
import { entryKey } from './entryKey'
import { useSession } from './session'
import { forget, keep, kept, names } from './shelf'

export type Post =
  | { what: 'readings'; body: NewReading }
  | { what: 'observations'; body: NewObservation }
  | { what: 'withdrawals'; body: Withdrawal }
  | { what: 'marks'; body: NewMark }

/**
 * `shelf` is where this device keeps it; shelves sort in the order the entries were made, whatever the clock says. `visitKey` is
 * the visit's own: the number alone may be another visit's by then. `sent`: the server has it, and the visit on screen does not
 * show it yet. `closed`: refused because its visit is, and taken once that is opened again; `gone`: because it is not in the
 * records any more. `unkept`: this device had no room, so that only this page holds it. `by` is who typed it, where somebody had
 * signed in: it goes under that name or waits.
 */
export type Entry = Post & {
  visitId: number; visitKey?: string | null; refused: string | null; closed?: boolean; gone?: boolean; unkept?: boolean
  sent: boolean; shelf: string; by?: { account: number; name: string } | null
}

const SHELF = 'icepick.outbox.'
/** Entries of one visit go one after the other. */
const group = (entry: Entry) => `${entry.visitId} ${entry.visitKey ?? ''}`
const RETRY_AFTER_MS = 1500
/** Mostly the answer that shows an entry is there by then, and that the server has it need not be drawn before. */
const DRAWN_AFTER_MS = 100
/** What the server answers about a visit that takes no entries. */
const CLOSED = 423
/** The visit is not in the records any more. */
const GONE = 410
const PLACES = 15
/** Nobody has signed in any more: what is typed waits. */
const SIGN_IN = 401
const FORBIDDEN = 403

// One shelf an entry: two windows of one browser never write over each other's.
function shelved(): Entry[] {
  return names(SHELF).flatMap((shelf) => {
    try {
      return [{ ...(JSON.parse(kept(shelf) ?? '') as Entry), sent: false, shelf }]
    } catch {
      return []
    }
  })
}

export const useOutbox = defineStore('outbox', () => {
  const session = useSession()
  const entries = shallowRef<Entry[]>(shelved())
  /** The visit whose entries have all been sent last. */
  const delivered = shallowRef<{ visitId: number } | null>(null)
  const offline = ref(false)
  /** Something would not go and is tried again. */
  const stuck = ref(false)
  const sending = new Set<string>()
  /** Counts the entries of this device; it only rises, also over the times of a clock in names that are there already. */
  let made = 0
  const madeBefore = (name: string | undefined) => Number(name?.slice(SHELF.length).split('-')[0] ?? 0) || 0

  /** What only this page holds, since the device has no room. */
  const full = computed(() => entries.value.some((entry) => entry.unkept && !entry.sent))

  const waits = (entry: Entry) => !entry.sent && !entry.refused
  const isAnothers = (entry: Entry) => Boolean(entry.by && session.account !== null && entry.by.account !== session.account)
  const goes = (entry: Entry) => waits(entry) && !isAnothers(entry)
  const unsent = computed(() => entries.value.filter(goes))
  /** What somebody else typed on this device, and has not signed in since. */
  const others = computed(() => entries.value.filter((entry) => waits(entry) && isAnothers(entry)))
  const refused = computed(() => entries.value.filter((entry) => entry.refused))
  /** Refused, and of a visit that is nowhere any more. */
  const gone = computed(() => entries.value.filter((entry) => entry.gone))

  /** Take an entry; where this device has no room for it, it goes from this page as soon as the server answers. */
  function post(visitId: number, post: Post) {
    made = Math.max(made, madeBefore(names(SHELF).at(-1))) + 1
    const { account, name } = session.here ?? {}
    const by = account && name ? { account, name } : null
    const shelf = `${SHELF}${String(made).padStart(PLACES, '0')}-${entryKey()}`
    const entry: Entry = { ...post, visitId, visitKey: keyOf(visitId), refused: null, sent: false, by, shelf }
    entry.unkept = !keep(shelf, JSON.stringify(entry))
    if (!entry.unkept) keepLate()
    entries.value = [...entries.value, entry]
    void flush()
  }

  function drop(entry: Entry) {
    forget(entry.shelf)
    entries.value = entries.value.filter((one) => one.shelf !== entry.shelf)
    keepLate()
  }

  /** There is room again: what only this page holds is kept, too. */
  function keepLate() {
    for (const entry of entries.value) {
      if (entry.unkept && !entry.sent && keep(entry.shelf, JSON.stringify({ ...entry, unkept: false }))) entry.unkept = false
    }
  }

  /** Whether an entry was made for the visit that has this number now. */
  const isOf = (entry: Entry, visitId: number) =>
    entry.visitId === visitId && (!entry.visitKey || !keyOf(visitId) || entry.visitKey === keyOf(visitId))

  /** What was sent of a visit so far: once a later answer shows it, it may be let go. */
  const sentOf = (visitId: number) => entries.value.filter((entry) => isOf(entry, visitId) && entry.sent)

  function letGo(shown: Entry[]) {
    const shelves = new Set(shown.map((entry) => entry.shelf))
    entries.value = entries.value.filter((entry) => !shelves.has(entry.shelf))
  }

  /** A number that was refused has nothing more to say once a later one stands in its place. */
  function forgetRefusedBefore(taken: Entry) {
    if (taken.what !== 'readings') return
    const { run, reading } = taken.body
    const same = (one: Entry) =>
      one.refused && one.what === 'readings' && group(one) === group(taken) && one.body.run === run &&
      one.body.reading.station === reading.station && one.body.reading.quantity === reading.quantity && one.shelf < taken.shelf
    entries.value.filter(same).forEach(drop)
  }

  /** A visit was opened again: what it did not take goes now. */
  function sendAgain(visitId: number) {
    const late = entries.value.filter((one) => isOf(one, visitId) && one.closed)
    if (!late.length) return
    for (const entry of late) {
      entry.refused = null
      entry.closed = false
      keep(entry.shelf, JSON.stringify(entry))
    }
    draw()
    void flush()
  }

  const draw = () => triggerRef(entries)

  async function flush() {
    if (session.outside) return
    const visits = new Set(entries.value.filter(goes).map(group))
    await Promise.all([...visits].filter((visit) => !sending.has(visit)).map(sendAll))
  }

  async function sendAll(visit: string) {
    sending.add(visit)
    let visitId = 0
    try {
      let next: Entry | undefined
      while ((next = entries.value.find((entry) => group(entry) === visit && goes(entry)))) {
        visitId = next.visitId
        await send(next)
        next.sent = !next.refused
        if (next.sent) forgetRefusedBefore(next)
      }
      offline.value = false
      stuck.value = entries.value.some(goes)
      delivered.value = { visitId }
      setTimeout(draw, DRAWN_AFTER_MS)
    } catch (error) {
      // A server that breaks on one entry is there all the same, and takes those of other visits.
      offline.value = !(error instanceof Refused)
      stuck.value = true
      setTimeout(() => void flush(), RETRY_AFTER_MS)
    } finally {
      sending.delete(visit)
    }
  }

  function request(entry: Entry) {
    const params = { path: { visit_id: entry.visitId }, header: underKey(entry.visitKey) }
    switch (entry.what) {
      case 'readings':
        return client.POST('/api/visits/{visit_id}/readings', { params, body: entry.body })
      case 'observations':
        return client.POST('/api/visits/{visit_id}/observations', { params, body: entry.body })
      case 'withdrawals':
        return client.POST('/api/visits/{visit_id}/withdrawals', { params, body: entry.body })
      case 'marks':
        return client.POST('/api/visits/{visit_id}/marks', { params, body: entry.body })
    }
  }

  async function send(entry: Entry) {
    try {
      await ask(request(entry))
      forget(entry.shelf)
      entry.unkept = false
      keepLate()
    } catch (error) {
      if (!(error instanceof Refused) || error.details.status >= 500 || error.details.status === SIGN_IN) throw error
      // Somebody signed in anew in another window: it goes with the new token, or waits for who typed it.
      if (error.details.status === FORBIDDEN && (await isAnotherNow())) throw error
      entry.refused = error.message
      entry.closed = error.details.status === CLOSED
      entry.gone = error.details.status === GONE
      keep(entry.shelf, JSON.stringify(entry))
      draw()
    }
  }

  async function isAnotherNow() {
    const before = session.here?.csrf
    await session.load()
    return session.here?.csrf !== before
  }

  addEventListener('online', () => void flush())
  // What only this page holds goes with it.
  addEventListener('beforeunload', (event) => full.value && event.preventDefault())
  watch(() => session.outside, (outside) => !outside && void flush())
  return { entries, unsent, others, refused, gone, delivered, offline, stuck, full, isOf, post, drop, sendAgain, sentOf, letGo, flush }
})
