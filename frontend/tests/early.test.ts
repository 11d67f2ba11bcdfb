import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { addressOf, askEarly, fetchOrTakeUp } from '../src/api/early'

const HERE = 'http://localhost'
const asking = (path: string, method = 'GET') => fetchOrTakeUp(new Request(HERE + path, { method }))
let fetched: string[]

beforeEach(() => {
  vi.useFakeTimers()
  fetched = []
  vi.spyOn(globalThis, 'fetch').mockImplementation((asked) => {
    const path = asked instanceof Request ? asked.url.replace(HERE, '') : String(asked)
    fetched.push(path)
    return path.includes('broken') ? Promise.reject(new TypeError('no line')) : Promise.resolve(new Response(`${path} ${fetched.length}`))
  })
})
afterEach(() => {
  vi.useRealTimers()
  vi.restoreAllMocks()
})

describe('what was asked for early', () => {
  it('is taken up once, by who asks for the same', async () => {
    const visit = addressOf(7, 'metric')
    askEarly(visit)
    expect(await (await asking(addressOf(7, 'field'))).text()).toContain('field')
    expect(await (await asking(visit, 'POST')).text()).toContain('3')
    askEarly(visit)
    expect(await (await asking(visit)).text()).toBe(`${visit} 4`)
    expect(await (await asking(visit)).text()).toBe(`${visit} 5`)
  })

  it('is not taken up once it is old', async () => {
    askEarly('/api/catalogue')
    vi.advanceTimersByTime(5001)
    expect(await (await asking('/api/catalogue')).text()).toBe('/api/catalogue 2')
  })

  it('fails for who takes it up, and for nobody else', async () => {
    askEarly('/api/broken')
    await vi.advanceTimersByTimeAsync(10)
    await expect(asking('/api/broken')).rejects.toThrow('no line')
  })
})
