// The equipment book: units, and what a unit in the making would look like.
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import { ask, client, Refused } from '../api/client'
import type { ChartAsked, Examination, MachineSheet, Site, Unit, UnitView, WeatherChart } from '../api/types'
import { useCatalogue } from './catalogue'
import { useSettings } from './settings'
import { useOnce } from './entryKey'

export const useBook = defineStore('book', () => {
  const units = shallowRef<UnitView[] | null>(null)
  const preview = shallowRef<Examination | null>(null)

  async function load() {
    units.value = (await ask(client.GET('/api/units'))).units
  }

  const machine = shallowRef<MachineSheet | null>(null)
  /** What is stated of it in other units than the screen's, converted; nothing while that is on its way. */
  const stated = shallowRef<MachineSheet['stated']>({})

  let sized = 0
  /** Size the machine of a unit, in the units the screen is in. */
  async function size(unit: Unit) {
    const mine = ++sized
    stated.value = {}
    const found = await ask(client.POST('/api/units/machine', { params: { query: { units: useSettings().units } }, body: unit }))
    if (mine !== sized) return
    machine.value = found
    stated.value = found.stated
  }

  /** What a unit should do in any weather. */
  const chart = (asked: ChartAsked): Promise<WeatherChart> =>
    ask(client.POST('/api/units/chart', { params: { query: { units: useSettings().units } }, body: asked }))

  let turn = 0
  /** What a unit would look like; an answer that comes behind that of a later question is old. */
  async function look(unit: Unit) {
    const mine = ++turn
    const found = await ask(client.POST('/api/units/preview', { body: unit }))
    if (mine !== turn) return
    preview.value = found
    useCatalogue().onUnit = found.station_names
  }

  const once = useOnce<{ site: Site; unit: Unit }>()

  /** Enter a new unit; gives its number. */
  async function add(site: Site, unit: Unit): Promise<number> {
    const asked = { site, unit }
    const { answer: added } = await once(JSON.stringify(asked), asked, (body) => ask(client.POST('/api/units', { body })))
    await load()
    return added.id
  }

  /** Describe a unit anew over `revision`; false where somebody else was quicker. */
  async function revise(id: number, unit: Unit, revision: number): Promise<boolean> {
    const params = { path: { unit_id: id }, header: { 'If-Match': `"${revision}"` } }
    try {
      await ask(client.PUT('/api/units/{unit_id}', { params, body: unit }))
      return true
    } catch (error) {
      if (!(error instanceof Refused) || error.details.status !== 412) throw error
      return false
    } finally {
      await load()
    }
  }

  return { units, preview, machine, stated, load, look, size, chart, add, revise }
})
