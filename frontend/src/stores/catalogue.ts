// Stations, units and words: fetched once, before anything is drawn.
import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { ask, client } from '../api/client'
import { baseOf, headOf } from '../walk/heads'
import { useSettings } from './settings'
import type { Catalogue, StationEntry, Unit } from '../api/types'

type Meter = Unit['indoor_meter']

export const useCatalogue = defineStore('catalogue', () => {
  const catalogue = shallowRef<Catalogue | null>(null)

  async function reload() {
    catalogue.value = await ask(client.GET('/api/catalogue'))
  }
  let loading: Promise<void> | null = null
  /** Once, however many wait for it. */
  async function load() {
    if (catalogue.value) return
    loading ??= reload().finally(() => (loading = null))
    await loading
  }

  const byCode = computed(() => new Map(catalogue.value?.stations.map((s) => [s.code, s])))
  const order = computed(() => new Map(catalogue.value?.stations.map((s, index) => [s.code, index])))

  // Coil circuits are numbered and share one entry per coil; so do the stations of several heads.
  const station = (code: string): StationEntry | undefined =>
    byCode.value.get(code) ?? byCode.value.get(code.replace(/:\d+$/, ':N')) ?? byCode.value.get(baseOf(code))
  const named = (words: string | undefined, code: string) => {
    const head = headOf(code)
    return words && head ? `${words}, head ${head}` : (words?.replace('N', code.split(':')[1] ?? 'N') ?? code)
  }
  /** Short names of stations as the unit on screen has them, by its own metering devices. */
  const onUnit = shallowRef<Record<string, string>>({})
  const short = (code: string) => onUnit.value[code] ?? (code.includes(':') ? named(station(code)?.short, code) : (station(code)?.short ?? code))
  const title = (code: string) => (code.includes(':') ? named(station(code)?.title, code) : (station(code)?.title ?? code))
  const symbol = (unit: string) => catalogue.value?.symbols[unit] ?? unit
  /** Behind a difference of pressures, which is above nothing. */
  const symbolOfDifference = (unit: string) => catalogue.value?.difference_symbols[unit] ?? symbol(unit)
  /** Behind what a check or an indicator measures. */
  const symbolOf = (rule: string, unit: string) => (catalogue.value?.differences.includes(rule) ? symbolOfDifference(unit) : symbol(unit))
  const word = (vocabulary: string, code: string) => catalogue.value?.words[vocabulary]?.[code] ?? code
  /** A quantity at its place: *Common suction port, pressure*; a temperature goes without saying. */
  const titleOf = (station: string, quantity: string) => title(station) + (quantity === 'temperature' ? '' : `, ${word('quantity', quantity)}`)
  const inWalkingOrder = (codes: string[]) =>
    [...codes].sort((a, b) => (order.value.get(a) ?? order.value.get(baseOf(a)) ?? 999) - (order.value.get(b) ?? order.value.get(baseOf(b)) ?? 999))

  /** The units the screen is in. */
  const displayUnits = computed(() => catalogue.value?.display_units[useSettings().units] ?? [])
  const usualBypass = (kind: Meter['kind']): Meter['bypass'] => catalogue.value?.usual_bypass[kind] ?? 'none'

  return { catalogue, onUnit, usualBypass, displayUnits, load, reload, station, short, title, titleOf, symbol, symbolOf, symbolOfDifference, word, inWalkingOrder }
})
