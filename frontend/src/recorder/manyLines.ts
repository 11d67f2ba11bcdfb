// Many lines that must be told apart: by colour and by dash, and each named beside its number.
import type { Series } from 'uplot'
import type { Track } from '../stores/live'

export interface ManySeries {
  key: string
  name: string
  unit: string
  quantity: string
  values: (number | null)[]
  color: string
  dash: number[]
}

const COLORS = ['--line-coil', '--line-supply', '--line-heated', '--line-other', '--line-air']
const DASHES: number[][] = [[], [7, 4], [2, 4], [10, 3, 2, 3], [1, 2]]

/** The look of the n-th line: each colour once in each dash. */
export const lookOf = (n: number) => ({ color: COLORS[n % COLORS.length]!, dash: DASHES[Math.floor(n / COLORS.length) % DASHES.length]! })

export const scaleOf = (one: { unit: string; quantity: string }) => one.unit

export function drawnAs(one: ManySeries, css: (name: string) => string): Series {
  return { stroke: css(one.color), width: 1.8, dash: one.dash, points: { show: false }, spanGaps: false }
}

/** Tracks with clocks of their own on one: a row of values for each, null where it has none at that second. */
export function onOneClock(tracks: Track[], from: number): { seconds: number[]; rows: (number | null)[][] } {
  const seconds = [...new Set(tracks.flatMap((track) => track.seconds))].filter((at) => at > from).sort((a, b) => a - b)
  const place = new Map(seconds.map((at, i) => [at, i]))
  const rows = tracks.map((track) => {
    const row: (number | null)[] = new Array<number | null>(seconds.length).fill(null)
    track.seconds.forEach((at, i) => {
      const where = place.get(at)
      if (where !== undefined) row[where] = track.values[i]!
    })
    return row
  })
  return { seconds, rows }
}

const LATER: Record<string, number> = { temperature: 0, pressure: 1, relative_humidity: 2 }

/** Temperatures first: the first two units there are get a scale. */
export const inOrder = <T extends { quantity: string }>(all: T[]) =>
  [...all].sort((a, b) => (LATER[a.quantity] ?? 3) - (LATER[b.quantity] ?? 3))

/** How much is on disk, as one says it. */
export const bytes = (count: number) => (count < 1e6 ? `${Math.max(1, Math.round(count / 1000))} kB` : `${(count / 1e6).toFixed(1)} MB`)
