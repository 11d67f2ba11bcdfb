// The visit on screen: what the server says of it, and where the cursor stands.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { ask, client, Refused } from '../api/client'
import type { Clock, CompressorLoad, FirstRun, MarkCode, ObservationCode, QuantityName, Reading, UnitSystem, VisitView } from '../api/types'
import { useCatalogue } from './catalogue'
import { setClockOf } from './clock'
import { entryKey, useOnce } from './entryKey'
import { remember, rememberedSince } from './memory'
import { useOutbox } from './outbox'
import { useSettings } from './settings'
import { figure } from '../walk/figures'
import { patched, shared } from './sharing'
import type { Operation } from 'rfc6902'

/** A place to read: a station and one of its quantities. */
export interface Spot {
  station: string
  quantity: QuantityName
}
export const spotKey = (spot: Spot) => `${spot.station} ${spot.quantity}`

/** A reading as a tag shows it: in force, or typed and still on its way. */
export interface Shown {
  value: number
  unit: string
  early: boolean
  infrared: boolean
  doubted: boolean
  state: 'kept' | 'unsent' | 'refused'
}

// In the order in which they are worked: gauges only once the rest calls for them.
export const TRAYS = ['pipes', 'air', 'water', 'electrical', 'gauges', 'circuits'] as const
export type Tray = (typeof TRAYS)[number]
const STALE_AFTER_MS = 1900
const REMEMBER_AFTER_MS = 1500
const TRAY_OF: Record<string, Tray> = {
  line: 'pipes', tap: 'gauges', air: 'air', water: 'water', electrical: 'electrical', circuit: 'circuits',
}

