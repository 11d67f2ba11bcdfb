import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { knowVisit } from '../src/api/visitKeys'
import { entryKey } from '../src/stores/entryKey'
import { useOutbox, type Post } from '../src/stores/outbox'
import { fakeServer } from './fakeServer'

const reading = (value: number, station = 'discharge_line'): Post => ({
  what: 'readings',
  body: {
    run: 'run-1', entry_key: entryKey(),
    reading: { station, quantity: 'temperature', value, unit: 'degF', method: 'clamp', at: null },
  },
})
const mark = (): Post => ({ what: 'observations', body: { run: 'run-1', entry_key: entryKey(), observation: { code: 'oil_stain' } } })
const shelves = () => Object.keys(localStorage).filter((name) => name.startsWith('icepick.outbox.')).length
const valuesOf = (sent: { body: object }[]) => sent.map((one) => (one.body as { reading?: { value: number } }).reading?.value)

/** The page is loaded anew: what was in memory is gone. */
function reloaded() {
  setActivePinia(createPinia())
  return useOutbox()
}

let server: ReturnType<typeof fakeServer>
beforeEach(() => {
  vi.useFakeTimers()
  server = fakeServer()
})
afterEach(() => vi.useRealTimers())
const settle = (ms = 0) => vi.advanceTimersByTimeAsync(ms)

