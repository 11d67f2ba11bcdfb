// The probes of a visit: what they show now and showed a while ago, asked for once a second; what is said of it; and what is done
// with them.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { ask, client } from '../api/client'
import type { Findings, Happening, Live, Mode, Way } from '../api/types'
import { entryKey } from './entryKey'
import { useSettings } from './settings'

const EACH_MS = 1000
/** As far back as the server tells. */
const KEPT_S = 900

/** What a place showed, second by second. */
export interface Track {
  station: string
  quantity: string
  unit: string
  seconds: number[]
  values: number[]
}

export const trackKey = (of: { station: string | null; quantity: string | null }) => `${of.station} ${of.quantity}`

export const useLive = defineStore('live', () => {
  const settings = useSettings()
  const live = shallowRef<Live | null>(null)
  const tracks = shallowRef(new Map<string, Track>())
  const findings = shallowRef<Findings | null>(null)
  const revision = ref('')
  const silent = ref(false)
  let visit = 0
  let units = settings.units
  let run = ''

  const on = computed(() => live.value?.on ?? false)
  const values = computed(() => (live.value?.probes ?? []).flatMap((probe) => (probe.connected ? probe.values.map((value) => ({ probe, value })) : [])))

  function forget() {
    tracks.value = new Map()
    findings.value = null
    revision.value = ''
  }

  function merge(answer: Live) {
    const before = live.value
    // A kit that was begun anew counts from zero again.
    if (!before || answer.second < before.second || answer.on !== before.on) forget()
    live.value = answer
    if (!answer.series.length && tracks.value.size) return
    const next = new Map(tracks.value)
    for (const { station, quantity, unit, seconds, values } of answer.series) {
      const key = trackKey({ station, quantity })
      const known = next.get(key)
      const fresh = known ? seconds.filter((at) => at > (known.seconds.at(-1) ?? -1)).length : seconds.length
      const all = [...(known?.seconds ?? []), ...seconds.slice(seconds.length - fresh)]
      const from = all.findIndex((at) => at > answer.second - KEPT_S)
      const numbers = [...(known?.values ?? []), ...values.slice(values.length - fresh)]
      next.set(key, { station, quantity, unit, seconds: all.slice(from), values: numbers.slice(from) })
    }
    tracks.value = next
  }

  /** What the probes show, once; false where nobody answered, or the answer is of no use any more. */
  async function look() {
    const of = visit
    if (units !== settings.units) {
      units = settings.units
      live.value = null
      forget()
    }
    const after = live.value?.on ? live.value.second : 0
    try {
      const answer = await ask(client.GET('/api/visits/{visit_id}/live', { params: { path: { visit_id: of }, query: { after, units } }, cache: 'no-store' }))
      if (of !== visit || units !== settings.units) return false
      silent.value = false
      merge(answer)
      return true
    } catch {
      silent.value = of === visit
      return false
    }
  }

  /** What is said of what they show, where something can be. */
  async function lookAtFindings() {
    if (!live.value?.on || !run || !tracks.value.size) return
    const of = visit
    const query = { run, units, ...(revision.value ? { since: revision.value } : {}) }
    try {
      const said = await ask(client.GET('/api/visits/{visit_id}/live/findings', { params: { path: { visit_id: of }, query }, cache: 'no-store' }))
      if (of !== visit || query.run !== run || units !== settings.units) return
      if (said.findings) findings.value = said.findings
      revision.value = said.revision
    } catch {
      silent.value = of === visit
    }
  }

  /** Look at the probes of a visit from now on, for a run that `ofRun` names; gives what ends it. */
  function follow(id: number, ofRun: () => string) {
    visit = id
    live.value = null
    forget()
    let ended = false
    async function again() {
      if (ended) return
      const asked = performance.now()
      if (run !== ofRun()) {
        run = ofRun()
        findings.value = null
        revision.value = ''
      }
      if (await look()) await lookAtFindings()
      if (!ended) setTimeout(() => void again(), Math.max(100, EACH_MS - (performance.now() - asked)))
    }
    void again()
    return () => {
      ended = true
    }
  }

  const params = () => ({ path: { visit_id: visit } })
  const inUnits = () => ({ ...params(), query: { units: settings.units } })
  /** Done, and seen; the findings, which take longer, follow with the next look. */
  async function then(work: Promise<unknown>) {
    await work
    await look()
  }

  const listen = (by: Way) => then(ask(client.PUT('/api/visits/{visit_id}/live', { params: params(), body: { by } })))
  const end = () => then(ask(client.DELETE('/api/visits/{visit_id}/live', { params: params() })))
  const connect = (address: string, connected: boolean) =>
    then(ask(client.PUT('/api/visits/{visit_id}/live/probes', { params: params(), body: { address, connected } })))
  const put = (address: string, measures: string, station: string | null) =>
    then(ask(client.PUT('/api/visits/{visit_id}/live/places', { params: params(), body: { address, measures, station } })))
  const happen = (what: Partial<Happening>) =>
    then(ask(client.PUT('/api/visits/{visit_id}/live/simulated', { params: params(), body: what })))
  const take = (ofRun: string, everything: boolean) =>
    ask(client.POST('/api/visits/{visit_id}/live/readings', { params: inUnits(), body: { run: ofRun, everything, entry_key: entryKey() } }))
  const record = (mode: Mode, minutes_running: number | null, circuit: string | null) =>
    then(ask(client.POST('/api/visits/{visit_id}/live/recording', { params: inUnits(), body: { mode, minutes_running, circuit, entry_key: entryKey() } })))
  const stop = () => then(ask(client.DELETE('/api/visits/{visit_id}/live/recording', { params: params() })))
  const mark = (recording: string, seconds: number, code: string) =>
    ask(client.POST('/api/visits/{visit_id}/marks', { params: params(), body: { recording, entry_key: entryKey(), mark: { seconds, code: code as never } } }))
  const window = (recording: string, begin: number, end_: number, most: number) =>
    ask(client.GET('/api/visits/{visit_id}/recordings/{recording}/window', { params: { path: { visit_id: visit, recording }, query: { begin, end: end_, most, units: settings.units } } }))
  const takeMeans = (recording: string, ofRun: string, begin: number, end_: number) =>
    ask(client.POST('/api/visits/{visit_id}/recordings/{recording}/means', { params: { path: { visit_id: visit, recording }, query: { units: settings.units } }, body: { run: ofRun, begin, end: end_, entry_key: entryKey() } }))

  return { live, on, values, tracks, findings, silent, follow, listen, end, connect, put, happen, take, record, stop, mark, window, takeMeans }
})
