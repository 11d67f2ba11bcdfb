import { describe, expect, it } from 'vitest'
import { numbersOf, readNumber } from '../src/numbers/readNumber'
import { catalogue } from './fixtures'

const { suffixes } = catalogue
const read = (text: string, ...units: string[]) => readNumber(text, units.length ? units : ['degF', 'degC'], suffixes)
const at = (station: string, quantity: string, text: string) => {
  const asked = catalogue.stations.find((one) => one.code === station)!.quantities.find((one) => one.quantity === quantity)!
  return readNumber(text, [asked.display_unit.field!, ...asked.units], suffixes, asked.possible)
}

describe('what was typed as a number', () => {
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
    ['1,000.5', 1000.5, 'degF'],
    ['1.234,5', 1234.5, 'degF'],
    ['0,125', 0.125, 'degF'],
  ])('%j is %d %s', (text, value, unit) => {
    expect(read(text)).toEqual({ value, unit })
  })

  it('reads a comma as the app prints it, and asks where both readings are possible', () => {
    expect(at('indoor_airflow', 'flow', '1,200')).toEqual({ value: 1200, unit: 'cfm' })
    expect(at('indoor_airflow', 'flow', '12,345')).toMatchObject({ either: [{ value: 12345 }, { value: 12.345 }] })
    expect(at('indoor_airflow', 'flow', '1,234')).toMatchObject({ either: [{ value: 1234 }, { value: 1.234 }] })
    // No gauge shows a thousandth of a psi, and none goes to 1,118: the one number there is left is offered, not taken.
    expect(at('liquid_service_tap', 'pressure', '1,118')).toEqual({ either: [{ value: 1.118, unit: 'psi' }], problem: expect.stringContaining('is outside what can be read here') })
    expect(at('liquid_service_tap', 'pressure', '118,5')).toEqual({ value: 118.5, unit: 'psi' })
    expect(at('discharge_line', 'temperature', '1,234,567')).toEqual({ value: 1234567, unit: 'degF' })
  })

  it('takes the unit behind the number over the one on screen', () => {
    expect(read('3.2bar', 'psi', 'kPa', 'bar')).toEqual({ value: 3.2, unit: 'bar' })
    expect(read('130PSIG', 'kPa', 'psi')).toEqual({ value: 130, unit: 'psi' })
    expect(read('10k', 'ohm', 'kohm')).toEqual({ value: 10, unit: 'kohm' })
  })

  it.each([
    ['', 'is not a number'],
    ['two', 'is not a number'],
    ['1.2.3', 'is not a number'],
    ['1,00,0', 'is not a number'],
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
          expect(readNumber(`12${suffix}`, units, suffixes), `${station.code} in ${suffix}`).toEqual({ value: 12, unit })
        }
      }
    }
  })

  it.each([
    ['168 166 52 54', ['168', '166', '52', '54']],
    ['75.6C 52F\n−3', ['75.6C', '52F', '−3']],
    ['11 C', ['11 C']],
    ['168; 166', ['168', '166']],
    ['168, 166, 52', ['168,', '166,', '52']],
    ['warm 52', ['warm 52']],
    ['', ['']],
  ])('%j is a row of %j', (text, row) => {
    expect(numbersOf(text)).toEqual(row)
  })
})
