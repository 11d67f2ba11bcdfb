// What of a recording is drawn how: the lines in the order of the walk, and the window around a defrost.
import type { Drawn, SeenDefrost } from '../api/types'

/** Lines shown at first; the others can be pressed in. */
const FIRST = ['outdoor_coil', 'coil_sensor', 'outdoor_air_in', 'supply_air', 'supply_air_after_heat']

export interface Stroke {
  color: string
  width: number
  dash: number[]
}

const STROKES: Record<string, Stroke> = {
  outdoor_coil: { color: '--line-coil', width: 3, dash: [] },
  coil_sensor: { color: '--line-coil', width: 1.5, dash: [6, 4] },
  outdoor_air_in: { color: '--line-air', width: 2, dash: [2, 5] },
  ambient_sensor: { color: '--line-air', width: 1.5, dash: [8, 3] },
  supply_air: { color: '--line-supply', width: 2.5, dash: [] },
  supply_air_after_heat: { color: '--line-heated', width: 2, dash: [9, 4] },
  return_air: { color: '--line-air', width: 1.5, dash: [1, 3] },
}
const OTHERS: number[][] = [[], [8, 4], [2, 4], [10, 3, 2, 3], [4, 2]]

export interface Line {
  station: string
  seconds: number[]
  values: number[]
  stroke: Stroke
  first: boolean
}

/** The lines of a recording, those that tell most first; without any of them, the first two there are. */
export function linesOf(drawn: Drawn): Line[] {
  const rank = (station: string) => (FIRST.includes(station) ? FIRST.indexOf(station) : FIRST.length)
  const ordered = [...drawn.series].sort((a, b) => rank(a.station) - rank(b.station))
  const known = ordered.some((one) => FIRST.includes(one.station))
  let other = 0
  return ordered.map((one, place) => ({
    ...one,
    stroke: STROKES[one.station] ?? { color: '--line-other', width: 1.8, dash: OTHERS[other++ % OTHERS.length]! },
    first: known ? FIRST.includes(one.station) : place < 2,
  }))
}

const BEFORE = 240
const AFTER = 900

/** The seconds to show: all of a recording, or one defrost with what was before and after it. */
export function windowOf(length: number, defrost: SeenDefrost | undefined): [number, number] {
  if (!defrost) return [0, Math.max(length, 60)]
  const from = (defrost.started ?? 0) - BEFORE
  return [Math.max(0, from), Math.min(Math.max(length, 60), (defrost.ended ?? length) + AFTER)]
}

/** Lines as uPlot takes them: one x for all, each value at its own second, gaps left open. */
export function aligned(lines: { seconds: number[]; values: number[]; shift?: number }[]): [number[], ...(number | null | undefined)[][]] {
  const x = [...new Set(lines.flatMap((line) => line.seconds.map((at) => at + (line.shift ?? 0))))].sort((a, b) => a - b)
  const place = new Map(x.map((at, i) => [at, i]))
  const rows = lines.map((line) => {
    // Undefined is joined across, null parts the line.
    const row: (number | null | undefined)[] = new Array<undefined>(x.length).fill(undefined)
    const steps = line.seconds.slice(1).map((at, i) => at - line.seconds[i]!)
    const usual = [...steps].sort((a, b) => a - b)[Math.floor(steps.length / 2)] ?? 1
    line.seconds.forEach((at, i) => {
      row[place.get(at + (line.shift ?? 0))!] = line.values[i]
      if (i && at - line.seconds[i - 1]! > Math.max(120, 3 * usual)) {
        const cut = place.get(line.seconds[i - 1]! + (line.shift ?? 0))! + 1
        if (row[cut] === undefined) row[cut] = null
      }
    })
    return row
  })
  return [x, ...rows]
}

/** A moment as a clock shows it: 1:02:05, or 4:07. */
export function clock(seconds: number): string {
  const whole = Math.round(seconds)
  const [hours, minutes, rest] = [Math.floor(whole / 3600), Math.floor((whole % 3600) / 60), whole % 60]
  const two = (n: number) => String(n).padStart(2, '0')
  return hours ? `${hours}:${two(minutes)}:${two(rest)}` : `${minutes}:${two(rest)}`
}
