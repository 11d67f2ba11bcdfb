// Which visits a list shows, as its address says it: so that going back, or a link, shows the same ones.
import type { LocationQuery, LocationQueryRaw } from 'vue-router'
import type { VisitsAsked } from '../api/types'

const text = (query: LocationQuery, name: string) => {
  const value = query[name]
  return typeof value === 'string' && value !== '' ? value : undefined
}
const whole = (query: LocationQuery, name: string) => {
  const value = Number(text(query, name))
  return Number.isSafeInteger(value) && value > 0 ? value : undefined
}

export const askedIn = (query: LocationQuery): VisitsAsked => ({
  words: text(query, 'words'),
  outcome: text(query, 'outcome') as VisitsAsked['outcome'],
  mode: text(query, 'mode') as VisitsAsked['mode'],
  since: text(query, 'since'),
  unit: whole(query, 'unit'),
  page: whole(query, 'page'),
})

export const queryOf = (asked: VisitsAsked): LocationQueryRaw =>
  Object.fromEntries(Object.entries(asked).flatMap(([name, value]) => (value === undefined || value === null ? [] : [[name, String(value)]])))
