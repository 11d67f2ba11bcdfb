import { describe, expect, it } from 'vitest'
import type { Handbook } from '../src/api/types'
import { entriesOf, search, MOVING } from '../src/handbook/entries'
import { toSlider } from '../src/handbook/slider'
import { handbook } from './fixtures'

const entries = entriesOf(handbook as Handbook)

describe('what the Handbook can open', () => {
  it('holds every moving part, the chart of a unit, and every refrigerant, calculator, limit and fault once', () => {
    const { refrigerants, calculators, limits, faults } = handbook
    expect(entries.length).toBe(Object.keys(MOVING).length + 1 + refrigerants.length + calculators.length + limits.length + faults.length)
    expect(new Set(entries.map((entry) => `${entry.kind} ${entry.code}`)).size).toBe(entries.length)
  })

  it('finds by every word, in any order and case, titles first', () => {
    const found = search(entries, 'TARGET superheat')
    expect(found.length).toBeGreaterThan(0)
    for (const entry of found) {
      const text = `${entry.title} ${entry.text} ${entry.code}`.toLowerCase()
      expect(text).toContain('target')
      expect(text).toContain('superheat')
    }
    const titled = found.map((entry) => /target/i.test(entry.title) && /superheat/i.test(entry.title))
    expect(titled).toEqual([...titled].sort((a, b) => Number(b) - Number(a)))
  })

  it('finds a fault by what else it is called, and by its code', () => {
    for (const fault of handbook.faults) {
      expect(search(entries, fault.code).map((entry) => entry.code)).toContain(fault.code)
      for (const synonym of fault.synonyms) expect(search(entries, synonym).map((entry) => entry.code)).toContain(fault.code)
    }
  })

  it('shows everything for no word and nothing for a word there is not', () => {
    expect(search(entries, '  ').length).toBe(entries.length)
    expect(search(entries, 'zeppelin')).toEqual([])
  })
})

describe('a slider', () => {
  const numbers = handbook.calculators
    .flatMap((calculator) => calculator.inputs)
    .filter((input) => input.units.length)
    .flatMap(({ name, shown }) => Object.entries(shown).map(([units, input]) => ({ name: `${name} ${units}`, ...input })))

  it('moves in the unit of its input, from end to end, by steps a finger can tell apart', () => {
    expect(numbers.length).toBeGreaterThan(20)
    for (const input of numbers) {
      const slider = toSlider(input, input.unit)!
      expect([slider.min, slider.max], input.name).toEqual([input.low, input.high])
      const steps = (slider.max - slider.min) / slider.step
      expect(steps, input.name).toBeGreaterThanOrEqual(40)
      expect(steps, input.name).toBeLessThanOrEqual(2000)
    }
  })

  it('is none in another unit, and none without a range', () => {
    const input = { ...numbers[0]!, unit: 'degF', low: 0, high: 100 }
    expect(toSlider(input, 'degC')).toBeNull()
    expect(toSlider({ ...input, high: 0 }, 'degF')).toBeNull()
  })
})
