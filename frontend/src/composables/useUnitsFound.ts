// Units of the book to choose from: the first of them, or those that were searched for.
import { ref, shallowRef } from 'vue'
import { ask, client } from '../api/client'
import type { UnitsFound } from '../api/types'

export function useUnitsFound() {
  const found = shallowRef<UnitsFound | null>(null)
  /** The unit that was wanted first of those found. */
  const wanted = ref(0)
  let turn = 0

  /** Those in which all words stand, `first` before them; an answer that comes behind that of a later question is old. */
  async function find(words: string, first?: number) {
    const mine = ++turn
    const query = { ...(words ? { words } : {}), ...(first ? { first } : {}) }
    const answer = await ask(client.GET('/api/units/found', { params: { query } }))
    if (mine !== turn) return
    found.value = answer
    if (!words) wanted.value = first ?? 0
  }

  return { found, wanted, find }
}