export const useVisit = defineStore('visit', () => {
  const settings = useSettings()
  const outbox = useOutbox()
  const catalogue = useCatalogue()

  const view = shallowRef<VisitView | null>(null)
  const runId = ref('')
  const spot = ref<Spot>({ station: '', quantity: 'temperature' })
  const tray = ref<Tray>('pipes')
  const circuitCount = ref(4)
  /** What was done last without being seen, in words. */
  const said = ref('')
  /** Readings of this run that were taken back, the latest last. */
  const undone = shallowRef<Reading[]>([])
  /** Of what is on screen; empty where it is to be asked for whole. */
  let revision = ''
  let wanted = 0
  let remembering: ReturnType<typeof setTimeout> | undefined
  let asked = 0
  let answered = 0
  let lookedAt = -Infinity

  /** Since when the visit takes no entries; null while it does. */
  const closedAt = computed(() => view.value?.closed_at ?? null)
  const run = computed(() => view.value?.visit.runs.find((r) => r.id === runId.value) ?? null)
  const examined = computed(() => view.value?.examination.runs.find((r) => r.id === runId.value) ?? null)
  const waiting = computed(() => outbox.entries.filter((entry) => entry.visitId === view.value?.id))

  /** What was entered last and the findings on screen do not count in yet, in words. */
  const pending = computed(() => {
    const last = waiting.value.filter((entry) => !entry.refused && (entry.sent || !outbox.stuck)).at(-1)
    if (!last) return ''
    return last.what === 'readings' ? catalogue.titleOf(last.body.reading.station, last.body.reading.quantity) : 'what was seen'
  })

  const trayOf = (station: string): Tray => TRAY_OF[catalogue.station(station)?.group ?? 'circuit'] ?? 'pipes'
  // A water coil is one coaxial tube: it has no circuits to clamp.
  const onAir = (side: string) => examined.value?.stations.includes(side === 'indoor' ? 'return_air' : 'outdoor_air_in')
  const circuits = computed(() =>
    ['indoor', 'outdoor'].filter(onAir).flatMap((side) =>
      Array.from({ length: circuitCount.value }, (_, n) => `${side}_circuit:${n + 1}`),
    ),
  )

  /** Every place this unit has, by tray, in walking order. */
  const spots = computed(() => {
    const trays = new Map<Tray, Spot[]>(TRAYS.map((name) => [name, []]))
    for (const station of [...(examined.value?.stations ?? []), ...circuits.value]) {
      for (const { quantity } of catalogue.station(station)?.quantities ?? []) {
        trays.get(trayOf(station))!.push({ station, quantity })
      }
    }
    // Thermometers go round once before the wet wick does.
    const later = (place: Spot) => Number(place.quantity !== 'temperature')
    trays.get('air')!.sort((a, b) => later(a) - later(b))
    return trays
  })
  const here = computed(() => spots.value.get(tray.value) ?? [])

  const shown = computed<Map<string, Shown>>((before) => {
    const tags = new Map<string, Shown>()
    const put = (key: string, tag: Shown) => tags.set(key, shared(before?.get(key), tag))
    // How a reading was taken is shown as that; what physics contradicts, as doubted.
    const taken = ['unsettled', 'infrared_on_bare_pipe']
    const doubted = new Set(
      examined.value?.doubts.filter((doubt) => !taken.includes(doubt.code)).flatMap((doubt) => doubt.stations),
    )
    for (const reading of examined.value?.readings ?? []) {
      put(spotKey(reading), {
        value: reading.value,
        unit: reading.unit,
        early: reading.early,
        infrared: reading.method === 'infrared',
        doubted: doubted.has(reading.station),
        state: 'kept',
      })
    }
    for (const entry of waiting.value) {
      if (entry.what !== 'readings' || entry.body.run !== runId.value) continue
      const { value, unit, method } = entry.body.reading
      put(spotKey(entry.body.reading), {
        value, unit, early: false, infrared: method === 'infrared', doubted: false,
        state: entry.refused ? 'refused' : entry.sent ? 'kept' : 'unsent',
      })
    }
    return tags
  })

  /** Marks made in this run, with the key of the entry behind each. */
  const marks = computed(() => {
    const made = new Map<ObservationCode, string>()
    for (const entry of view.value?.entries ?? []) {
      if (entry.run === runId.value && entry.observation && entry.observation.value !== false && !entry.withdrawn) {
        made.set(entry.observation.code, entry.entry_key)
      }
    }
    for (const entry of waiting.value) {
      if (entry.what === 'observations' && entry.body.run === runId.value && entry.body.observation.value !== false) {
        made.set(entry.body.observation.code, entry.body.entry_key)
      }
      if (entry.what === 'withdrawals') {
        for (const [code, key] of made) if (key === entry.body.entry_key) made.delete(code)
      }
    }
    return made
  })

  const history = computed(() =>
    (view.value?.entries ?? []).filter(
      (entry) => entry.run === runId.value && entry.reading && spotKey(entry.reading) === spotKey(spot.value),
    ),
  )

  function accept(answer: VisitView) {
    view.value = shared(view.value, answer)
    catalogue.onUnit = answer.examination.station_names
    if (!answer.visit.runs.some((r) => r.id === runId.value)) {
      runId.value = answer.visit.runs.at(-1)?.id ?? ''
    }
    if (!spot.value.station) goToFirstUnread()
  }

  function goToFirstUnread() {
    const next = view.value?.examination.next_readings.find((n) => n.run === runId.value && n.station)
    const first = here.value[0] ?? spots.value.get('pipes')?.[0]
    if (next) goTo(next)
    else if (first) goTo(first)
  }

  function goTo({ station, quantity }: Spot) {
    spot.value = { station, quantity }
    tray.value = trayOf(station)
  }

  const params = () => ({ path: { visit_id: view.value?.id ?? 0 }, query: { units: settings.units } })

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
      undone.value = []
      said.value = ''
      runId.value = ''
      spot.value = { station: '', quantity: 'temperature' }
      tray.value = 'pipes'
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
      void remember(`/api/visits/${id}/changes?units=${units}`, { revision, steps: [], whole: view.value })
    }, REMEMBER_AFTER_MS)
    return answer
  }

  const once = useOnce<FirstRun>()

  async function addRun(body: FirstRun) {
    const { path } = params()
    const { answer, sent } = await once(`${path.visit_id} ${body.mode}`, body, (run) =>
      ask(client.POST('/api/visits/{visit_id}/runs', { params: { path }, body: run })),
    )
    // Asked for a second time, it starts when it was asked for last: a clock that runs ahead calls a run settled too soon.
    if (sent !== body) await setClockOf(path.visit_id, answer.run, body)
    await load(path.visit_id)
    runId.value = answer.run
    goToFirstUnread()
  }

  /** Whether nothing was read, seen or written in this run. */
  const runIsEmpty = computed(
    () =>
      !(run.value?.notes ?? '').trim() && !waiting.value.some((entry) => entry.what !== 'withdrawals') &&
      !(view.value?.entries ?? []).some((entry) => entry.run === runId.value && !entry.withdrawn),
  )

  /** Remove this run; whether its visit went with it. */
  async function removeRun(): Promise<boolean> {
    const { with_visit } = await ask(client.DELETE('/api/visits/{visit_id}/runs/{run}', { params: ofRun() }))
    if (with_visit) view.value = null
    else await load(params().path.visit_id)
    return with_visit
  }

  const ofRun = () => ({ path: { ...params().path, run: runId.value } })

  /** Close the visit, or open it again: then what was refused because it was closed goes as well. */
  async function setClosed(closed: boolean) {
    const { path } = params()
    await ask(client.PUT('/api/visits/{visit_id}/closing', { params: { path }, body: { closed } }))
    await load(path.visit_id)
    if (!closed) outbox.sendAgain(path.visit_id)
  }

  async function setClock(body: Clock) {
    const { visit_id, run } = ofRun().path
    await setClockOf(visit_id, run, body)
    await load(visit_id)
  }

  async function setCompressor(body: CompressorLoad) {
    await ask(client.PATCH('/api/visits/{visit_id}/runs/{run}/compressor', { params: ofRun(), body }))
    await load(params().path.visit_id)
  }

  /** Keep the notes of a run as written over `revision`; false where somebody else was quicker. */
  async function writeNotes(text: string, revision: number): Promise<boolean> {
    const request = { ...ofRun(), header: { 'If-Match': `"${revision}"` } }
    let mine = true
    try {
      await ask(client.PUT('/api/visits/{visit_id}/runs/{run}/notes', { params: request, body: { text } }))
    } catch (error) {
      if (!(error instanceof Refused) || error.details.status !== 412) throw error
      mine = false
    }
    await load(request.path.visit_id)
    return mine
  }

  /** The instrument that a place fixes by itself, where it does. */
  function instrumentAt(at: Spot) {
    if (at.quantity === 'pressure') return 'gauge'
    return trayOf(at.station) === 'electrical' ? 'meter' : undefined
  }

  /** Take a reading and move the cursor to the next place of the tray that has none; false where it could not be kept. */
  function take(at: Spot, value: number, unit: string): boolean {
    if (!view.value) return false
    const again = shown.value.has(spotKey(at))
    const method = instrumentAt(at) ?? settings.method
    const taken = post({ station: at.station, quantity: at.quantity, value, unit: unit as 'degF', method, at: new Date().toISOString() })
    if (!taken) return false
    undone.value = []
    said.value = ''
    advance(again)
    return true
  }

  const post = (reading: Reading) =>
    outbox.post(view.value!.id, { what: 'readings', body: { run: runId.value, entry_key: entryKey(), reading } })

  function mark(code: ObservationCode) {
    if (!view.value) return
    const made = marks.value.get(code)
    if (made) takeBack(made)
    else {
      const body = { run: runId.value, entry_key: entryKey(), observation: { code } }
      outbox.post(view.value.id, { what: 'observations', body })
    }
  }

  /** What was looked for: seen, or not. */
  function look(code: ObservationCode, seen: boolean) {
    if (!view.value) return
    const body = { run: runId.value, entry_key: entryKey(), observation: { code, value: seen } }
    outbox.post(view.value.id, { what: 'observations', body })
  }

  /** Set a mark on a recording, at its moment. */
  function markRecording(recording: string, code: MarkCode, seconds: number): boolean {
    if (!view.value) return false
    const body = { recording, entry_key: entryKey(), mark: { code, seconds } }
    return outbox.post(view.value.id, { what: 'marks', body })
  }

  function takeBack(key: string) {
    if (view.value) outbox.post(view.value.id, { what: 'withdrawals', body: { entry_key: key } })
  }

  /** A reading in words: *162 °F at discharge line*. */
  const inWords = ({ value, unit, ...at }: Spot & { value: number; unit: string }) =>
    `${figure(value)} ${catalogue.symbol(unit)} at ${catalogue.titleOf(at.station, at.quantity)}`

  /** Take back the last reading of this run that stands. What was refused never stood, and goes as well. */
  function undo() {
    const going = new Set(waiting.value.flatMap((e) => (e.what === 'withdrawals' ? e.body.entry_key : [])))
    const known = new Set(view.value?.entries.map((e) => e.entry_key))
    const made = [
      ...(view.value?.entries.filter((e) => !e.withdrawn) ?? []),
      ...waiting.value.flatMap((e) => (e.what === 'readings' && !known.has(e.body.entry_key) ? e.body : [])),
    ]
    const last = made.findLast((e) => e.run === runId.value && e.reading && !going.has(e.entry_key))
    if (!last?.reading) return (said.value = 'Nothing of this run is left to take back.')
    const refused = waiting.value.find((e) => e.what === 'readings' && e.refused && e.body.entry_key === last.entry_key)
    if (refused) outbox.drop(refused)
    else takeBack(last.entry_key)
    undone.value = [...undone.value, last.reading]
    goTo(last.reading)
    said.value = `Took back ${inWords(last.reading)}.`
  }

  /** Enter again what was taken back last. */
  function redo() {
    const again = undone.value.at(-1)
    if (!again) return (said.value = 'Nothing was taken back that could be entered again.')
    if (!post({ ...again, at: new Date().toISOString() })) return
    undone.value = undone.value.slice(0, -1)
    goTo(again)
    said.value = `Entered again: ${inWords(again)}.`
  }

  const isHere = (at: Spot) => spotKey(at) === spotKey(spot.value)
  const unread = (places: Spot[] | undefined) => places?.find((place) => !shown.value.has(spotKey(place)))
  const traysHere = computed(() => TRAYS.filter((name) => spots.value.get(name)?.length))
  /** The first place without a reading in the trays that follow, round to this one. */
  function beyond(): Spot | undefined {
    const at = traysHere.value.indexOf(tray.value)
    const following = [...traysHere.value.slice(at + 1), ...traysHere.value.slice(0, at + 1)]
    return following.map((name) => unread(spots.value.get(name))).find(Boolean)
  }

  /** To the next place without a reading: of this tray, or of the next one once this is full. */
  function advance(again = false) {
    const at = here.value.findIndex(isHere)
    const onwards = [...here.value.slice(at + 1), ...here.value.slice(0, Math.max(at, 0))]
    const next = unread(onwards) ?? (again ? onwards[0] : (beyond() ?? onwards[0]))
    if (next) goTo(next)
  }

  /** Leave this place unread: to the next one of this tray that is, and from the last on to the next tray. */
  function skip() {
    const at = here.value.findIndex(isHere)
    const next = unread(here.value.slice(at + 1)) ?? beyond()
    if (next) goTo(next)
  }

  function step(by: 1 | -1) {
    spot.value = here.value[here.value.findIndex(isHere) + by] ?? spot.value
  }

  function chooseTray(name: Tray) {
    tray.value = name
    const open = unread(here.value) ?? here.value[0]
    if (open) spot.value = open
  }

  function stepTray(by: 1 | -1) {
    const count = traysHere.value.length
    const name = traysHere.value[(traysHere.value.indexOf(tray.value) + by + count) % count]
    if (name) chooseTray(name)
  }

  /** What was read at this place in the latest other run, to be taken over where it is the same still. Pipes and gauges turn round. */
  const same = computed(() => {
    if (['pipes', 'gauges', 'circuits'].includes(tray.value)) return null
    const others = (view.value?.examination.runs ?? []).filter((one) => one.id !== runId.value)
    return others.flatMap((one) => one.readings.filter((reading) => spotKey(reading) === spotKey(spot.value))).at(-1) ?? null
  })

  function stepRun(by: 1 | -1) {
    const runs = view.value?.visit.runs ?? []
    chooseRun(runs[runs.findIndex((r) => r.id === runId.value) + by]?.id ?? runId.value)
  }

  function chooseRun(id: string) {
    runId.value = id
    undone.value = []
    goToFirstUnread()
  }

  watch(
    () => outbox.delivered,
    (delivery) => {
      if (delivery && delivery.visitId === view.value?.id) void refresh()
    },
    { flush: 'sync' },
  )
  watch(
    () => settings.units,
    () => view.value && void load(view.value.id),
  )

  return {
    view, closedAt, setClosed, runId, spot, tray, run, examined, spots, here, shown, marks, history, waiting, pending, said, undone, traysHere, same, circuitCount,
    open, load, refresh, keepUp, addRun, runIsEmpty, removeRun, setClock, setCompressor, writeNotes, take, instrumentAt, mark, markRecording, look, takeBack, trayOf, undo, redo, advance, skip, stepTray, step, stepRun, chooseRun,
    chooseTray, goTo,
  }
})
