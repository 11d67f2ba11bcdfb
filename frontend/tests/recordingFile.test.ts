// A file under way: whatever the line does to the order of answers, what was said last of it is what stands.
import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { useRecordingFile } from '../src/stores/recordingFile'

const view = { id: 'f', name: 'a.csv', bytes: 4, received: 4, part: 8, state: 'read', done: 4, of: 4, found: null, recording: null, trouble: null }
const json = (body: unknown) => new Response(JSON.stringify(body), { headers: { 'Content-Type': 'application/json' } })

beforeEach(() => setActivePinia(createPinia()))
afterEach(() => vi.unstubAllGlobals())

describe('what is said of a file', () => {
  it('goes one after the other, and only the last of what was said meanwhile', async () => {
    const said: unknown[] = []
    const answers: (() => void)[] = []
    vi.stubGlobal('fetch', async (request: Request) => {
      if (request.method !== 'PUT' || request.url.includes('/part')) return json(view)
      said.push((await request.json()).clock_unit)
      await new Promise<void>((done) => answers.push(done))
      return json(view)
    })
    const file = useRecordingFile()
    await file.send(1, new File(['a\n0\n'], 'a.csv'))
    const of = (clock_unit: 's' | 'min' | 'h') => file.say({ columns: [], clock_unit, started_at: null, offset: null })
    const all = [of('s'), of('min'), of('h')]
    await vi.waitFor(() => expect(said).toEqual(['s']))
    answers.shift()!()
    await vi.waitFor(() => expect(said).toEqual(['s', 'h']))
    answers.shift()!()
    await Promise.all(all)
    expect(said).toEqual(['s', 'h'])
  })
})
