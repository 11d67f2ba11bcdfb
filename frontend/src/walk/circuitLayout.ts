// Where everything stands in the picture of the circuit, worked out from the path alone: a loop with the
// indoor half left and the outdoor half right, vapor line over, liquid line under, the compressor and its
// valve inside the outdoor half.
import type { PathStop, TapPlace } from '../api/types'
import { baseOf } from './heads'

/** How much of the loop is drawn: all of it, or, on a phone, the half in hand. */
export type Fold = 'whole' | 'indoors' | 'outdoors'

/** The sheet the loop is laid on. A half stands upright and takes the whole width. */
export interface Frame {
  fold: Fold
  width: number
  height: number
  left: number
  right: number
  top: number
  bottom: number
  wall: number
  valve: { x: number; half: number }
  discharge: number
  suction: number
  /** How far a tag stands from its pipe, how high a tag is, and the heights inside the loop. */
  reach: number
  tag: { width: number; height: number }
  rows: { discharge: number; common: number; inlet: number; coil: number; compressor: number }
}

const WHOLE: Frame = {
  fold: 'whole', width: 1000, height: 580, left: 62, right: 938, top: 120, bottom: 455, wall: 325,
  valve: { x: 700, half: 58 }, discharge: 735, suction: 665, reach: 60, tag: { width: 120, height: 54 },
  rows: { discharge: 205, common: 195, inlet: 255, coil: 280, compressor: 305 },
}
const HALF: Frame = {
  ...WHOLE, width: 1000, height: 1560, left: 90, right: 900, top: 280, bottom: 1190, reach: 140,
  valve: { x: 520, half: 90 }, discharge: 580, suction: 460, tag: { width: 240, height: 130 },
  rows: { discharge: 480, common: 460, inlet: 650, coil: 830, compressor: 860 },
}

/** `tall` draws a half that many times as high, where the sheet is so narrow that tags stand one under the other. */
export function frameFor(fold: Fold, tall = 1): Frame {
  if (fold === 'whole') return WHOLE
  const rows = Object.fromEntries(Object.entries(HALF.rows).map(([name, y]) => [name, y * tall])) as unknown as Frame['rows']
  const half = { ...HALF, height: HALF.height * tall, top: HALF.top * tall, bottom: HALF.bottom * tall, rows }
  return fold === 'indoors' ? { ...half, fold, right: 1060, wall: 1000 } : { ...half, fold, left: -60, wall: 16 }
}

export type Point = [number, number]

export interface PlacedStation {
  stop: PathStop
  x: number
  y: number
  tagX: number
  tagY: number
}

/** A pressure tap: its tag, beside the pipe it opens into. */
export interface PlacedTap {
  tap: string
  role: TapPlace['role']
  at: PlacedStation
  tagX: number
  tagY: number
}

export interface PlacedPart {
  part: PathStop['through']
  x: number
  y: number
}

export interface Pipe {
  from: PathStop
  to: PathStop
  points: Point[]
}

export interface CircuitLayout {
  stations: PlacedStation[]
  taps: PlacedTap[]
  parts: PlacedPart[]
  pipes: Pipe[]
}

interface Slot {
  stop?: PathStop
  part?: PathStop['through']
}

const spread = (count: number, from: number, to: number) =>
  Array.from({ length: count }, (_, index) => from + ((to - from) * (index + 0.5)) / count)

/** The chain from the outdoor port to the indoor port, whichever way the refrigerant runs. */
function byPlace(path: PathStop[]): { stops: PathStop[]; between: PathStop['through'][] } {
  const chain = path.filter(
    (stop) => !['discharge_line', 'common_suction', 'compressor_inlet'].includes(stop.station),
  )
  const between = chain.slice(0, -1).map((stop) => stop.through)
  return chain[0]?.station === 'valve_to_outdoor'
    ? { stops: chain, between }
    : { stops: chain.reverse(), between: between.reverse() }
}

