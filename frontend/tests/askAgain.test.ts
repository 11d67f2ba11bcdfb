// What is still being worked out is asked for until it is there; and the units a call can be started on.
import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick, shallowRef } from 'vue'
import { AGAIN_AFTER_MS, useAskAgain } from '../src/composables/useAskAgain'
import { useUnitsFound } from '../src/composables/useUnitsFound'
import { line } from './line'

beforeEach(() => setActivePinia(createPinia()))

describe('an answer that is not complete', () => {
  beforeEach(() => void vi.useFakeTimers())
  afterEach(() => void vi.useRealTimers())

  it('is asked for again until it is, one question at a time', async () => {
    const answer = shallowRef<{ left: number } | null>(null)
    const ask = vi.fn()
    const scope = effectScope()
    scope.run(() => useAskAgain(() => answer.value, (now) => now.left === 0, ask))
    await vi.advanceTimersByTimeAsync(5 * AGAIN_AFTER_MS)
    expect(ask, 'nothing was answered yet').not.toHaveBeenCalled()

    answer.value = { left: 2 }
    await nextTick()
    answer.value = { left: 2 }
    await nextTick()
    await vi.advanceTimersByTimeAsync(5 * AGAIN_AFTER_MS)
    expect(ask, 'a question without an answer is not asked again').toHaveBeenCalledTimes(1)

    answer.value = { left: 1 }
    await vi.advanceTimersByTimeAsync(AGAIN_AFTER_MS)
    expect(ask).toHaveBeenCalledTimes(2)
    answer.value = { left: 0 }
    await vi.advanceTimersByTimeAsync(5 * AGAIN_AFTER_MS)
    expect(ask).toHaveBeenCalledTimes(2)

    answer.value = { left: 1 }
    await nextTick()
    scope.stop()
    await vi.advanceTimersByTimeAsync(5 * AGAIN_AFTER_MS)
    expect(ask, 'nobody looks any more').toHaveBeenCalledTimes(2)
  })
})

describe('units to choose from', () => {
  it('are those that were searched for last, whichever answer comes last', async () => {
    const release: (() => void)[] = []
    const urls: string[] = []
    line.ask = async (request) => {
      const { pathname, search, searchParams } = new URL(request.url)
      urls.push(pathname + search)
      await new Promise<void>((done) => release.push(done))
      const site = searchParams.get('words') ?? 'all'
      return new Response(JSON.stringify({ units: [{ id: 1, site, label: 'x' }], found: 1 }), { headers: { 'Content-Type': 'application/json' } })
    }
    const { found, find } = useUnitsFound()
    const first = find('fer')
    const second = find('ferry 12', 7)
    await vi.waitFor(() => expect(release).toHaveLength(2))
    release[1]!()
    await second
    release[0]!()
    await first
    expect(urls).toEqual(['/api/units/found?words=fer', '/api/units/found?words=ferry%2012&first=7'])
    expect(found.value?.units[0]?.site).toBe('ferry 12')
  })
})
