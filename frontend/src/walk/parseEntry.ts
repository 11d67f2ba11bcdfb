// What was typed into the reading strip → a number and a unit.
import type { Catalogue } from '../api/types'

export type Parsed = { value: number; unit: string } | { problem: string }

/**
 * Read `41.5`, `41,5`, `−3`, `11C`, `3.2bar`. A unit behind the number is optional; `units` are those the
 * quantity takes, the first of them being what a bare number means.
 */
export function parseEntry(text: string, units: string[], suffixes: Catalogue['suffixes']): Parsed {
  const match = /^([+\-−]?(?:\d+(?:[.,]\d*)?|[.,]\d+))\s*(\S*)$/.exec(text.trim())
  const value = match ? Number(match[1]!.replace('−', '-').replace(',', '.')) : NaN
  if (!match || !Number.isFinite(value)) return { problem: `“${text.trim()}” is not a number.` }
  const suffix = match[2]!.toLowerCase()
  const unit = suffix ? Object.entries(suffixes).find(([typed]) => typed === suffix)?.[1] : units[0]
  if (!unit || !units.includes(unit)) return { problem: `“${match[2]}” is not a unit that fits here.` }
  return { value, unit }
}
