// Numbers as they are typed. The app prints 1,234.5: a comma before three digits sets thousands apart, any other comma is a
// decimal point. Where both are possible, nothing is guessed.
import type { Catalogue, StationEntry } from '../api/types'

export interface Entry {
  value: number
  unit: string
}
export type Parsed = Entry | { either: Entry[]; problem: string } | { problem: string }
export type Possible = StationEntry['quantities'][number]['possible']

const WHOLE_OR_POINT = /^[+-]?(\d+\.?\d*|\.\d+)$/
const THOUSANDS = /^[+-]?[1-9]\d{0,2}(,\d{3})+(\.\d*)?$/
const DECIMAL_COMMA = /^[+-]?(\d+,\d*|,\d+)$/
const POINTS_AND_COMMA = /^[+-]?[1-9]\d{0,2}(\.\d{3})+,\d*$/

/** What a text can mean as a number, the likelier first; empty where it is none. */
export function meanings(text: string): number[] {
  const typed = text.replace('−', '-')
  const found = []
  if (WHOLE_OR_POINT.test(typed)) found.push(typed)
  if (THOUSANDS.test(typed)) found.push(typed.replaceAll(',', ''))
  // Nobody types a third decimal that is a zero.
  if (DECIMAL_COMMA.test(typed) && !(found.length && typed.endsWith('0'))) found.push(typed.replace(',', '.'))
  if (POINTS_AND_COMMA.test(typed)) found.push(typed.replaceAll('.', '').replace(',', '.'))
  return found.map(Number).filter(Number.isFinite)
}

/**
 * Read `41.5`, `41,5`, `1,200`, `−3`, `11C`, `3.2bar`. A unit behind the number is optional; `units` are those the quantity
 * takes, the first of them being what a bare number means; `possible` is what may be entered, by unit.
 */
export function readNumber(text: string, units: string[], suffixes: Catalogue['suffixes'], possible: Possible = {}): Parsed {
  const match = /^([+\-−]?[\d.,]+)\s*(\S*)$/.exec(text.trim())
  const values = match ? meanings(match[1]!) : []
  if (!match || !values.length) return { problem: `“${text.trim()}” is not a number.` }
  const suffix = match[2]!.toLowerCase()
  const unit = suffix ? Object.entries(suffixes).find(([typed]) => typed === suffix)?.[1] : units[0]
  if (unit === undefined || !units.includes(unit)) return { problem: `“${match[2]}” is not a unit that fits here.` }
  const range = possible[unit]
  const fitting = range ? values.filter((value) => value >= range.low && value <= range.high) : values
  const [likelier] = values
  if (values.length === 1 || !fitting.length || (fitting.length === 1 && fitting[0] === likelier)) return { value: likelier!, unit }
  const problem = fitting.length > 1 ? `“${match[1]}” can be read two ways. Which is meant?` : `“${match[1]}” is outside what can be read here.`
  return { either: fitting.map((value) => ({ value, unit })), problem }
}

/** The numbers of a row, each with its unit: `168 166 52F 54`; one text where it is no row. */
export function numbersOf(text: string): string[] {
  const one = String.raw`[+\-−]?[\d.,]+(?:\s*[^\s\d+\-−.,;]\S*)?`
  if (!new RegExp(String.raw`^\s*${one}(?:[\s;]+${one})*\s*$`).test(text)) return [text]
  return [...text.matchAll(new RegExp(one, 'g'))].map(([number]) => number.trim())
}

/** What is wrong, where there is no room to ask which was meant. */
export function inOneMessage(found: { either: Entry[]; problem: string } | { problem: string }): string {
  if (!('either' in found)) return found.problem
  return `${found.problem} Write ${found.either.map(({ value }) => value).join(' or ')}.`
}
