// The visit on screen: what the server says of it, and where the cursor stands.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { ask, client } from '../api/client'
import type { Clock, NewRun, ReadingInForce, VisitView } from '../api/types'
import { useCatalogue } from './catalogue'
import { useOutbox } from './outbox'
import { useSettings } from './settings'

/** A reading as a tag shows it: in force, or typed and still on its way. */
export interface Shown {
  value: number
  unit: string
  early: boolean
  infrared: boolean
  state: 'kept' | 'unsent' | 'refused'
}

/** A key nobody else will make; `randomUUID` would be missing on a phone that reaches the server over plain HTTP. */
const entryKey = () =>
  Array.from(crypto.getRandomValues(new Uint8Array(16)), (byte) => byte.toString(16).padStart(2, '0')).join('')

export const useVisit = defineStore('visit', () => {
  const settings = useSettings()
  const outbox = useOutbox()
  const catalogue = useCatalogue()

  const view = shallowRef<VisitView | null>(null)
  const runId = ref('')
  const station = ref('')

  const run = computed(() => view.value?.visit.runs.find((r) => r.id === runId.value) ?? null)
  const examined = computed(() => view.value?.examination.runs.find((r) => r.id === runId.value) ?? null)
  const stations = computed(() =>
    catalogue.inWalkingOrder(examined.value?.path.map((stop) => stop.station) ?? []),
  )

  const shown = computed(() => {
    const tags = new Map<string, Shown>()
    for (const reading of examined.value?.readings ?? []) {
      if (reading.quantity === 'temperature') tags.set(reading.station, kept(reading))
    }
    for (const { body, refused } of outbox.waiting(view.value?.id ?? 0, runId.value)) {
      const { value, unit, method } = body.reading
      tags.set(body.reading.station, {
        value, unit, early: false, infrared: method === 'infrared', state: refused ? 'refused' : 'unsent',
      })
    }
    return tags
  })

  const kept = (reading: ReadingInForce): Shown => ({
    value: reading.value,
    unit: reading.unit,
    early: reading.early,
    infrared: reading.method === 'infrared',
    state: 'kept',
  })

  function accept(answer: VisitView) {
    view.value = answer
    if (!answer.visit.runs.some((r) => r.id === runId.value)) {
      runId.value = answer.visit.runs.at(-1)?.id ?? ''
    }
    if (!stations.value.includes(station.value)) station.value = firstUnread() ?? stations.value[0] ?? ''
  }

  const firstUnread = () =>
    view.value?.examination.next_readings.find((next) => next.run === runId.value)?.station

  async function load(id: number) {
    if (view.value?.id !== id) {
      view.value = null
      runId.value = station.value = ''
    }
    const params = { path: { visit_id: id }, query: { units: settings.units } }
    accept(await ask(client.GET('/api/visits/{visit_id}', { params })))
    void outbox.flush()
  }

  async function addRun(body: NewRun) {
    if (!view.value) return
    const params = { path: { visit_id: view.value.id }, query: { units: settings.units } }
    const answer = await ask(client.POST('/api/visits/{visit_id}/runs', { params, body }))
    runId.value = answer.visit.runs.at(-1)?.id ?? ''
    station.value = ''
    accept(answer)
  }

  async function setClock(body: Clock) {
    if (!view.value) return
    const params = { path: { visit_id: view.value.id, run: runId.value }, query: { units: settings.units } }
    accept(await ask(client.PATCH('/api/visits/{visit_id}/runs/{run}/clock', { params, body })))
  }

  /** Take a reading and move the cursor to the next station that has none. */
  function take(code: string, value: number, unit: string) {
    if (!view.value) return
    outbox.post(view.value.id, {
      run: runId.value,
      entry_key: entryKey(),
      reading: {
        station: code,
        quantity: 'temperature',
        value,
        unit: unit as 'degF',
        method: settings.method,
        at: new Date().toISOString(),
      },
    })
    advance()
  }

  function advance() {
    const at = stations.value.indexOf(station.value)
    const onwards = [...stations.value.slice(at + 1), ...stations.value.slice(0, at)]
    station.value = onwards.find((code) => !shown.value.has(code)) ?? onwards[0] ?? station.value
  }

  function step(by: 1 | -1) {
    const at = stations.value.indexOf(station.value) + by
    station.value = stations.value[at] ?? station.value
  }

  function stepRun(by: 1 | -1) {
    const runs = view.value?.visit.runs ?? []
    chooseRun(runs[runs.findIndex((r) => r.id === runId.value) + by]?.id ?? runId.value)
  }

  function chooseRun(id: string) {
    runId.value = id
    station.value = firstUnread() ?? stations.value[0] ?? ''
  }

  watch(
    () => outbox.latest,
    (answer) => answer && answer.id === view.value?.id && accept(answer),
  )
  watch(
    () => settings.units,
    () => view.value && void load(view.value.id),
  )

  return {
    view, runId, station, run, examined, stations, shown,
    load, addRun, setClock, take, advance, step, stepRun, chooseRun,
  }
})
