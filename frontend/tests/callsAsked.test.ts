import { describe, expect, it } from 'vitest'
import { askedIn, queryOf } from '../src/calls/asked'

describe('which visits a list shows', () => {
  it('is told by its address, and makes that address again', () => {
    const query = { words: 'boat shed', outcome: 'fail', mode: 'heating', since: '2026-11-01', unit: '3', page: '2' }
    const asked = askedIn(query)
    expect(asked).toEqual({ words: 'boat shed', outcome: 'fail', mode: 'heating', since: '2026-11-01', unit: 3, page: 2 })
    expect(queryOf(asked)).toEqual(query)
  })

  it('is every visit where the address says nothing, or nothing of use', () => {
    for (const query of [{}, { unit: 'x', page: '-1', words: '' }, { page: ['1', '2'] }, { unit: '1.5' }]) {
      expect(queryOf(askedIn(query))).toEqual({})
    }
  })
})
