// The list of calls and the equipment they can be opened on.
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import { ask, client } from '../api/client'
import type { NewVisit, UnitView, VisitLine } from '../api/types'
import { useOnce } from './entryKey'
import { setClockOf } from './clock'
import { useSettings } from './settings'

/** The first run of a call, as the server numbers them. */
const FIRST_RUN = 'run-1'
export type NewCall = Omit<NewVisit, 'entry_key'>

export const useCalls = defineStore('calls', () => {
  const settings = useSettings()
  const visits = shallowRef<VisitLine[] | null>(null)
  const units = shallowRef<UnitView[] | null>(null)

  async function loadVisits() {
    const query = { units: settings.units }
    visits.value = (await ask(client.GET('/api/visits', { params: { query } }))).visits
  }

  async function load() {
    const [book] = await Promise.all([ask(client.GET('/api/units')), loadVisits()])
    units.value = book.units
  }

  const once = useOnce<NewCall>()

  /** Start a call; gives the number of its visit. */
  async function start(call: NewCall): Promise<number> {
    // The moment it was started aside, the same call sent again is the same call.
    const about = JSON.stringify({ ...call, run: call.run.mode })
    const { answer, sent } = await once(about, call, (body) => ask(client.POST('/api/visits', { body })))
    if (sent !== call) await setClockOf(answer.id, FIRST_RUN, call.run)
    return answer.id
  }

  return { visits, units, load, loadVisits, start }
})
