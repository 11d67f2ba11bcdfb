import { describe, expect, it } from 'vitest'
import { shared } from '../src/stores/sharing'

describe('what did not change', () => {
  const before = { runs: [{ id: 'a', checks: [{ code: 'x', margin: 1 }] }, { id: 'b', checks: [] }], notes: null as string | null }
  const copy = () => structuredClone(before)

  it('stays the same object, whole or in part', () => {
    expect(shared(before, copy())).toBe(before)
    const next = copy()
    next.runs[0]!.checks[0]!.margin = 2
    const found = shared(before, next)
    expect(found).toEqual(next)
    expect(found).not.toBe(before)
    expect(found.runs[1]).toBe(before.runs[1])
    expect(before.runs[0]!.checks[0]!.margin, 'and what was shown is not touched').toBe(1)
  })

  it.each([
    ['one more', [1, 2], [1, 2, 3]],
    ['one less', [1, 2, 3], [1, 2]],
    ['a list for an object', {}, []],
    ['nothing for something', { a: { b: 1 } }, { a: null }],
    ['something for nothing', { a: null }, { a: { b: 1 } }],
    ['another key of the same count', { a: undefined }, { b: undefined }],
    ['a key less', { a: 1, b: 2 }, { a: 1 }],
    ['no number at all', { a: NaN }, { a: 1 }],
  ])('is told from what did: %s', (_, old, now) => {
    const found = shared(old, now)
    expect(found).toStrictEqual(now)
    expect(found).not.toBe(old)
  })
})
