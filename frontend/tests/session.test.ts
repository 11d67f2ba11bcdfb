import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { SessionView } from '../src/api/types'
import { entryKey } from '../src/stores/entryKey'
import { useOutbox, type Post } from '../src/stores/outbox'
import { useSession } from '../src/stores/session'
import { line } from './line'

const ANN: SessionView = { state: 'in', account: 1, name: 'Ann', role: 'technician', may: ['enter', 'read'], may_in_words: '', csrf: 'token of Ann' }
const BEN: SessionView = { ...ANN, account: 2, name: 'Ben', csrf: 'token of Ben' }
const OUT: SessionView = { state: 'out', account: null, name: null, role: null, may: [], may_in_words: '', csrf: null }
const reading = (value: number): Post => ({
  what: 'readings',
  body: { run: 'run-1', entry_key: entryKey(), reading: { station: 'discharge_line', quantity: 'temperature', value, unit: 'degF', method: 'clamp', at: null } },
})

/** A server that knows who has signed in, and takes a reading from nobody else. */
let known: SessionView
let taken: { value: number; token: string | null }[]
const answer = (status: number, body: unknown) => new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } })
const problem = (status: number) => answer(status, { type: 'about:blank', title: '', status, detail: 'no', errors: [] })

/** The page is loaded anew. */
async function opened() {
  setActivePinia(createPinia())
  const session = useSession()
  await session.load()
  return { session, outbox: useOutbox() }
}
const settled = () => vi.waitFor(() => new Promise((done) => setTimeout(done, 20)))

beforeEach(() => {
  known = ANN
  taken = []
  line.ask = async (request) => {
    if (new URL(request.url).pathname === '/api/session') return answer(200, known)
    const token = request.headers.get('X-CSRF-Token')
    if (known.state !== 'in') return problem(401)
    if (token !== known.csrf || !known.may.includes('enter')) return problem(403)
    const { entry_key, reading: { value } } = JSON.parse(await request.text()) as { entry_key: string; reading: { value: number } }
    taken.push({ value, token })
    return answer(201, { entry_key })
  }
})

describe('what is typed', () => {
  it('goes with the token of who has signed in', async () => {
    const { outbox } = await opened()
    outbox.post(7, reading(160))
    await settled()
    expect(taken).toEqual([{ value: 160, token: 'token of Ann' }])
    expect(outbox.unsent).toEqual([])
  })

  it('waits while nobody has signed in any more, and goes once the same person has', async () => {
    const { session, outbox } = await opened()
    known = OUT
    outbox.post(7, reading(160))
    await settled()
    expect(session.outside).toBe(true)
    expect(outbox.unsent.map((entry) => entry.refused)).toEqual([null])
    known = { ...ANN, csrf: 'another token' }
    await session.load()
    await settled()
    expect(taken).toEqual([{ value: 160, token: 'another token' }])
  })

  it('never goes under the name of another', async () => {
    const before = await opened()
    known = OUT
    before.outbox.post(7, reading(160))
    await settled()
    known = BEN
    const { outbox } = await opened()
    await outbox.flush()
    outbox.post(7, reading(161))
    await settled()
    expect(taken).toEqual([{ value: 161, token: 'token of Ben' }])
    expect(outbox.others.map((entry) => entry.by?.name)).toEqual(['Ann'])
    known = ANN
    await (await opened()).outbox.flush()
    await settled()
    expect(taken.at(-1)).toEqual({ value: 160, token: 'token of Ann' })
  })

  it('is kept and said to be refused where the role does not allow it', async () => {
    const { outbox } = await opened()
    known = { ...ANN, may: ['read'] }
    outbox.post(7, reading(160))
    await settled()
    expect(outbox.refused.map((entry) => entry.refused)).toEqual(['no'])
  })
})

describe('a right', () => {
  it('is missed with a reason, and nobody misses any before the server said so', async () => {
    setActivePinia(createPinia())
    expect(useSession().may('limits')).toBe(true)
    expect(useSession().outside).toBe(false)
    const { session } = await opened()
    expect(session.may('enter')).toBe(true)
    expect(session.refusal('limits', 'a lead changes limits')).toBe('Signed in as technician, you read here; a lead changes limits.')
    expect(session.refusal('enter', 'whoever')).toBe('')
  })
})
