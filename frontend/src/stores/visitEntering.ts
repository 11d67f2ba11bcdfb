// What is entered in a run: readings, marks and looks, taken back and entered again.
import { computed, ref, shallowRef, type ComputedRef, type Ref, type ShallowRef } from 'vue'
import { client } from '../api/client'
import type { MarkCode, NewObservation, ObservationCode, QuantityName, Reading, VisitView } from '../api/types'
import { figure } from '../walk/figures'
import { useCatalogue } from './catalogue'
import { entryKey } from './entryKey'
import { useOutbox, type Entry } from './outbox'
import { useSettings } from './settings'
import { spotKey, type Spot, type useCursor } from './visitCursor'

/** Typed so long ago, a number counts as read when it was entered. */
const TYPED_JUST_NOW_MS = 10_000

const sameReading = (typed: Reading, entered: Reading) =>
  Date.parse(entered.at!) - Date.parse(typed.at!) < TYPED_JUST_NOW_MS &&
  (['station', 'quantity', 'value', 'unit', 'method'] as const).every((name) => typed[name] === entered[name])

interface Into {
  view: ShallowRef<VisitView | null>
  runId: Ref<string>
  waiting: ComputedRef<Entry[]>
  shown: ComputedRef<Map<string, unknown>>
  cursor: Pick<ReturnType<typeof useCursor>, 'trayOf' | 'advance' | 'goTo'>
}

export function useEntering({ view, runId, waiting, shown, cursor: { trayOf, advance, goTo } }: Into) {
  const settings = useSettings()
  const outbox = useOutbox()
  const catalogue = useCatalogue()
  /** What was done last without being seen, in words. */
  const said = ref('')
  /** Readings of this run that were taken back, the latest last. */
  const undone = shallowRef<Reading[]>([])

  /** What was seen in the visit and stands, with the key of the entry behind it. */
  const observed = computed(() => {
    const kept = (view.value?.entries ?? []).filter((entry) => !entry.withdrawn)
    const sent = waiting.value.flatMap((entry) => (entry.what === 'observations' ? [entry.body] : []))
    const gone = new Set(waiting.value.flatMap((entry) => (entry.what === 'withdrawals' ? [entry.body.entry_key] : [])))
    return [...kept, ...sent].flatMap(({ run, entry_key, observation }) => (observation && !gone.has(entry_key) ? [{ run, entry_key, ...observation }] : []))
  })

  /** Marks made in this run. */
  const marks = computed(() => {
    const made = observed.value.filter(({ run, code, value }) => run === runId.value && code !== 'out_of_reach' && value !== false)
    return new Map(made.map(({ code, entry_key }) => [code, entry_key]))
  })

  /** What can't be read where it is, each with the key of the entry behind it. */
  const outOfReach = computed(() =>
    observed.value.flatMap(({ code, value, entry_key }) => {
      const [station = '', quantity = 'temperature'] = String(value).split('/')
      return code === 'out_of_reach' ? [{ station, quantity: quantity as QuantityName, entry_key }] : []
    }),
  )

  /** Photos that stand, those being taken back left out. */
  const photos = computed(() => {
    const gone = new Set(waiting.value.flatMap((entry) => (entry.what === 'withdrawals' ? [entry.body.entry_key] : [])))
    return (view.value?.photos ?? []).filter(({ entry_key }) => !gone.has(entry_key))
  })

  /** The instrument that a place fixes by itself, where it does. */
  function instrumentAt(at: Spot) {
    if (at.quantity === 'pressure') return 'gauge'
    return trayOf(at.station) === 'electrical' ? 'meter' : undefined
  }

  const readingOf = ({ station, quantity }: Spot, value: number, unit: string): Reading => ({
    station, quantity, value, unit: unit as 'degF',
    method: instrumentAt({ station, quantity }) ?? settings.method, at: new Date().toISOString(),
  })

  /** What stands in the field, as it was when it was typed. */
  let typed: Reading | null = null

  /** The server examines what is being typed before it is entered: then the findings come at once. */
  function foresee(at: Spot, value: number, unit: string) {
    if (!view.value || outbox.stuck) return
    typed = readingOf(at, value, unit)
    const params = { path: { visit_id: view.value.id } }
    void client.POST('/api/visits/{visit_id}/typed', { params, body: { run: runId.value, reading: typed } }).catch(() => undefined)
  }

  /** Take a reading and move the cursor to the next place of the tray that has none; false where there is no visit. */
  function take(at: Spot, value: number, unit: string): boolean {
    if (!view.value) return false
    const again = shown.value.has(spotKey(at))
    const reading = readingOf(at, value, unit)
    post(typed && sameReading(typed, reading) ? typed : reading)
    typed = null
    undone.value = []
    said.value = ''
    advance(again)
    return true
  }

  const post = (reading: Reading) =>
    outbox.post(view.value!.id, { what: 'readings', body: { run: runId.value, entry_key: entryKey(), reading } })

  function observe(observation: NewObservation['observation']) {
    if (view.value) outbox.post(view.value.id, { what: 'observations', body: { run: runId.value, entry_key: entryKey(), observation } })
  }

  function mark(code: ObservationCode) {
    const made = marks.value.get(code)
    if (made) takeBack(made)
    else observe({ code })
  }

  /** What was looked for: seen, or not. */
  const look = (code: ObservationCode, seen: boolean) => observe({ code, value: seen })

  /** A place nobody can get at is not asked for again on this visit. */
  const cantReach = ({ station, quantity }: Spot) => observe({ code: 'out_of_reach', value: `${station}/${quantity}` })

  /** Set a mark on a recording, at its moment. */
  function markRecording(recording: string, code: MarkCode, seconds: number): boolean {
    if (!view.value) return false
    const body = { recording, entry_key: entryKey(), mark: { code, seconds } }
    outbox.post(view.value.id, { what: 'marks', body })
    return true
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
    post({ ...again, at: new Date().toISOString() })
    undone.value = undone.value.slice(0, -1)
    goTo(again)
    said.value = `Entered again: ${inWords(again)}.`
  }

  return { said, undone, marks, outOfReach, photos, instrumentAt, foresee, take, mark, look, cantReach, markRecording, takeBack, undo, redo }
}
