// The visit on screen: what the server says of it, what was entered, and where the cursor stands.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { ask, client, Refused } from '../api/client'
import { knowVisit } from '../api/visitKeys'
import type { Clock, CompressorLoad, FirstRun, Outcome, VisitView } from '../api/types'
import { useNarrow } from '../composables/useMedia'
import { dayOf } from '../walk/figures'
import { alongHead, atHead, headOf } from '../walk/heads'
import { useCatalogue } from './catalogue'
import { useSession } from './session'
import { setClockOf } from './clock'
import { useOnce } from './entryKey'
import { useOutbox } from './outbox'
import { useSettings } from './settings'
import { shared } from './sharing'
import { spotKey, useCursor } from './visitCursor'
import { useEntering } from './visitEntering'
import { useFeed } from './visitFeed'

export { spotKey, type Spot, type Tray } from './visitCursor'

/** A reading as a tag shows it: in force, or typed and still on its way. */
export interface Shown {
  value: number
  unit: string
  early: boolean
  infrared: boolean
  doubted: boolean
  /** Of a probe that is listened to: it has not settled. */
  drifts?: boolean
  state: 'kept' | 'unsent' | 'refused'
}

export const useVisit = defineStore('visit', () => {
  const settings = useSettings()
  const session = useSession()
  const outbox = useOutbox()
  const catalogue = useCatalogue()

  const view = shallowRef<VisitView | null>(null)
  const runId = ref('')
  /** This number stood for another visit when it was opened here. */
  const replaced = ref(false)
  /** Since when the visit takes no entries; null while it does. */
  const closedAt = computed(() => view.value?.closed_at ?? null)
  const isReader = computed(() => !session.may('enter'))
  /** Why nothing is entered here; empty where it may be. */
  const shut = computed(() =>
    session.refusal('enter', 'a technician enters readings') || (closedAt.value ? `This visit has been closed since ${dayOf(closedAt.value)}.` : ''),
  )
  const run = computed(() => view.value?.visit.runs.find((r) => r.id === runId.value) ?? null)
  const examined = computed(() => view.value?.examination.runs.find((r) => r.id === runId.value) ?? null)
  /** The heads of the run, where the unit has several, the one that is looked at, and the run as it is seen along it. */
  const heads = computed(() => examined.value?.heads ?? [])
  const chosenHead = ref(0)
  const head = computed(() => heads.value.find((one) => one.number === chosenHead.value) ?? heads.value.find((one) => one.along) ?? heads.value[0])
  const line = computed(() => examined.value && alongHead(examined.value, head.value))
  const narrow = useNarrow()
  const circuits = computed(() => view.value?.examination.circuits ?? [])
  const circuitId = computed(() => run.value?.circuit ?? '')
  /** What is said: of the circuit in hand, where the unit has several. */
  const findings = computed(() => circuits.value.find((one) => one.id === circuitId.value) ?? view.value?.examination ?? null)
  const feed = useFeed({
    view, accept,
    another: () => {
      entering.undone.value = []
      entering.said.value = ''
      runId.value = ''
      cursor.reset()
    },
  })
  const { waiting, load, refresh } = feed

  /** What was entered last and the findings on screen do not count in yet, in words. */
  const pending = computed(() => {
    const last = waiting.value.filter((entry) => !entry.refused && (entry.sent || !outbox.stuck)).at(-1)
    if (!last) return ''
    return last.what === 'readings' ? catalogue.titleOf(last.body.reading.station, last.body.reading.quantity) : 'what was seen'
  })

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

  const cursor = useCursor({
    examined, shown,
    wanted: () => (findings.value?.next_readings ?? []).filter((next) => next.run === runId.value),
    // On a phone one head at a time.
    within: ({ station }) => !narrow.value || !heads.value.length || [0, head.value?.number].includes(headOf(station)),
  })
  const { spot, tray, goToFirstUnread } = cursor
  // The picture goes along with the cursor.
  watch(() => spot.value.station, (station) => heads.value.length && headOf(station) && (chosenHead.value = headOf(station)))
  const entering = useEntering({ view, runId, waiting, shown, cursor })

  const history = computed(() =>
    (view.value?.entries ?? []).filter(
      (entry) => entry.run === runId.value && entry.reading && spotKey(entry.reading) === spotKey(spot.value),
    ),
  )

  function accept(answer: VisitView) {
    // Under the same number, another visit: the records were put back.
    replaced.value = view.value?.id === answer.id && (replaced.value || view.value.key !== answer.key)
    knowVisit(answer)
    view.value = shared(view.value, answer)
    // Whoever opened it again may sit elsewhere.
    if (!answer.closed_at) outbox.sendAgain(answer.id)
    catalogue.onUnit = answer.examination.station_names
    if (!answer.visit.runs.some((r) => r.id === runId.value)) {
      runId.value = answer.visit.runs.at(-1)?.id ?? ''
    }
    if (!spot.value.station) goToFirstUnread()
  }

  const params = () => ({ path: { visit_id: view.value?.id ?? 0 }, query: { units: settings.units } })

  const once = useOnce<FirstRun>()

  async function addRun(body: FirstRun) {
    const { path } = params()
    const { answer, sent } = await once(`${path.visit_id} ${body.mode} ${body.circuit ?? ''} ${body.heads_calling?.join() ?? ''}`, body, (run) =>
      ask(client.POST('/api/visits/{visit_id}/runs', { params: { path }, body: run })),
    )
    // Asked for a second time, it starts when it was asked for last: a clock that runs ahead calls a run settled too soon.
    if (sent !== body) await setClockOf(path.visit_id, answer.run, body)
    await load(path.visit_id)
    runId.value = answer.run
    goToFirstUnread()
  }

  /** Whether nothing was read, seen or written in this run, and the visit can do without it: a recording needs its visit. */
  const runIsEmpty = computed(
    () =>
      ((view.value?.visit.runs.length ?? 0) > 1 || !view.value?.recordings.length) &&
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

  /** Close the visit, or open it again. */
  async function setClosed(closed: boolean) {
    const { path } = params()
    await ask(client.PUT('/api/visits/{visit_id}/closing', { params: { path }, body: { closed } }))
    await load(path.visit_id)
  }

  /** Tell what it was in the end. */
  async function tellOutcome(body: Outcome) {
    const { path } = params()
    await ask(client.PUT('/api/visits/{visit_id}/outcome', { params: { path }, body }))
    await load(path.visit_id)
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

  /** Turn to another head: to the same place there. */
  function chooseHead(number: number) {
    chosenHead.value = number
    const there = { ...spot.value, station: atHead(spot.value.station, number) }
    if (headOf(there.station)) cursor.goTo(there)
    else {
      const own = [...cursor.spots.value.values()].flat().filter((one) => headOf(one.station) === number)
      const open = own.find((one) => !shown.value.has(spotKey(one))) ?? own[0]
      if (open) cursor.goTo(open)
    }
  }

  async function setHeads(heads_calling: number[] | null) {
    await ask(client.PATCH('/api/visits/{visit_id}/runs/{run}/heads', { params: ofRun(), body: { heads_calling } }))
    await load(params().path.visit_id)
  }

  function chooseRun(id: string) {
    runId.value = id
    entering.undone.value = []
    goToFirstUnread()
  }

  /** Turn to another circuit: to its last run in this mode, else its last one; false where it has none yet. */
  function chooseCircuit(id: string): boolean {
    const own = (view.value?.visit.runs ?? []).filter((one) => one.circuit === id)
    const found = own.filter((one) => one.mode === run.value?.mode).at(-1) ?? own.at(-1)
    if (found) chooseRun(found.id)
    return found !== undefined
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

  const { open, keepUp } = feed
  const { spots, here, traysHere, circuitCount, trayOf, goTo, advance, skip, step, chooseTray, stepTray } = cursor
  const { said, undone, marks, outOfReach, photos, instrumentAt, foresee, take, mark, look, cantReach, markRecording, takeBack, undo, redo } = entering
  return {
    replaced,
    view, open, load, refresh, keepUp, closedAt, isReader, shut, setClosed, tellOutcome, waiting, pending,
    runId, run, examined, circuits, circuitId, findings, chooseCircuit, heads, head, line, chooseHead, setHeads, chooseRun, stepRun, addRun, runIsEmpty, removeRun, setClock, setCompressor, writeNotes,
    shown, history, same, said, undone, marks, outOfReach, photos, instrumentAt, foresee, take, mark, look, cantReach, markRecording, takeBack, undo, redo,
    spot, tray, spots, here, traysHere, circuitCount, trayOf, goTo, advance, skip, step, chooseTray, stepTray,
  }
})
