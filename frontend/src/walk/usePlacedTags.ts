// The tags of the circuit that are in sight, moved off one another and off the machines. A tag is as large as its words, in pixels;
// the sheet has units of its own.
import { computed, type ComputedRef } from 'vue'
import type { QuantityName } from '../api/types'
import { useCatalogue } from '../stores/catalogue'
import type { Shown } from '../stores/visit'
import type { CircuitLayout, Frame, PlacedStation } from './circuitLayout'
import { apart, type Box } from './tagsApart'

const LETTER_PX = 12
const NOTE_PX = 13
/** How wide a letter of a tag is, what stands beside them, how wide a tag is at least, and how high. */
const TAG = { letter: 6.6, rest: 24, least: 86, leastFolded: 74, high: 46 }
const NAME = { letter: 6.4, rest: 14, least: 0, leastFolded: 0, high: 21 }

interface Drawn {
  layout: ComputedRef<CircuitLayout>
  frame: ComputedRef<Frame>
  /** Units of the sheet for a pixel. */
  scale: ComputedRef<number>
  /** Names only. */
  plain: () => boolean
  tagAt: (station: string, quantity?: QuantityName) => Shown | undefined
}

export function usePlacedTags({ layout, frame, scale, plain, tagAt }: Drawn) {
  const catalogue = useCatalogue()
  const folded = computed(() => frame.value.fold !== 'whole')
  const isHere = (at: PlacedStation) => !folded.value || (at.stop.place === 'indoors') === (frame.value.fold === 'indoors')

  const wordsOf = (code: string, quantity: QuantityName) =>
    quantity === 'temperature' || catalogue.station(code)?.quantities.length === 1
      ? catalogue.short(code)
      : `${catalogue.short(code)}, ${catalogue.word('quantity', quantity)}`
  // Not sent yet is no note: it is over before a tag could move for it.
  const isNoted = (tag: Shown | undefined) => !!tag && (tag.early || tag.doubted || tag.infrared || tag.state === 'refused')
  function sizeOf(code: string, quantity: QuantityName) {
    const { letter, rest, least, leastFolded, high } = plain() ? NAME : TAG
    const wide = Math.max(folded.value ? leastFolded : least, letter * wordsOf(code, quantity).length + rest)
    const note = !plain() && isNoted(tagAt(code, quantity)) ? NOTE_PX : 0
    return { width: wide * scale.value, height: (high + note) * scale.value }
  }

  /** What no tag may cover. */
  const machines = computed<Box[]>(() => {
    const letter = LETTER_PX * scale.value
    const inLine = layout.value.parts
      .filter(({ part }) => !part.endsWith('_coil'))
      .map(({ part, x, y }) => ({ x, y: y + letter / 2, width: Math.max(50, (part === 'drier' ? 5.5 : 4) * letter), height: 34 + 2 * letter }))
    if (frame.value.fold === 'indoors') return inLine
    const { valve, rows, discharge, suction, top } = frame.value
    const across = discharge - suction
    return [
      ...inLine,
      { x: valve.x, y: rows.compressor + 8, width: across, height: across + 2 * letter },
      { x: valve.x, y: top - 16, width: 2 * valve.half, height: 60 },
    ]
  })

  return computed(() => {
    const stations = layout.value.stations.filter(isHere)
    const taps = layout.value.taps.filter((tap) => stations.includes(tap.at))
    const wanted = [
      ...stations.map((one) => ({ x: one.tagX, y: one.tagY, ...sizeOf(one.stop.station, 'temperature') })),
      ...taps.map((one) => ({ x: one.tagX, y: one.tagY, ...sizeOf(one.tap, 'pressure') })),
    ]
    // Under the loop of the whole circuit stand the words about its lines.
    const words = folded.value ? 0 : 2.2 * LETTER_PX * scale.value
    const places = apart(wanted, machines.value, { width: frame.value.width, height: frame.value.height - words })
    const moved = <T extends { tagX: number; tagY: number }>(one: T, place: Box): T => ({ ...one, tagX: place.x, tagY: place.y })
    return {
      stations: stations.map((one, n) => moved(one, places[n]!)),
      taps: taps.map((one, n) => moved(one, places[stations.length + n]!)),
    }
  })
}
