import { describe, expect, it } from 'vitest'
import { parseEntry } from '../src/walk/parseEntry'
import { catalogue } from './fixtures'

const { suffixes } = catalogue
const read = (text: string, ...units: string[]) => parseEntry(text, units.length ? units : ['degF', 'degC'], suffixes)

describe('what was typed into the reading strip', () => {
  it.each([
    ['41.5', 41.5, 'degF'],
    [' 41,5 ', 41.5, 'degF'],
    ['-3', -3, 'degF'],
    ['−3', -3, 'degF'],
    ['+7.', 7, 'degF'],
    ['.5', 0.5, 'degF'],
    ['11C', 11, 'degC'],
    ['11 °c', 11, 'degC'],
    ['052', 52, 'degF'],
  ])('%j is %d %s', (text, value, unit) => {
    expect(read(text)).toEqual({ value, unit })
  })

  it('takes the unit behind the number over the one on screen', () => {
    expect(read('3.2bar', 'psi', 'kPa', 'bar')).toEqual({ value: 3.2, unit: 'bar' })
    expect(read('130PSIG', 'kPa', 'psi')).toEqual({ value: 130, unit: 'psi' })
    expect(read('10k', 'ohm', 'kohm')).toEqual({ value: 10, unit: 'kohm' })
  })

  it.each([
    ['', 'is not a number'],
    ['two', 'is not a number'],
    ['1.2.3', 'is not a unit'],
    ['1,000.5', 'is not a unit'],
    ['--4', 'is not a number'],
    ['4-', 'is not a unit'],
    ['1e3', 'is not a unit'],
    ['50psi', 'is not a unit'],
    ['50 toString', 'is not a unit'],
    ['50 constructor', 'is not a unit'],
    ['9'.repeat(400), 'is not a number'],
  ])('%j is refused, never guessed at', (text, words) => {
    expect(read(text)).toEqual({ problem: expect.stringContaining(words) })
  })

  it('takes every unit of every place by its own suffix', () => {
    const bySuffix = new Set(Object.values(suffixes))
    for (const station of catalogue.stations) {
      for (const { units } of station.quantities) {
        for (const unit of units.filter((one) => bySuffix.has(one))) {
          const suffix = Object.keys(suffixes).find((one) => suffixes[one] === unit)!
          expect(parseEntry(`12${suffix}`, units, suffixes), `${station.code} in ${suffix}`).toEqual({ value: 12, unit })
        }
      }
    }
  })
})