const ROOM_FOR_A_NOTE = 7

/** Where a tap's tag goes: past its station's own tag, or across the line from it where that side is free. */
function placeTap(tap: TapPlace, at: PlacedStation, frame: Frame): PlacedTap {
  const { reach, tag, top } = frame
  const past = tag.height + ROOM_FOR_A_NOTE
  const tagX = at.tagX
  let tagY = at.tagY
  if (tap.at === 'common_suction') tagY = frame.rows.inlet + past
  else if (at.tagY === at.y) tagY += past
  else if (at.y === top) tagY = at.y + reach
  else tagY += at.tagY < at.y ? -past : past
  return { tap: tap.tap, role: tap.role, at, tagX, tagY }
}

/** Taps in turn; one whose tag would lie over another, or over the compressor, moves aside along its line. */
function placeTaps(taps: TapPlace[], placed: Map<string, PlacedStation>, frame: Frame): PlacedTap[] {
  const { width, height } = frame.tag
  const taken: { tagX: number; tagY: number }[] = [
    ...placed.values(), { tagX: (frame.discharge + frame.suction) / 2, tagY: frame.rows.compressor },
  ]
  return taps.flatMap((tap) => {
    const at = placed.get(tap.at)
    if (!at) return []
    const wanted = placeTap(tap, at, frame)
    const free = (tagX: number) =>
      taken.every((other) => Math.abs(other.tagX - tagX) >= width || Math.abs(other.tagY - wanted.tagY) >= height)
    const aside = [0, -1, 1, -1.4, 1.4, -2, 2].map((step) => wanted.tagX + step * width)
    const found = { ...wanted, tagX: tap.at.startsWith('liquid') || tap.at === 'valve_to_indoor' ? (aside.find(free) ?? wanted.tagX) : wanted.tagX }
    taken.push(found)
    return [found]
  })
}

