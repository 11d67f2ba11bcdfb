import { describe, expect, test } from 'vitest'
import type { SeenDefrost } from '../src/api/types'
import { aligned, clock, linesOf, windowOf } from '../src/walk/defrostLines'

const series = (station: string, seconds: number[], values = seconds.map(() => 50)) => ({ station, seconds, values })

describe('lines of a recording', () => {
  test('what tells most of a defrost comes first and is shown', () => {
    const found = linesOf({ unit: 'degF', series: ['valve_to_indoor', 'supply_air', 'outdoor_coil'].map((name) => series(name, [0, 1])) })
    expect(found.map((line) => line.station)).toEqual(['outdoor_coil', 'supply_air', 'valve_to_indoor'])
    expect(found.map((line) => line.first)).toEqual([true, true, false])
  })

  test('without any of them something is shown all the same, and no two look alike', () => {
    const found = linesOf({ unit: 'degF', series: ['valve_to_indoor', 'common_suction', 'discharge_line'].map((name) => series(name, [0, 1])) })
    expect(found.map((line) => line.first)).toEqual([true, true, false])
    expect(new Set(found.map((line) => line.stroke.dash.join())).size).toBe(3)
  })
})

describe('one axis for all', () => {
  test('clocks that differ keep their own seconds; between samples a line is joined', () => {
    const [x, one, two] = aligned([series('a', [0, 2, 4], [1, 2, 3]), series('b', [0, 3], [7, 8])])
    expect(x).toEqual([0, 2, 3, 4])
    expect(one).toEqual([1, 2, undefined, 3])
    expect(two).toEqual([7, undefined, 8, undefined])
  })

  test('a gap parts the line, where another line has samples in it', () => {
    const dense = series('a', Array.from({ length: 61 }, (_, i) => i * 10))
    const [, , thin] = aligned([dense, series('b', [0, 10, 20, 500, 510], [1, 2, 3, 4, 5])])
    expect(thin).toContain(null)
    expect(thin!.filter((value) => typeof value === 'number')).toEqual([1, 2, 3, 4, 5])
  })

  test('another defrost is shifted so that both begin together', () => {
    const [x, , over] = aligned([series('a', [100, 110]), { ...series('a', [600, 610], [5, 6]), shift: -500 }])
    expect(x).toEqual([100, 110])
    expect(over).toEqual([5, 6])
  })
})

test('a defrost is shown with what was before and after it, within the recording', () => {
  const defrost = (started: number | null, ended: number | null) => ({ started, ended }) as SeenDefrost
  expect(windowOf(8000, undefined)).toEqual([0, 8000])
  expect(windowOf(8000, defrost(3600, 3800))).toEqual([3360, 4700])
  expect(windowOf(4000, defrost(null, 120))).toEqual([0, 1020])
  expect(windowOf(4000, defrost(3900, null))).toEqual([3660, 4000])
})

test('a clock of seconds', () => {
  expect([clock(9), clock(247), clock(3725.4)]).toEqual(['0:09', '4:07', '1:02:05'])
})
