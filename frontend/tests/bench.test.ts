// An attempt at the bench: the cursor keeps to what can be read, a step whose answer was lost is not done twice, and the
// Handbook's parts show what was asked last.
import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick, ref } from 'vue'
import { useAnswer } from '../src/handbook/moving/asking'
import { useAttemptAtBench } from '../src/stores/attempt'
import { useCatalogue } from '../src/stores/catalogue'

const station = (code: string, group: string, quantities: string[]) => ({ code, title: code, short: code, group, place: 'outdoors', quantities: quantities.map((quantity) => ({ quantity })) })
const run = (id: string, mode: string) => ({ id, commanded_mode: mode, stations: ['discharge_line', 'common_suction', 'discharge_tap'], readings: [] as object[], indicators: {} })
const view = (runs: ReturnType<typeof run>[], steps: object[]) => ({
  id: 7, readable: [{ station: 'discharge_line', quantity: 'temperature' }, { station: 'common_suction', quantity: 'temperature' }],
  runs: runs.map(({ id, commanded_mode }) => ({ id, mode: commanded_mode })), examined: runs, steps, said: null,
})
const json = (body: unknown) => new Response(JSON.stringify(body), { headers: { 'Content-Type': 'application/json' } })

beforeEach(() => {
  setActivePinia(createPinia())
  useCatalogue().catalogue = {
    stations: [station('discharge_line', 'line', ['temperature']), station('common_suction', 'line', ['temperature']), station('discharge_tap', 'tap', ['pressure'])],
  } as never
})
afterEach(() => vi.unstubAllGlobals())

describe('an attempt', () => {
  it('offers what can be read, and nothing else', async () => {
    vi.stubGlobal('fetch', async () => json(view([run('run-1', 'cooling')], [])))
    const attempt = useAttemptAtBench()
    await attempt.load(7)
    expect(attempt.traysHere).toEqual(['pipes'])
    expect(attempt.spot.station).toBe('discharge_line')
    attempt.stepSpot(1)
    expect(attempt.spot.station).toBe('common_suction')
  })

  it('goes on in the run that a change of mode begins', async () => {
    const answers = [view([run('run-1', 'cooling')], []), view([run('run-1', 'cooling'), run('run-2', 'heating')], [{}])]
    vi.stubGlobal('fetch', async () => json(answers.shift()))
    const attempt = useAttemptAtBench()
    await attempt.load(7)
    await attempt.step({ act: 'switch', mode: 'heating' })
    expect(attempt.runId).toBe('run-2')
    attempt.stepRun(-1)
    expect(attempt.isNow).toBe(false)
  })

  it('sends a step again under its key where no answer came', async () => {
    const keys: string[] = []
    let lost = true
    vi.stubGlobal('fetch', async (request: Request) => {
      if (request.method === 'GET') return json(view([run('run-1', 'cooling')], []))
      keys.push((await request.json()).entry_key)
      if (lost) throw new TypeError('gone')
      return json(view([run('run-1', 'cooling')], [{}]))
    })
    const attempt = useAttemptAtBench()
    await attempt.load(7)
    const take = () => attempt.step({ act: 'look', look: 'filter' })
    await expect(take()).rejects.toThrow('does not answer')
    lost = false
    await take()
    await take()
    expect(keys[1]).toBe(keys[0])
    expect(keys[2]).not.toBe(keys[0])
  })

  it('keeps what is being said on this device', () => {
    const attempt = useAttemptAtBench()
    attempt.keepDraft(7, { first: 'undercharge', sure: 80 })
    setActivePinia(createPinia())
    expect(useAttemptAtBench().draft(7)).toEqual({ first: 'undercharge', sure: 80 })
    expect(useAttemptAtBench().draft(8)).toEqual({})
  })
})

describe('what a part does', () => {
  it('is the answer to what was asked last, whichever comes last', async () => {
    const asked = ref('first')
    const answers: Record<string, (found: string) => void> = {}
    const { answer } = useAnswer(() => ({ what: asked.value }), ({ what }) => new Promise<string>((done) => (answers[what] = done)))
    asked.value = 'second'
    await nextTick()
    answers.second!('the second')
    await nextTick()
    answers.first!('the first')
    await nextTick()
    expect(answer.value).toBe('the second')
  })
})
