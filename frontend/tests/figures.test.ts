import { describe, expect, it } from 'vitest'
import { clockFace, figure, plain, signed } from '../src/walk/figures'
import { temperatureColour } from '../src/walk/temperatureScale'

describe('numbers as the screen writes them', () => {
  it.each([
    [41.25, '41.3'], [-3, '−3.0'], [0, '0.0'], [999.94, '999.9'], [1240, '1,240'], [23_456.7, '23,457'], [-1240, '−1,240'],
  ])('figure(%d) is %s', (value, text) => expect(figure(value)).toBe(text))

  it('writes a band like the value it belongs to', () => {
    expect(figure(4, 1500)).toBe('4')
    expect(figure(4, 15)).toBe('4.0')
  })

  it.each([[5, '5'], [0.5, '0.5'], [1.25, '1.25'], [365, '365'], [12.5, '12.5'], [-40, '−40']])('plain(%d) is %s', (value, text) =>
    expect(plain(value)).toBe(text),
  )

  it('signs with a true minus', () => expect(signed(-1.25, 2)).toBe('−1.25'))

  it.each([[600, '10:00'], [59.2, '1:00'], [0.4, '0:01'], [-5, '0:00']])('clockFace(%d) is %s', (seconds, text) =>
    expect(clockFace(seconds)).toBe(text),
  )
})

describe('the scale of temperature', () => {
  it('is one scale in two units', () => {
    // The stops of the two scales are rounded to whole degrees.
    for (const [f, c] of [[40, 4], [75, 24], [120, 49]] as const) {
      expect(temperatureColour(f, 'degF')).toBe(temperatureColour(c, 'degC'))
    }
  })

  it('ends at its ends, and has no colour for what is no temperature', () => {
    expect(temperatureColour(-60, 'degF')).toBe(temperatureColour(0, 'degF'))
    expect(temperatureColour(350, 'degF')).toBe(temperatureColour(190, 'degF'))
    expect(temperatureColour(100, 'psi')).toBeNull()
    expect(temperatureColour(undefined, 'degF')).toBeNull()
  })

  it('tells cold from hot by lightness too', () => {
    const channels = (value: number) => temperatureColour(value, 'degF')!.match(/\d+/g)!.map(Number)
    const [cold, hot] = [channels(10), channels(180)]
    expect(cold[2]).toBeGreaterThan(cold[0]!)
    expect(hot[0]).toBeGreaterThan(hot[2]!)
  })
})
