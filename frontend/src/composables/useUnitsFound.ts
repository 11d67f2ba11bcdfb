// Units of the book to choose from: the first of them, or those that were searched for.
import { shallowRef } from 'vue'
import { ask, client } from '../api/client'
import type { UnitsFound } from '../api/types'

export function useUnitsFound() {
  const found = shallowRef<UnitsFound | null>(null)
  let turn = 0

  /** Those in which all words stand, `first` before them; an answer that comes behind that of a later question is old. */
  async function find(words: string, first?: number) {
    const mine = ++turn
    const query = { ...(words ? { words } : {}), ...(first ? { first } : {}) }
    const answer = await ask(client.GET('/api/units/found', { params: { query } }))
    if (mine === turn) found.value = answer
  }

  return { found, find }
}
