// Where everything stands in the picture of the circuit, worked out from the path alone: a loop with the
// indoor half left and the outdoor half right, vapor line over, liquid line under, the compressor and its
// valve inside the outdoor half.
import type { PathStop } from '../api/types'

export const WIDTH = 1000
export const HEIGHT = 580

const TOP = 120
const BOTTOM = 455
const LEFT = 62
const RIGHT = 938
export const WALL = 325
export const VALVE = { x: 700, y: TOP, half: 58 }
export const COMPRESSOR = { x: 700, y: 305, r: 32 }
const DISCHARGE_X = 735
const SUCTION_X = 665
const RISER_TOP = TOP + 28

export type Point = [number, number]

export interface PlacedStation {
  stop: PathStop
  x: number
  y: number
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

export function layCircuit(path: PathStop[]): CircuitLayout {
  const { stops, between } = byPlace(path)
  const outdoorCoil = stops.findIndex((stop) => stop.station === 'outdoor_coil')
  const indoorCoil = stops.findIndex((stop) => stop.station === 'indoor_coil')
  const placed = new Map<string, PlacedStation>()
  const parts: PlacedPart[] = []

  const put = (stop: PathStop, x: number, y: number, tagX: number, tagY: number) =>
    placed.set(stop.station, { stop, x, y, tagX, tagY })

  for (const stop of path) {
    if (stop.station === 'discharge_line') put(stop, DISCHARGE_X, 205, DISCHARGE_X + 72, 205)
    if (stop.station === 'common_suction') put(stop, SUCTION_X, 195, SUCTION_X - 72, 195)
    if (stop.station === 'compressor_inlet') put(stop, SUCTION_X, 255, SUCTION_X - 72, 255)
    if (stop.station === 'outdoor_coil') put(stop, RIGHT, 280, RIGHT - 92, 290)
    if (stop.station === 'indoor_coil') put(stop, LEFT, 280, LEFT + 92, 290)
  }

  const right = stops.slice(0, outdoorCoil)
  spread(right.length, VALVE.x + VALVE.half, RIGHT).forEach((x, i) => put(right[i]!, x, TOP, x, TOP - 58))

  const left = stops.slice(indoorCoil + 1)
  const inside = left.filter((stop) => stop.place === 'indoors')
  const outside = left.filter((stop) => stop.place !== 'indoors')
  spread(inside.length, LEFT, WALL).forEach((x, i) => put(inside[i]!, x, TOP, x, TOP - 58))
  spread(outside.length, WALL, VALVE.x - VALVE.half).forEach((x, i) => put(outside[i]!, x, TOP, x, TOP - 58))

  // The liquid line, read from right to left: stations with the parts that stand between them.
  const slots: Slot[] = []
  for (let index = outdoorCoil + 1; index < indoorCoil; index++) {
    slots.push({ stop: stops[index]! })
    if (index < indoorCoil - 1 && between[index] !== 'pipe') slots.push({ part: between[index]! })
  }
  const split = slots.findIndex((slot) => slot.stop?.place === 'indoors')
  const outdoorSlots = split < 0 ? slots : slots.slice(0, split)
  const indoorSlots = split < 0 ? [] : slots.slice(split)
  let row = 0
  const lay = (group: Slot[], from: number, to: number) =>
    spread(group.length, from, to).forEach((x, index) => {
      const { stop, part } = group[index]!
      if (part) parts.push({ part, x, y: BOTTOM })
      if (stop) put(stop, x, BOTTOM, x, row++ % 2 === 0 ? BOTTOM + 62 : BOTTOM - 62)
    })
  lay(outdoorSlots, RIGHT - 10, WALL + 10)
  lay(indoorSlots, WALL - 5, LEFT + 5)

  parts.push(
    { part: 'outdoor_coil', x: RIGHT, y: 280 },
    { part: 'indoor_coil', x: LEFT, y: 280 },
  )
  return {
    stations: [...placed.values()],
    parts,
    pipes: path.slice(0, -1).map((from, i) => pipe(from, path[i + 1]!, placed)),
  }
}

function pipe(from: PathStop, to: PathStop, placed: Map<string, PlacedStation>): Pipe {
  const a = placed.get(from.station)!
  const b = placed.get(to.station)!
  const start: Point = [a.x, a.y]
  const end: Point = [b.x, b.y]
  const port = (p: PlacedStation): Point => [p.x < VALVE.x ? VALVE.x - VALVE.half : VALVE.x + VALVE.half, TOP]
  let bends: Point[] = []
  if (from.station === 'discharge_line') bends = [[DISCHARGE_X, RISER_TOP], port(b)]
  else if (to.station === 'common_suction') bends = [port(a), [SUCTION_X, RISER_TOP]]
  else if (a.x !== b.x && a.y !== b.y) {
    const coil = to.station.endsWith('_coil') ? b : a
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
