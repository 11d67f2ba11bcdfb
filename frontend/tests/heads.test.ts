import { describe, expect, it } from 'vitest'
import type { HeadExamination, RunExamination } from '../src/api/types'
import { alongHead, atHead, baseOf, headOf, isOdd, stateOf } from '../src/walk/heads'
import { visitAt } from './fixtures'

const head = (calls: boolean | null, outdoors: HeadExamination['outdoors'], indoors: HeadExamination['indoors'] = null) =>
  ({ calls, outdoors, indoors }) as HeadExamination

describe('the heads of a unit that has several', () => {
  it('knows whose a station is, and the same place of another head', () => {
    expect(baseOf('indoor_coil:2')).toBe('indoor_coil')
    expect(['indoor_coil:2', 'common_suction', 'indoor_circuit:3'].map(headOf)).toEqual([2, 0, 0])
    expect(['indoor_coil:2', 'common_suction', 'outdoor_circuit:3'].map((code) => atHead(code, 4))).toEqual([
      'indoor_coil:4', 'common_suction', 'outdoor_circuit:3',
    ])
  })

  it.each([
    [head(true, 'fed', 'fed'), 'calls, fed', false],
    [head(true, 'fed', 'still'), 'calls, fed at its port, not fed in its room', true],
    [head(true, 'still'), 'calls, not fed', true],
    [head(false, 'still', 'still'), 'idle, shut', false],
    [head(false, 'bleeding'), 'idle, bleeding', false],
    [head(false, 'bleeding', 'fed'), 'idle, bleeding at its port, fed in its room', true],
    [head(true, null), 'calls, not read', false],
    [head(null, 'fed'), 'not noted whether it calls, fed', false],
  ])('says in words what runs in it: %#', (one, words, odd) => {
    expect(stateOf(one)).toBe(words)
    expect(isOdd(one)).toBe(odd)
  })

  it('sees a run along each head, by its own stations', () => {
    const run = visitAt('Heron Guest House').examination.runs[0] as RunExamination
    const heads = run.heads!
    for (const one of heads) {
      const seen = alongHead(run, one)
      expect(new Set(seen.path.map((stop) => headOf(stop.station)))).toEqual(new Set([0, one.number]))
      expect(seen.legs).toHaveLength(seen.path.length - 1)
      expect(Object.keys(seen.expected).length > 0).toBe(one.calls)
    }
    expect(alongHead(run, undefined)).toBe(run)
  })
})
