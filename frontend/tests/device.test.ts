// What this device does by itself: what it remembers, its keys, and the sentence it shows when something fails.
import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { createApp, defineComponent, h, nextTick, ref, type App } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'
import { useAttempt } from '../src/composables/useAttempt'
import { useGoKeys } from '../src/composables/useGoKeys'
import { useDialogKeys, useKeys } from '../src/composables/useKeys'
import { keep, kept, names } from '../src/stores/shelf'
import { useSettings } from '../src/stores/settings'

beforeEach(() => setActivePinia(createPinia()))

describe('settings', () => {
  it('are remembered through a reload', async () => {
    const before = useSettings()
    expect([before.units, before.theme, before.method]).toEqual(['field', 'shade', 'clamp'])
    Object.assign(before, { units: 'metric', theme: 'sun', method: 'probe' })
    await nextTick()
    expect(document.documentElement.dataset.bsTheme).toBe('light')
    setActivePinia(createPinia())
    const after = useSettings()
    expect([after.units, after.theme, after.method]).toEqual(['metric', 'sun', 'probe'])
  })

  it('start as usual where what was kept is nonsense', () => {
    keep('icepick.units', 'furlongs')
    keep('icepick.method', 'guess')
    expect([useSettings().units, useSettings().method]).toEqual(['field', 'clamp'])
  })

  it('start with the light theme on a device set to light', () => {
    vi.spyOn(globalThis, 'matchMedia').mockReturnValue({ matches: true } as MediaQueryList)
    expect(useSettings().theme).toBe('sun')
  })
})

describe('the shelf', () => {
  it('answers instead of throwing where the store is shut', () => {
    expect(keep('one', 'kept')).toBe(true)
    for (const method of ['setItem', 'getItem'] as const)
      vi.spyOn(Storage.prototype, method).mockImplementation(() => {
        throw new DOMException('full', 'QuotaExceededError')
      })
    expect(keep('two', 'lost')).toBe(false)
    expect(kept('one')).toBeNull()
  })

  it('lists what begins alike, in order', () => {
    for (const name of ['b.2', 'a.1', 'b.1']) keep(name, 'x')
    expect(names('b.')).toEqual(['b.1', 'b.2'])
  })
})

describe('an attempt', () => {
  it('shows why it failed until the next one', async () => {
    const { trouble, attempt } = useAttempt()
    await attempt(() => Promise.reject(new Error('There is no visit 9.')))
    expect(trouble.value).toBe('There is no visit 9.')
    await attempt(() => Promise.resolve())
    expect(trouble.value).toBe('')
  })
})

describe('keys', () => {
  let app: App
  const done: string[] = []
  const router = createRouter({
    history: createMemoryHistory(),
    routes: ['/', '/units', '/handbook'].map((path) => ({ path, component: { render: () => null } })),
  })
  const dialog = ref(false)
  const screen = defineComponent(() => {
    useKeys({ n: () => done.push('next'), u: () => done.push('undo') })
    useGoKeys(() => ({ u: '/units', h: '/handbook' }))
    useDialogKeys(dialog)
    return () => h('input')
  })

  beforeEach(async () => {
    done.length = 0
    await router.push('/')
    document.body.innerHTML = '<div id="app"></div>'
    app = createApp(screen)
    app.use(router).mount('#app')
  })
  afterEach(() => {
    app.unmount()
    dialog.value = false
  })

  function press(key: string, more: KeyboardEventInit = {}, at: EventTarget = document.body) {
    const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more })
    at.dispatchEvent(event)
    return event.defaultPrevented
  }
  const field = () => document.querySelector('input')!
  const goneTo = async () => {
    await new Promise((done) => setTimeout(done))
    return router.currentRoute.value.path
  }

  it('work anywhere on the screen, and are then used up', () => {
    expect(press('n')).toBe(true)
    expect(press('x')).toBe(false)
    expect(done).toEqual(['next'])
  })

  it('leave alone what is typed into a field, and the browser’s own', () => {
    press('n', {}, field())
    press('n', { ctrlKey: true })
    press('n', { altKey: true })
    press('n', { metaKey: true })
    expect(done).toEqual([])
  })

  it('wait from the moment a dialog is asked for, and work again the moment it is closed', () => {
    dialog.value = true
    press('n')
    expect(done).toEqual([])
    expect(press('Escape')).toBe(true)
    expect(dialog.value).toBe(false)
    press('n')
    expect(done).toEqual(['next'])
  })

  it('go with their screen', () => {
    app.unmount()
    press('n')
    expect(done).toEqual([])
    app = createApp(screen)
    app.use(router).mount('#app')
  })

  it('take the letter after g as a place, and no more as what it means alone', async () => {
    press('g')
    press('u')
    expect(await goneTo()).toBe('/units')
    expect(done).toEqual([])
    press('u')
    expect(done).toEqual(['undo'])
  })

  it('forget g in a field, after another letter, and after a while', async () => {
    press('g', {}, field())
    press('h')
    press('g')
    press('x')
    press('h')
    press('g')
    const late = new KeyboardEvent('keydown', { key: 'h', bubbles: true })
    Object.defineProperty(late, 'timeStamp', { value: late.timeStamp + 2000 })
    document.body.dispatchEvent(late)
    expect(await goneTo()).toBe('/')
  })
})
