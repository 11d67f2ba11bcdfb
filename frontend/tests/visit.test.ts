import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { VisitView } from '../src/api/types'
import { useCatalogue } from '../src/stores/catalogue'
import { useOutbox } from '../src/stores/outbox'
import { spotKey, useVisit } from '../src/stores/visit'
import { fakeServer } from './fakeServer'
import { catalogue, visitAt } from './fixtures'
import { silentSince } from '../src/api/line'
import { line } from './line'

const DISCHARGE = { station: 'discharge_line', quantity: 'temperature' } as const

let view: VisitView
let server: ReturnType<typeof fakeServer>
let visit: ReturnType<typeof useVisit>

/** A visit of which nothing was read yet. */
function blank(site: string): VisitView {
  const found = visitAt(site)
  found.entries = []
  for (const run of found.examination.runs) Object.assign(run, { readings: [], doubts: [] })
  found.examination.next_readings = []
  return found
}

beforeEach(async () => {
  vi.useFakeTimers()
  setActivePinia(createPinia())
  useCatalogue().catalogue = catalogue
  view = blank('Mill')
  server = fakeServer(view)
  visit = useVisit()
  await visit.load(view.id)
})
afterEach(() => vi.useRealTimers())
const settle = (ms = 0) => vi.advanceTimersByTimeAsync(ms)
const shownAt = (spot: Parameters<typeof spotKey>[0]) => visit.shown.get(spotKey(spot))

