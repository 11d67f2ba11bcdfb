// A file by its name, and its clock beside this place's.
import { afterEach, describe, expect, it } from 'vitest'
import { fieldOf, inHours, inMinutes, offsetOf, startOf } from '../src/recorder/fileClock'
import { kindOf } from '../src/shell/dropped'

const zone = process.env.TZ
afterEach(() => {
  process.env.TZ = zone
})

describe('a file', () => {
  it('is told by its ending, whatever else is in its name', () => {
    expect(['coil.CSV', 'a.b.txt', 'x.tsv'].map(kindOf)).toEqual(['rows', 'rows', 'rows'])
    expect(['visit.json', 'book.ZIP'].map(kindOf)).toEqual(['records', 'records'])
    expect(['csv', 'coil.csv.xlsx', 'photo.jpg', ''].map(kindOf)).toEqual([null, null, null, null])
  })
})

describe('its clock', () => {
  it.each([
    ['America/New_York', '2026-01-15T07:00:00', '-05:00'],
    ['America/New_York', '2026-07-15T07:00:00', '-04:00'],
    ['Asia/Kolkata', '2026-07-15 07:00:00', '+05:30'],
    ['America/St_Johns', '2026-01-15T07:00:00', '-03:30'],
  ])('has the offset that %s had at %s', (there, written, offset) => {
    process.env.TZ = there
    expect(offsetOf(written)).toBe(offset)
  })

  it('has none where no time can be read', () => {
    expect([offsetOf(null), offsetOf('soon')]).toEqual(['', ''])
    expect([startOf(''), startOf('2026-13-41')]).toEqual([null, null])
  })

  it('is the same, there and back', () => {
    process.env.TZ = 'Asia/Kolkata'
    for (const written of ['-05:00', '+05:30', '+00:00', '-09:30']) expect(inHours(inMinutes(written)!)).toBe(written)
    expect(['5', '+5', '05:00', '+05:75'].map(inMinutes)).toEqual([null, null, null, null])
    expect(fieldOf(startOf('2026-01-15T07:00:05'))).toBe('2026-01-15T07:00:05')
  })

  it('was at zero when this place says', () => {
    process.env.TZ = 'America/New_York'
    expect(startOf('2026-01-15T07:00:05')).toBe('2026-01-15T12:00:05.000Z')
  })
})
