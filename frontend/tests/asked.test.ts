// What is fetched from the server: once, in the units of the moment, and again after it failed.
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import { useCatalogue } from '../src/stores/catalogue'
import { setClockOf } from '../src/stores/clock'
import { useHandbook } from '../src/stores/handbook'
import { useHistory } from '../src/stores/history'
import { useSettings } from '../src/stores/settings'
import { catalogue, handbook } from './fixtures'
import { line } from './line'

let asked: { method: string; url: string; body: unknown }[]
let answer: (url: string) => { status: number; body: unknown }

beforeEach(() => {
  setActivePinia(createPinia())
  asked = []
  answer = (url) => ({ status: 200, body: url.startsWith('/api/catalogue') ? catalogue : handbook })
  line.ask = async (request) => {
    const { pathname, search } = new URL(request.url)
    const text = await request.text()
    asked.push({ method: request.method, url: pathname + search, body: text ? JSON.parse(text) : null })
    const { status, body } = answer(pathname)
    return new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } })
  }
})
const urls = () => asked.map((one) => one.url)

describe('the Handbook', () => {
  it('is fetched once', async () => {
    const store = useHandbook()
    await store.load()
    await store.load()
    expect(urls()).toEqual(['/api/handbook'])
    expect(store.handbook?.calculators.length).toBe(handbook.calculators.length)
  })

  it('comes back with a changed limit, and what is allowed where is asked for anew', async () => {
    const store = useHandbook()
    await store.changeLimit('valve_suction_rise', 7)
    await store.changeLimit('valve_suction_rise', null)
    const puts = asked.filter((one) => one.method === 'PUT')
    expect(puts.map((one) => one.body)).toEqual([{ value: 7, units: 'field' }, { value: null, units: 'field' }])
    expect(urls().filter((url) => url.startsWith('/api/catalogue')).length).toBe(2)
    expect(useCatalogue().catalogue).toEqual(catalogue)
  })

  it('says why a limit was refused and keeps what stood there', async () => {
    const store = useHandbook()
    await store.load()
    answer = () => ({ status: 422, body: { title: 'no', status: 422, detail: 'It makes no sense here.', errors: [] } })
    await expect(store.changeLimit('valve_suction_rise', -1)).rejects.toThrow('It makes no sense here.')
    expect(store.handbook).toEqual(handbook)
  })

  it('asks for the dome of a refrigerant once in each unit system', async () => {
    const store = useHandbook()
    await Promise.all([store.dome('R-32'), store.dome('R-32'), store.dome('R-410A')])
    useSettings().units = 'metric'
    await store.dome('R-32')
    await store.dome('R-32')
    expect(urls()).toEqual([
      '/api/refrigerants/R-32/dome?units=field',
      '/api/refrigerants/R-410A/dome?units=field',
      '/api/refrigerants/R-32/dome?units=metric',
    ])
  })

  it('asks for a dome again that it did not get', async () => {
    const store = useHandbook()
    answer = () => ({ status: 503, body: { title: 'busy', status: 503, detail: 'Try again.', errors: [] } })
    await expect(store.dome('R-32')).rejects.toThrow('Try again.')
    answer = () => ({ status: 200, body: { refrigerant: 'R-32', rows: [] } })
    expect((await store.dome('R-32')).refrigerant).toBe('R-32')
  })

  it('sends what was typed, with its units, and asks what a run can fill in', async () => {
    const store = useHandbook()
    answer = () => ({ status: 200, body: { given: { line: { value: 52, unit: 'degF' } } } })
    expect(await store.filling(3, 'run-2', 'superheat')).toEqual({ line: { value: 52, unit: 'degF' } })
    await store.calculate('superheat', { line: { value: 11, unit: 'degC' } })
    expect(asked[1]).toEqual({
      method: 'POST', url: '/api/calculators/superheat?units=field', body: { given: { line: { value: 11, unit: 'degC' } } },
    })
    expect(urls()[0]).toBe('/api/visits/3/runs/run-2/calculators/superheat')
  })
})

describe('earlier visits', () => {
  it('are asked for in the units on screen', async () => {
    answer = () => ({ status: 200, body: { comparisons: [], trends: [] } })
    useSettings().units = 'metric'
    await useHistory().load(4)
    expect(urls()).toEqual(['/api/visits/4/history?units=metric'])
    expect(useHistory().history).toEqual({ comparisons: [], trends: [] })
  })
})

describe('the clock of a run', () => {
  it('is told one thing and never both', async () => {
    await setClockOf(2, 'run-1', { minutes_running: 12 })
    await setClockOf(2, 'run-1', { started_at: '2026-01-05T08:00:00Z' })
    expect(asked.map((one) => one.body)).toEqual([
      { started_at: null, minutes_running: 12 },
      { started_at: '2026-01-05T08:00:00Z', minutes_running: null },
    ])
  })
})
