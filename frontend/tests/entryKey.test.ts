import { describe, expect, it, vi } from 'vitest'
import { Refused, Unreachable } from '../src/api/client'
import { entryKey, useOnce } from '../src/stores/entryKey'

const refused = (status: number) => new Refused({ type: '', title: '', status, detail: 'no', errors: [] })

describe('a key', () => {
  it('is nobody else’s and fits the server', () => {
    const keys = new Set(Array.from({ length: 1000 }, entryKey))
    expect(keys.size).toBe(1000)
    for (const key of keys) expect(key).toMatch(/^[0-9a-f]{32}$/)
  })
})

describe('a thing to make once', () => {
  it('is sent as it was, under its key, while no answer came; the next one gets a key of its own', async () => {
    const once = useOnce<{ at: string }>()
    const send = vi.fn().mockRejectedValueOnce(new Unreachable()).mockRejectedValueOnce(refused(503)).mockResolvedValue('made')
    await expect(once('call', { at: 'one' }, send)).rejects.toThrow()
    await expect(once('call', { at: 'two' }, send)).rejects.toThrow()
    expect(await once('call', { at: 'three' }, send)).toEqual({ answer: 'made', sent: { at: 'one' } })
    await once('call', { at: 'four' }, send)
    const [first, second, third, fourth] = send.mock.calls.map(([body]) => body)
    expect(second).toEqual(first)
    expect(third).toEqual(first)
    expect(first.at).toBe('one')
    expect(fourth.at).toBe('four')
    expect(fourth.entry_key).not.toBe(first.entry_key)
  })

  it('is let go when it was refused, and when something else is asked for', async () => {
    const once = useOnce<{ at: string }>()
    const send = vi.fn().mockRejectedValueOnce(refused(422)).mockRejectedValueOnce(new Unreachable()).mockResolvedValue('made')
    await expect(once('call', { at: 'one' }, send)).rejects.toThrow('no')
    await expect(once('call', { at: 'two' }, send)).rejects.toThrow()
    await once('another call', { at: 'three' }, send)
    const keys = send.mock.calls.map(([body]) => body.entry_key)
    expect(new Set(keys).size).toBe(3)
    expect(send.mock.calls.map(([body]) => body.at)).toEqual(['one', 'two', 'three'])
  })
})

describe('a refusal', () => {
  const said = (pointer: string) =>
    new Refused({ type: '', title: '', status: 422, detail: '', errors: [{ pointer, message: '0 W is outside.' }] }).message

  it('names the field among many, and not the one that was typed alone', () => {
    expect(said('/nominal_capacity/value')).toBe('nominal capacity: 0 W is outside.')
    expect(said('/new_unit/unit/design/supply_fan_power/value')).toBe('supply fan power: 0 W is outside.')
    expect(said('/reading/value')).toBe('0 W is outside.')
    expect(refused(409).message).toBe('no')
  })
})