describe('the outbox', () => {
  it('sends the entries of a visit in the order they were made, each once', async () => {
    const outbox = reloaded()
    for (const value of [160, 161, 162]) outbox.post(1, reading(value))
    outbox.post(1, mark())
    expect(outbox.unsent.length).toBe(4)
    expect(shelves()).toBe(4)
    await settle(100)
    expect(valuesOf(server.sent)).toEqual([160, 161, 162, undefined])
    expect([outbox.unsent.length, shelves()]).toEqual([0, 0])
    expect(outbox.delivered?.visitId).toBe(1)
  })

  it('keeps what a closed visit refuses, and sends it once the visit is opened again', async () => {
    let closed = true
    server.breaks = () => (closed ? server.problem(423, 'This visit is closed.') : undefined)
    let outbox = reloaded()
    outbox.post(1, reading(160))
    outbox.post(1, reading(161))
    await settle()
    expect(outbox.refused.map((entry) => [entry.refused, entry.closed])).toEqual(Array(2).fill(['This visit is closed.', true]))
    outbox = reloaded()
    closed = false
    await outbox.flush()
    expect(server.acknowledged).toEqual([])
    outbox.sendAgain(2)
    outbox.sendAgain(1)
    await settle()
    expect(valuesOf(server.acknowledged)).toEqual([160, 161])
    expect([outbox.refused.length, shelves()]).toEqual([0, 0])
  })

  it('keeps what it has until the server answers, through a reload, and sends it under the same key', async () => {
    server.breaks = () => { throw new TypeError('no line') }
    let outbox = reloaded()
    outbox.post(1, reading(160))
    outbox.post(1, reading(161))
    await settle()
    expect(outbox.offline).toBe(true)
    const key = (server.sent[0]!.body as { entry_key: string }).entry_key
    outbox = reloaded()
    expect(outbox.unsent.length).toBe(2)
    server.breaks = () => undefined
    await outbox.flush()
    expect(outbox.offline).toBe(false)
    expect(valuesOf(server.acknowledged).slice(-2)).toEqual([160, 161])
    expect(server.acknowledged.map((one) => one.body.entry_key)).toContain(key)
    expect(shelves()).toBe(0)
  })

  it('tries again by itself', async () => {
    server.breaks = () => { throw new TypeError('no line') }
    const outbox = reloaded()
    outbox.post(1, reading(160))
    await settle()
    server.breaks = () => undefined
    await settle(2000)
    expect(outbox.unsent.length).toBe(0)
  })

  it('sets a refused entry aside with its reason; the next ones go on, and it survives a reload', async () => {
    server.breaks = (asked) => (valuesOf([asked])[0] === 999 ? server.problem(422, '999 °F is outside.') : undefined)
    let outbox = reloaded()
    outbox.post(1, reading(160))
    outbox.post(1, reading(999, 'common_suction'))
    outbox.post(1, reading(161))
    await settle()
    expect(valuesOf(server.acknowledged)).toEqual([160, 161])
    expect(outbox.refused.map((entry) => entry.refused)).toEqual(['999 °F is outside.'])
    outbox = reloaded()
    expect(outbox.refused.length).toBe(1)
    outbox.drop(outbox.refused[0]!)
    expect(shelves()).toBe(0)
  })

  it('forgets what was refused once a later number stands at the same place', async () => {
    server.breaks = (asked) => (valuesOf([asked])[0] === 999 ? server.problem(422, '999 °F is outside.') : undefined)
    let outbox = reloaded()
    outbox.post(1, reading(999))
    await settle()
    expect(outbox.refused.length).toBe(1)
    outbox.post(1, reading(162))
    await settle()
    expect(outbox.refused).toEqual([])
    outbox = reloaded()
    expect([outbox.refused.length, shelves()]).toEqual([0, 0])
  })

  it('lets no visit wait for another on which the server breaks', async () => {
    server.breaks = (asked) => (asked.path.startsWith('/api/visits/1/') ? server.problem(500, 'broke') : undefined)
    const outbox = reloaded()
    outbox.post(1, reading(160))
    outbox.post(2, reading(170))
    outbox.post(1, reading(161))
    outbox.post(2, reading(171))
    await settle()
    expect(valuesOf(server.acknowledged)).toEqual([170, 171])
    expect(outbox.unsent.map((entry) => entry.visitId)).toEqual([1, 1])
    expect(outbox.offline, 'the server is there').toBe(false)
    server.breaks = () => undefined
    await settle(2000)
    expect(valuesOf(server.acknowledged)).toEqual([170, 171, 160, 161])
  })

  it('sends from this page what the device has no room for, says so meanwhile, and keeps it once there is room', async () => {
    const outbox = reloaded()
    vi.spyOn(Storage.prototype, 'setItem').mockImplementation(() => { throw new DOMException('full', 'QuotaExceededError') })
    outbox.post(1, reading(160))
    await settle(100)
    expect(valuesOf(server.acknowledged)).toEqual([160])
    expect(outbox.full).toBe(false)
    server.breaks = () => { throw new TypeError('no line') }
    outbox.post(1, reading(161))
    await settle()
    expect([outbox.full, shelves()]).toEqual([true, 0])
    expect(dispatchEvent(new Event('beforeunload', { cancelable: true })), 'the page may not be left unasked').toBe(false)
    vi.restoreAllMocks()
    outbox.post(1, reading(162))
    expect([outbox.full, shelves()]).toEqual([false, 2])
    server.breaks = () => undefined
    await settle(2000)
    expect(valuesOf(server.acknowledged)).toEqual([160, 161, 162])
  })

  it('keeps the order in which entries were made when the clock is set back, over a reload too', async () => {
    server.breaks = () => { throw new TypeError('no line') }
    // As an older Icepick named what it kept, by its clock.
    const { entry_key, ...old } = { entry_key: 'old', ...reading(159) }
    localStorage.setItem(`icepick.outbox.000001764600000000-000000000000000-${entry_key}`, JSON.stringify({ ...old, visitId: 1, refused: null }))
    vi.setSystemTime(new Date('2026-12-01T12:00:00Z'))
    reloaded().post(1, reading(160))
    vi.setSystemTime(new Date('2026-11-01T12:00:00Z'))
    reloaded().post(1, reading(161))
    server.breaks = () => undefined
    const outbox = reloaded()
    await outbox.flush()
    // The pages before this one still try, too: each is kept once.
    expect([...new Set(valuesOf(server.acknowledged))]).toEqual([159, 160, 161])
  })

  it('sends each entry under the key of the visit it was made for, and keeps what that visit no longer takes', async () => {
    knowVisit({ id: 68, key: 'the first' })
    server.breaks = () => { throw new TypeError('no line') }
    let outbox = reloaded()
    outbox.post(68, reading(177.7))
    await settle()
    // The records are put back, and another call gets the number.
    knowVisit({ id: 68, key: 'another' })
    server.breaks = (asked) => (asked.visitKey === 'the first' ? server.problem(410, 'The visit is not there any more.') : undefined)
    outbox = reloaded()
    outbox.post(68, reading(55))
    await outbox.flush()
    await settle()
    expect(server.acknowledged.map((one) => [one.visitKey, ...valuesOf([one])])).toEqual([['another', 55]])
    expect(outbox.sentOf(68).length).toBe(1)
    outbox = reloaded()
    expect(outbox.gone.map((one) => [one.visitId, one.visitKey])).toEqual([[68, 'the first']])
    outbox.sendAgain(68)
    await settle(3000)
    expect(server.acknowledged.length).toBe(1)
    expect(shelves()).toBe(1)
  })

  it('is not stopped by what somebody else left on its shelf', () => {
    localStorage.setItem('icepick.outbox.0', '{half a')
    expect(reloaded().entries).toEqual([])
  })

  it('holds what was sent until it has been shown', async () => {
    const outbox = reloaded()
    outbox.post(1, reading(160))
    await settle()
    expect(outbox.sentOf(1).length).toBe(1)
    outbox.letGo(outbox.sentOf(1))
    expect(outbox.entries).toEqual([])
  })
})