describe('a visit on screen', () => {
  it('starts at the first place to read, in the walking order of this unit', () => {
    expect(visit.spot).toEqual(DISCHARGE)
    const order = visit.here.map((spot) => catalogue.stations.findIndex((station) => station.code === spot.station))
    expect(order).toEqual([...order].sort((a, b) => a - b))
    expect([...visit.spots.values()].flat().some((spot) => spot.station === 'source_water_in')).toBe(
      view.visit.unit.source === 'water',
    )
  })

  it('has a reading kept first, and asks what it says behind that', async () => {
    const before = server.sent.length
    visit.take(DISCHARGE, 161, 'degF')
    await settle()
    expect(server.sent.slice(before).map((one) => one.method)).toEqual(['POST', 'GET'])
    expect([shownAt(DISCHARGE)?.value, visit.pending]).toEqual([161, ''])
    expect(useOutbox().entries).toEqual([])
  })

  it('has a number looked at while it is typed, and enters it as of then; another one, or one typed long ago, as of now', async () => {
    const asked = (what: string) => server.sent.filter((one) => one.path.endsWith(what)).map((one) => one.body.reading as { value: number; at: string })
    const enter = async (value: number, typedFor = 0) => {
      visit.foresee(DISCHARGE, 161, 'degF')
      await settle(typedFor)
      visit.take(DISCHARGE, value, 'degF')
      await settle()
      return asked('/readings').at(-1)!
    }
    expect(await enter(161, 400)).toEqual(asked('/typed').at(-1))
    expect(asked('/readings').length).toBe(1)
    const other = await enter(162, 400)
    expect([other.value, Date.parse(other.at)]).toEqual([162, Date.now()])
    expect(Date.parse((await enter(161, 15_000)).at)).toBe(Date.now())
  })

  it('looks for what others did every other second, and no more often where nobody answers', async () => {
    const asked = async (ms: number) => {
      const before = server.sent.length
      for (let passed = 0; passed < ms; passed += 500) {
        await settle(500)
        void visit.keepUp()
      }
      await settle()
      return server.sent.slice(before).filter((one) => one.method === 'GET').length
    }
    visit.take(DISCHARGE, 161, 'degF')
    await settle()
    expect(await asked(1500), 'the entry brought it along').toBe(0)
    expect(await asked(6000)).toBe(3)
    server.breaks = () => { throw new TypeError('no line') }
    expect(await asked(6000)).toBe(3)
  })

  it('shows a reading from the key press on, whatever the server makes of it: unsent, acknowledged, in force', async () => {
    const seen: string[] = []
    const look = () => seen.push(shownAt(DISCHARGE)?.state ?? 'gone', visit.pending)
    let answer = () => {}
    const plain = line.ask
    line.ask = async (request) => {
      // Held back, so that the moment between acknowledgement and the next view can be looked at.
      if (request.method === 'GET') await new Promise<void>((done) => (answer = done))
      return plain(request)
    }
    visit.take(DISCHARGE, 161, 'degF')
    look()
    await settle(100)
    look()
    expect(useOutbox().unsent.length).toBe(0)
    answer()
    await settle()
    look()
    // Until the findings count it in, it is said what they wait for.
    const named = useCatalogue().titleOf(DISCHARGE.station, DISCHARGE.quantity)
    expect(seen).toEqual(['unsent', named, 'kept', named, 'kept', ''])
    expect(shownAt(DISCHARGE)?.value).toBe(161)
    expect(useOutbox().entries).toEqual([])
  })

  it('never shows what a poll found that began before an entry and came back behind it', async () => {
    const plain = line.ask
    const held: (() => void)[] = []
    line.ask = async (request) => {
      const answer = await plain(request)
      if (request.method === 'GET') await new Promise<void>((done) => held.push(done))
      return answer
    }
    const poll = visit.refresh()
    await settle()
    visit.take(DISCHARGE, 161, 'degF')
    await settle()
    expect(held.length).toBe(2)
    held[1]!()
    await settle()
    expect(useOutbox().entries).toEqual([])
    held[0]!()
    await poll
    expect(shownAt(DISCHARGE)?.value).toBe(161)
  })

  it('says since when the server is silent, and no more once it answers', async () => {
    expect(silentSince.value).toBeNull()
    const last = Date.now()
    await settle(5000)
    const plain = line.ask
    line.ask = () => { throw new TypeError('no line') }
    await visit.refresh()
    expect(silentSince.value?.getTime()).toBe(last)
    line.ask = plain
    await settle(3000)
    expect(silentSince.value).toBeNull()
  })

  it('goes on to the next place without a reading, and passes those that have one', async () => {
    const [, second, third] = visit.here
    visit.goTo(second!)
    visit.take(second!, 55, 'degF')
    visit.goTo(DISCHARGE)
    visit.take(DISCHARGE, 161, 'degF')
    expect(visit.spot).toEqual(third)
    await settle()
  })

  it('goes on when this device can keep nothing and the server is there', async () => {
    vi.spyOn(Storage.prototype, 'setItem').mockImplementation(() => { throw new DOMException('full', 'QuotaExceededError') })
    visit.take(DISCHARGE, 161, 'degF')
    expect(visit.shown.get(spotKey(DISCHARGE))?.value).toBe(161)
    await settle()
    expect(server.acknowledged.length).toBe(1)
  })

  it('takes back the last reading that stands, sent or not', async () => {
    visit.take(DISCHARGE, 161, 'degF')
    await settle()
    const second = visit.spot
    visit.take(second, 55, 'degF')
    visit.undo()
    expect(visit.spot).toEqual(second)
    visit.undo()
    expect(visit.spot).toEqual(DISCHARGE)
    await settle()
    const taken = server.acknowledged.filter((one) => one.path.endsWith('/readings')).map((one) => one.body.entry_key)
    const back = server.acknowledged.filter((one) => one.path.endsWith('/withdrawals')).map((one) => one.body.entry_key)
    expect(back).toEqual(taken.reverse())
  })

  it('takes back what was refused without asking for it, and says what it took back and entered again', async () => {
    visit.take(DISCHARGE, 161, 'degF')
    server.breaks = (asked) => (asked.method === 'POST' && asked.path.endsWith('/readings') ? server.problem(422, 'outside') : undefined)
    await settle()
    expect(shownAt(DISCHARGE)?.state).toBe('refused')
    visit.undo()
    expect(visit.said).toContain('Took back 161.0 °F at discharge line')
    expect([shownAt(DISCHARGE), useOutbox().entries.length]).toEqual([undefined, 0])
    await settle()
    expect(server.sent.some((one) => one.path.endsWith('/withdrawals'))).toBe(false)
    server.breaks = () => undefined
    visit.redo()
    expect(visit.said).toContain('Entered again: 161.0 °F')
    await settle()
    expect(shownAt(DISCHARGE)).toMatchObject({ value: 161, state: 'kept' })
    visit.redo()
    expect(visit.said).toContain('Nothing was taken back')
  })

  it('skips out of a tray with its places unread, and steps from tray to tray', () => {
    const first = visit.here.length
    for (let n = 0; n < first; n++) visit.skip()
    expect(visit.tray).not.toBe('pipes')
    visit.stepTray(-1)
    expect(visit.tray).toBe('pipes')
    visit.stepTray(-1)
    expect(visit.tray).toBe(visit.traysHere.at(-1))
  })

  it('is not written over by an older answer while something is on its way', async () => {
    server.breaks = (asked) => { if (asked.method === 'POST') throw new TypeError('no line') }
    visit.take(DISCHARGE, 161, 'degF')
    await settle()
    const before = server.sent.filter((one) => one.method === 'GET').length
    await visit.refresh()
    expect(server.sent.filter((one) => one.method === 'GET').length).toBe(before)
    expect(shownAt(DISCHARGE)?.state).toBe('unsent')
  })

  it('goes on looking for what others do while an entry of this visit lies refused', async () => {
    server.breaks = (asked) => (asked.method === 'POST' ? server.problem(422, 'outside') : undefined)
    visit.take(DISCHARGE, 161, 'degF')
    await settle()
    expect(shownAt(DISCHARGE)?.state).toBe('refused')
    const before = server.sent.length
    await visit.refresh()
    expect(server.sent.length).toBe(before + 1)
  })

  it('asks again for a run that got no answer under the key it had, and starts it when it was asked for last', async () => {
    server.breaks = (asked) => { if (asked.method === 'POST') throw new TypeError('no line') }
    await expect(visit.addRun({ mode: 'heating', started_at: '2026-03-04T09:30:00Z' })).rejects.toThrow('does not answer')
    server.breaks = () => undefined
    await visit.addRun({ mode: 'heating', started_at: '2026-03-04T09:31:00Z' })
    const [first, again] = server.sent.filter((one) => one.path.endsWith('/runs'))
    expect(again!.body).toEqual(first!.body)
    // And it starts when it was asked for last: settled too soon would be judged too soon.
    const clocks = server.sent.filter((one) => one.path.endsWith('/runs/run-new/clock'))
    expect(clocks.map((one) => one.body.started_at)).toEqual(['2026-03-04T09:31:00Z'])
    await visit.addRun({ mode: 'heating', started_at: '2026-03-04T09:40:00Z' })
    const third = server.sent.filter((one) => one.path.endsWith('/runs')).at(-1)!
    expect(third.body.entry_key).not.toBe(first!.body.entry_key)
    expect(third.body.started_at).toBe('2026-03-04T09:40:00Z')
  })

  it('puts a mark, and takes it back when it is pressed again', async () => {
    visit.mark('oil_stain')
    expect(visit.marks.has('oil_stain')).toBe(true)
    await settle()
    expect(visit.marks.has('oil_stain')).toBe(true)
    visit.mark('oil_stain')
    expect(visit.marks.has('oil_stain')).toBe(false)
    await settle()
    expect(visit.marks.has('oil_stain')).toBe(false)
  })

  it('knows which instrument a place fixes', () => {
    expect(visit.instrumentAt({ station: 'discharge_tap', quantity: 'pressure' })).toBe('gauge')
    expect(visit.instrumentAt({ station: 'terminal_y', quantity: 'voltage' })).toBe('meter')
    expect(visit.instrumentAt(DISCHARGE)).toBeUndefined()
  })
})

describe('a unit with two circuits', () => {
  beforeEach(async () => {
    view = visitAt('Auction Hall')
    server = fakeServer(view)
    await visit.load(view.id)
  })
  const runs = (circuit: string) => view.visit.runs.filter((run) => run.circuit === circuit)

  it('says of the circuit in hand what is said of it alone', () => {
    for (const circuit of view.examination.circuits ?? []) {
      expect(visit.chooseCircuit(circuit.id)).toBe(true)
      expect(visit.findings?.headline).toBe(circuit.headline)
      expect(visit.findings?.ranking).toEqual(circuit.ranking)
    }
    expect(visit.circuits).toHaveLength(2)
  })

  it('turns to the other circuit in the same mode, and says where it has no run', () => {
    const [one, two] = visit.circuits.map((circuit) => circuit.id) as [string, string]
    visit.chooseRun(runs(two).at(-1)!.id)
    expect(visit.circuitId).toBe(two)
    visit.chooseCircuit(one)
    expect(visit.run).toMatchObject({ circuit: one, mode: runs(two).at(-1)!.mode })
    expect(visit.chooseCircuit('nobody described it')).toBe(false)
    expect(visit.circuitId).toBe(one)
  })
})