export function layCircuit(path: PathStop[], taps: TapPlace[], frame: Frame): CircuitLayout {
  const { left: LEFT, right: RIGHT, top: TOP, bottom: BOTTOM, wall: WALL, valve: VALVE, reach, rows } = frame
  const { stops, between } = byPlace(path)
  const outdoorCoil = stops.findIndex((stop) => baseOf(stop.station) === 'outdoor_coil')
  const indoorCoil = stops.findIndex((stop) => baseOf(stop.station) === 'indoor_coil')
  const placed = new Map<string, PlacedStation>()
  const parts: PlacedPart[] = []

  const put = (stop: PathStop, x: number, y: number, tagX: number, tagY: number) =>
    placed.set(stop.station, { stop, x, y, tagX, tagY })

  for (const stop of path) {
    const aside = reach + 12
    if (stop.station === 'discharge_line') put(stop, frame.discharge, rows.discharge, frame.discharge + aside, rows.discharge)
    if (stop.station === 'common_suction') put(stop, frame.suction, rows.common, frame.suction - aside, rows.common)
    if (stop.station === 'compressor_inlet') put(stop, frame.suction, rows.inlet, frame.suction - aside, rows.inlet)
    if (stop.station === 'outdoor_coil') put(stop, RIGHT, rows.coil, RIGHT - aside - 20, rows.coil + 45)
    if (baseOf(stop.station) === 'indoor_coil') put(stop, LEFT, rows.coil, LEFT + aside + 20, rows.coil + 45)
  }

  const right = stops.slice(0, outdoorCoil)
  spread(right.length, VALVE.x + VALVE.half, RIGHT).forEach((x, i) => put(right[i]!, x, TOP, x, TOP - reach))

  const left = stops.slice(indoorCoil + 1)
  const inside = left.filter((stop) => stop.place === 'indoors')
  const outside = left.filter((stop) => stop.place !== 'indoors')
  spread(inside.length, LEFT, WALL).forEach((x, i) => put(inside[i]!, x, TOP, x, TOP - reach))
  spread(outside.length, WALL, VALVE.x - VALVE.half).forEach((x, i) => put(outside[i]!, x, TOP, x, TOP - reach))

  // The liquid line, read from right to left: stations with the parts that stand between them.
  const slots: Slot[] = []
  for (let index = outdoorCoil + 1; index < indoorCoil; index++) {
    slots.push({ stop: stops[index]! })
    if (index < indoorCoil - 1 && between[index] !== 'pipe') slots.push({ part: between[index]! })
  }
  const split = slots.findIndex((slot) => slot.stop?.place === 'indoors')
  const outdoorSlots = split < 0 ? slots : slots.slice(0, split)
  const indoorSlots = split < 0 ? [] : slots.slice(split)
  // Tags stand under and over the line in turn, so that the one with a pressure tap has room over it.
  const tapped = slots.filter((slot) => slot.stop).findIndex((slot) => taps.some((tap) => tap.at === slot.stop?.station))
  let row = tapped < 0 ? 0 : tapped + 1
  const lay = (group: Slot[], from: number, to: number) =>
    spread(group.length, from, to).forEach((x, index) => {
      const { stop, part } = group[index]!
      if (part) parts.push({ part, x, y: BOTTOM })
      if (stop) put(stop, x, BOTTOM, x, row++ % 2 === 0 ? BOTTOM + reach : BOTTOM - reach)
    })
  // A half has no neighbour beyond the wall for a tag to reach over to.
  const wallside = frame.fold === 'whole' ? 8 : 90
  lay(outdoorSlots, RIGHT - 10, WALL + wallside)
  lay(indoorSlots, WALL - wallside, LEFT + 5)

  parts.push(
    { part: 'outdoor_coil', x: RIGHT, y: rows.coil },
    { part: 'indoor_coil', x: LEFT, y: rows.coil },
  )
  return {
    stations: [...placed.values()],
    taps: placeTaps(taps, placed, frame),
    parts,
    pipes: path.slice(0, -1).map((from, i) => pipe(from, path[i + 1]!, placed, frame)),
  }
}

function pipe(from: PathStop, to: PathStop, placed: Map<string, PlacedStation>, frame: Frame): Pipe {
  const a = placed.get(from.station)!
  const b = placed.get(to.station)!
  const start: Point = [a.x, a.y]
  const end: Point = [b.x, b.y]
  const { valve, top } = frame
  const port = (p: PlacedStation): Point => [p.x < valve.x ? valve.x - valve.half : valve.x + valve.half, top]
  let bends: Point[] = []
  if (from.station === 'discharge_line') bends = [[frame.discharge, top + 28], port(b)]
  else if (to.station === 'common_suction') bends = [port(a), [frame.suction, top + 28]]
  else if (a.x !== b.x && a.y !== b.y) {
    const coil = baseOf(to.station).endsWith('_coil') ? b : a
    const other = coil === b ? a : b
    bends = [[coil.x, other.y]]
  }
  return { from, to, points: [start, ...bends, end] }
}

/** Cut a line in two at the middle of its length. */
export function halves(points: Point[]): { first: Point[]; second: Point[]; middle: Point; angle: number } {
  const lengths = points.slice(1).map((p, i) => Math.hypot(p[0] - points[i]![0], p[1] - points[i]![1]))
  let left = lengths.reduce((sum, length) => sum + length, 0) / 2
  let at = 0
  while (at < lengths.length - 1 && left > lengths[at]!) left -= lengths[at++]!
  const [a, b] = [points[at]!, points[at + 1]!]
  const share = lengths[at] ? left / lengths[at]! : 0
  const middle: Point = [a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share]
  return {
    first: [...points.slice(0, at + 1), middle],
    second: [middle, ...points.slice(at + 1)],
    middle,
    angle: (Math.atan2(b[1] - a[1], b[0] - a[0]) * 180) / Math.PI,
  }
}
