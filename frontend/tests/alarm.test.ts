import { describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick, ref } from 'vue'
import { ring, useAlarm } from '../src/composables/useAlarm'

describe('the alarm', () => {
  it('rings once for each danger as it begins, and not while it is silenced', async () => {
    const danger = ref('')
    const loud = ref(true)
    const rung = vi.fn()
    const scope = effectScope()
    scope.run(() => useAlarm(() => danger.value, () => loud.value, rung))
    for (const [now, times] of [['head', 1], ['head', 1], ['', 1], ['head', 2], ['vacuum', 3]] as const) {
      danger.value = now
      await nextTick()
      expect(rung).toHaveBeenCalledTimes(times)
    }
    loud.value = false
    danger.value = 'current'
    await nextTick()
    expect(rung).toHaveBeenCalledTimes(3)
    scope.stop()
  })

  it('does without what the device refuses', () => {
    vi.stubGlobal('AudioContext', class { constructor() { throw new Error('not allowed') } })
    expect(ring).not.toThrow()
    vi.unstubAllGlobals()
  })
})
