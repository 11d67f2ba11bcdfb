// The list of calls and the equipment they can be opened on.
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import { ask, client } from '../api/client'
import type { NewVisit, UnitView, VisitLine } from '../api/types'
import { useSettings } from './settings'

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

  /** Start a call; gives the number of its visit. */
  async function start(call: NewVisit): Promise<number> {
    const query = { units: settings.units }
    return (await ask(client.POST('/api/visits', { params: { query }, body: call }))).id
  }

  return { visits, units, load, loadVisits, start }
})
