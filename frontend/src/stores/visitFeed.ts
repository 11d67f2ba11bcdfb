// The visit as the server has it: got whole once, and then by what changed.
import type { Operation } from 'rfc6902'
import { computed, type ShallowRef } from 'vue'
import { ask, client } from '../api/client'
import { addressOf } from '../api/early'
import type { UnitSystem, VisitView } from '../api/types'
import { useCatalogue } from './catalogue'
import { learn, remember, rememberedSince } from './memory'
import { useOutbox } from './outbox'
import { useSettings } from './settings'
import { patched } from './sharing'

const STALE_AFTER_MS = 1900
const REMEMBER_AFTER_MS = 1500

interface Told {
  view: ShallowRef<VisitView | null>
  /** Another visit is to come. */
  another: () => void
  accept: (answer: VisitView) => void
}

export function useFeed({ view, another, accept }: Told) {
  const settings = useSettings()
  const outbox = useOutbox()
  const catalogue = useCatalogue()
  const waiting = computed(() => outbox.entries.filter((entry) => view.value && outbox.isOf(entry, view.value.id)))
  /** Of what is on screen; empty where it is to be asked for whole. */
  let revision = ''
  let wanted = 0
  let remembering: ReturnType<typeof setTimeout> | undefined
  let asked = 0
  let answered = 0
  let lookedAt = -Infinity

  let loading: { id: number; units: UnitSystem; done: Promise<void> } | null = null

  /** Get a visit; who asks while it is on its way waits for the same answer. */
  function open(id: number) {
    if (wanted === id && view.value?.id === id && performance.now() - lookedAt < STALE_AFTER_MS) return Promise.resolve()
    if (loading?.id !== id || loading.units !== settings.units) {
      const mine = { id, units: settings.units, done: load(id).finally(() => loading === mine && (loading = null)) }
      loading = mine
    }
    return loading.done
  }

  async function load(id: number) {
    if (view.value?.id !== id) {
      view.value = null
      another()
    }
    wanted = id
    revision = ''
    await ask(current())
  }

  /** Look for what others changed, unless the visit was heard of just now: an entry brings it along. */
  async function keepUp() {
    if (performance.now() - lookedAt < STALE_AFTER_MS) return
    // Counted from the asking: a server that is slow, or not there, is not asked the more for it.
    lookedAt = performance.now()
    await refresh()
  }

  const onTheWay = () => waiting.value.some((entry) => !entry.sent && !entry.refused)

  /** Ask what changed of the visit, here or elsewhere. */
  async function refresh() {
    if (view.value && !onTheWay()) await current().catch(() => null)
  }

  /** The visit as it is now, by what changed since it was heard of last; an answer that comes behind a later one is old. */
  async function current() {
    const id = wanted
    const turn = ++asked
    const since = revision
    const shown = outbox.sentOf(id)
    const { units } = settings
    const request = { path: { visit_id: id }, query: { units, ...(since ? { since } : {}) } }
    const answer = await client.GET('/api/visits/{visit_id}/changes', { params: request, cache: 'no-store' })
    // Places are named, and laid in trays, by the catalogue.
    await catalogue.load()
    const { data } = answer
    if (!data || id !== wanted || turn < answered || since !== revision) return answer
    answered = turn
    revision = data.revision
    lookedAt = performance.now()
    const now = data.whole ?? (view.value && data.steps.length ? patched(view.value, data.steps as Operation[]) : view.value)
    if (now) accept(now)
    else revision = ''
    if (rememberedSince(answer.response)) return answer
    outbox.letGo(shown)
    clearTimeout(remembering)
    remembering = setTimeout(() => {
      if (view.value?.id !== id || settings.units !== units) return
      void remember(addressOf(id, units), { revision, steps: [], whole: view.value })
      // In the other units too: they may be wanted where there is no server.
      void learn(addressOf(id, units === 'field' ? 'metric' : 'field'))
    }, REMEMBER_AFTER_MS)
    return answer
  }

  return { waiting, open, load, keepUp, refresh }
}
