// The Handbook: fetched once; a changed limit comes back with it.
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import { ask, client } from '../api/client'
import type { AnswerView, Dome, Given, Handbook, LimitEffects, SaturationTable } from '../api/types'
import { useCatalogue } from './catalogue'
import { useSettings } from './settings'

export const useHandbook = defineStore('handbook', () => {
  const settings = useSettings()
  const handbook = shallowRef<Handbook | null>(null)
  const query = () => ({ units: settings.units })

  async function load() {
    handbook.value ??= await ask(client.GET('/api/handbook'))
  }

  /** Change a limit, or restore its default with null. */
  async function changeLimit(name: string, value: number | null) {
    const params = { path: { name } }
    handbook.value = await ask(client.PUT('/api/handbook/limits/{name}', { params, body: { value, units: settings.units } }))
    await useCatalogue().reload()
  }

  /** The visits that read otherwise than before the limits were changed last. */
  const effects = (): Promise<LimitEffects> => ask(client.GET('/api/handbook/effects'))

  const saturation = (name: string): Promise<SaturationTable> =>
    ask(client.GET('/api/refrigerants/{name}/saturation', { params: { path: { name }, query: query() } }))

  const domes = new Map<string, Promise<Dome>>()
  /** The dome of a refrigerant, in the units of the moment; asked for once. */
  function dome(name: string): Promise<Dome> {
    const key = `${name} ${settings.units}`
    const found = domes.get(key) ?? ask(client.GET('/api/refrigerants/{name}/dome', { params: { path: { name }, query: query() } }))
    domes.set(key, found)
    found.catch(() => domes.delete(key))
    return found
  }

  const calculate = (code: string, given: Given): Promise<AnswerView> =>
    ask(client.POST('/api/calculators/{code}', { params: { path: { code }, query: query() }, body: { given } }))

  /** What the readings of a run give a calculator to start from. */
  async function filling(visit: number, run: string, code: string): Promise<Given> {
    const params = { path: { visit_id: visit, run, code } }
    return (await ask(client.GET('/api/visits/{visit_id}/runs/{run}/calculators/{code}', { params }))).given
  }

  return { handbook, load, changeLimit, effects, saturation, dome, calculate, filling }
})
