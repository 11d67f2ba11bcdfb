// What the API answers, made by tests/demo_book.py from the demo records.
import { readFileSync } from 'node:fs'
import type { Catalogue, Handbook, VisitView } from '../src/api/types'

const made = JSON.parse(readFileSync('../build/fixtures.json', 'utf8')) as { catalogue: Catalogue; handbook: Handbook; visits: VisitView[] }
export const catalogue = made.catalogue
export const handbook = made.handbook
export const visits = made.visits

/** The demo visit at a site whose headline has these words. */
export function visitAt(site: string): VisitView {
  const found = visits.find((view) => view.visit.site.name.includes(site))
  if (!found) throw new Error(`no demo visit at ${site}`)
  return structuredClone(found)
}
