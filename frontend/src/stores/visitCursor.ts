// Where the cursor stands: the places of this unit by tray, in walking order, and the ways from one to the next.
import { computed, ref, type ComputedRef, type Ref } from 'vue'
import type { NextReading, QuantityName, RunExamination } from '../api/types'
import { baseOf } from '../walk/heads'
import { useCatalogue } from './catalogue'

/** A place to read: a station and one of its quantities. */
export interface Spot {
  station: string
  quantity: QuantityName
}
export const spotKey = (spot: Spot) => `${spot.station} ${spot.quantity}`

// In the order in which they are worked: gauges only once the rest calls for them.
export const TRAYS = ['pipes', 'air', 'water', 'electrical', 'gauges', 'circuits'] as const
export type Tray = (typeof TRAYS)[number]
const TRAY_OF: Record<string, Tray> = {
  line: 'pipes', tap: 'gauges', air: 'air', water: 'water', electrical: 'electrical', circuit: 'circuits',
}


interface Around {
  examined: ComputedRef<RunExamination | null>
  /** The next readings as the examination wants them, those of this run. */
  wanted: () => NextReading[]
  shown: ComputedRef<Map<string, unknown>>
  /** Whether a place can be read here at all; every one can where nothing is said. */
  within?: (spot: Spot) => boolean
}

export function useCursor({ examined, wanted, shown, within = () => true }: Around) {
  const catalogue = useCatalogue()
  const spot: Ref<Spot> = ref({ station: '', quantity: 'temperature' })
  const tray = ref<Tray>('pipes')
  const circuitCount = ref(4)

  function reset() {
    spot.value = { station: '', quantity: 'temperature' }
    tray.value = 'pipes'
  }

  const trayOf = (station: string): Tray => TRAY_OF[catalogue.station(station)?.group ?? 'circuit'] ?? 'pipes'
  // A water coil is one coaxial tube: it has no circuits to clamp.
  const onAir = (side: string) => examined.value?.stations.some((code) => baseOf(code) === (side === 'indoor' ? 'return_air' : 'outdoor_air_in'))
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
        if (within({ station, quantity })) trays.get(trayOf(station))!.push({ station, quantity })
      }
    }
    // Thermometers go round once before the wet wick does.
    const later = (place: Spot) => Number(place.quantity !== 'temperature')
    trays.get('air')!.sort((a, b) => later(a) - later(b))
    return trays
  })
  const here = computed(() => spots.value.get(tray.value) ?? [])

  function goToFirstUnread() {
    const next = wanted().find((n) => n.station)
    const first = here.value[0] ?? spots.value.get('pipes')?.[0]
    if (next) goTo(next)
    else if (first) goTo(first)
  }

  function goTo({ station, quantity }: Spot) {
    spot.value = { station, quantity }
    tray.value = trayOf(station)
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

  return { spot, tray, circuitCount, spots, here, traysHere, trayOf, reset, goTo, goToFirstUnread, advance, skip, step, chooseTray, stepTray }
}
