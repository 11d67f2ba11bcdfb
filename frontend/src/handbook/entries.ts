// Everything the Handbook can open, as a flat list to search.
import type { Handbook } from '../api/types'

export interface Entry {
  kind: 'moving' | 'weather' | 'saturation' | 'calculators' | 'limits' | 'faults'
  code: string
  title: string
  text: string
}

/** Parts to be worked by hand. */
export const MOVING = {
  circuit: 'the whole circuit, step by step',
  valve: 'the reversing valve and its pilot',
  devices: 'metering devices, and their ways round',
  drier: 'the drier when flow reverses',
  accumulator: 'the accumulator',
} as const

export const KINDS = {
  moving: 'How it works',
  weather: 'Units of the book',
  saturation: 'Saturation',
  calculators: 'Calculators',
  limits: 'Practice limits',
  faults: 'Faults',
} as const

export function entriesOf(book: Handbook): Entry[] {
  return [
    ...Object.entries(MOVING).map(([code, title]) => ({ kind: 'moving' as const, code, title, text: 'how it works moving parts cutaway animation' })),
    { kind: 'weather', code: '', title: 'what this unit should do', text: 'chart performance capacity pressure outdoor temperature fault' },
    ...book.refrigerants.map((name) => ({ kind: 'saturation' as const, code: name, title: name, text: 'pressure temperature' })),
    ...book.calculators.map((c) => ({ kind: 'calculators' as const, code: c.code, title: c.title, text: c.formula })),
    ...book.limits.map((l) => ({ kind: 'limits' as const, code: l.name, title: l.title, text: l.reason })),
    ...book.faults.map((f) => ({ kind: 'faults' as const, code: f.code, title: f.title, text: [f.what, f.apart, ...f.synonyms].join(' ') })),
  ]
}

/** Entries whose title or text has every word; those with the words in their title come first. */
export function search(entries: Entry[], wanted: string): Entry[] {
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean)
  const has = (text: string) => words.every((word) => text.toLowerCase().includes(word))
  return [
    ...entries.filter((e) => has(e.title)),
    ...entries.filter((e) => !has(e.title) && has(`${e.title} ${e.text} ${e.code}`)),
  ]
}
