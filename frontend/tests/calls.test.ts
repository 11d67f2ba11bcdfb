import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import type { Unit } from '../src/api/types'
import { blankUnit, toUnit } from '../src/calls/unitDraft'
import { useBook } from '../src/stores/book'
import { useCalls, type NewCall } from '../src/stores/calls'
import { useCatalogue } from '../src/stores/catalogue'
import { catalogue } from './fixtures'
import { line } from './line'

type Sent = { method: string; path: string; body: Record<string, unknown>; match: string | null }
let sent: Sent[]
let answers: Record<string, { status: number; body: unknown }[]>

beforeEach(() => {
  setActivePinia(createPinia())
  useCatalogue().catalogue = catalogue
  sent = []
  answers = {}
  line.ask = async (request) => {
    const text = await request.text()
    const path = new URL(request.url).pathname
    sent.push({ method: request.method, path, body: text ? JSON.parse(text) : {}, match: request.headers.get('If-Match') })
    const next = answers[`${request.method} ${path}`]?.shift()
    if (!next) throw new TypeError('no line')
    return new Response(JSON.stringify(next.body), { status: next.status, headers: { 'Content-Type': 'application/json' } })
  }
})

const unit = (): Unit => toUnit({ ...blankUnit(), label: 'Cellar' }, (kind) => useCatalogue().usualBypass(kind))
const call = (at: string): NewCall => ({ unit_id: 3, complaint: 'weak', run: { mode: 'heating', started_at: at } })
const posts = (path: string) => sent.filter((one) => one.method === 'POST' && one.path === path).map((one) => one.body)

describe('a call', () => {
  it('that got no answer is the same call when it is started again', async () => {
    const calls = useCalls()
    await expect(calls.start(call('2026-03-04T09:30:00Z'))).rejects.toThrow('does not answer')
    answers['POST /api/visits'] = [{ status: 201, body: { id: 7 } }, { status: 201, body: { id: 8 } }]
    answers['PATCH /api/visits/7/runs/run-1/clock'] = [{ status: 200, body: { run: 'run-1' } }]
    expect(await calls.start(call('2026-03-04T09:30:20Z'))).toBe(7)
    const [first, again] = posts('/api/visits')
    expect(again).toEqual(first)
    expect(sent.at(-1)!.body.started_at, 'it starts when it was asked for last').toBe('2026-03-04T09:30:20Z')
    expect(await calls.start({ ...call('2026-03-04T09:31:00Z'), complaint: 'noise' })).toBe(8)
    expect(posts('/api/visits')[2]!.entry_key).not.toBe(first!.entry_key)
  })

  it('that was refused says why, and is another one afterwards', async () => {
    const calls = useCalls()
    const problem = { type: '', title: '', status: 404, detail: 'There is no unit 3.', errors: [] }
    answers['POST /api/visits'] = [{ status: 404, body: problem }, { status: 201, body: { id: 9 } }]
    await expect(calls.start(call('2026-03-04T09:30:00Z'))).rejects.toThrow('There is no unit 3.')
    await calls.start(call('2026-03-04T09:30:00Z'))
    const [first, second] = posts('/api/visits')
    expect(second!.entry_key).not.toBe(first!.entry_key)
  })
})

describe('the equipment book', () => {
  it('enters a unit once, however often it is sent', async () => {
    const book = useBook()
    await expect(book.add({ name: 'Ice House' }, unit())).rejects.toThrow()
    answers['POST /api/units'] = [{ status: 201, body: { id: 4 } }]
    answers['GET /api/units'] = [{ status: 200, body: { units: [] } }]
    expect(await book.add({ name: 'Ice House' }, unit())).toBe(4)
    const [first, again] = posts('/api/units')
    expect(again).toEqual(first)
  })

  it('describes a unit over the revision it was read at, and tells a stale one from a broken line', async () => {
    const book = useBook()
    const list = { status: 200, body: { units: [] } }
    answers['GET /api/units'] = [list, list, list]
    answers['PUT /api/units/4'] = [
      { status: 200, body: { id: 4 } },
      { status: 412, body: { type: '', title: '', status: 412, detail: 'changed', errors: [] } },
    ]
    expect(await book.revise(4, unit(), 11)).toBe(true)
    expect(await book.revise(4, unit(), 11)).toBe(false)
    await expect(book.revise(4, unit(), 12)).rejects.toThrow('does not answer')
    expect(sent.filter((one) => one.method === 'PUT').map((one) => one.match)).toEqual(['"11"', '"11"', '"12"'])
  })
})

describe('a unit in the making', () => {
  it('gets the way round its metering devices that they most often come with', () => {
    for (const kind of ['txv', 'piston', 'capillary', 'eev'] as const) {
      const made = toUnit({ ...blankUnit(), indoor: kind }, (meter) => useCatalogue().usualBypass(meter))
      expect(made.indoor_meter).toEqual({ kind, bypass: catalogue.usual_bypass[kind] })
    }
  })

  it('has no place for a drier it does not have', () => {
    expect(toUnit({ ...blankUnit(), drier: 'none' }, () => 'none').drier).toEqual({ kind: 'none' })
    expect(toUnit(blankUnit(), () => 'none').drier).toEqual({ kind: 'bi_flow', place: 'outdoor_unit' })
  })
})
