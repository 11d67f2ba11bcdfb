// Icepick without a server: registered once the page stands and the line is free, so that it delays nothing.
import { ref } from 'vue'
import { registerSW } from 'virtual:pwa-register'
import { ANSWERS } from '../stores/memory'

const AFTER_MS = 4000

/** What every screen begins with is remembered from the first day on. */
async function remember() {
  const memory = await caches.open(ANSWERS)
  for (const place of ['/api/catalogue', '/api/visits', '/api/units', '/api/units/found', '/api/handbook']) {
    if (!(await memory.match(place))) await fetch(place).catch(() => undefined)
  }
}

/** Until the worker has taken over, answers pass it by. */
const inCharge = () =>
  new Promise<void>((done) => {
    if (navigator.serviceWorker.controller) done()
    else navigator.serviceWorker.addEventListener('controllerchange', () => done(), { once: true })
  })

/** `newer` tells of a version that waits; `change` loads it. Until then the one that is open goes on. */
export function useServiceWorker() {
  const newer = ref(false)
  let update: (reload?: boolean) => Promise<void> = async () => {}
  setTimeout(() => {
    update = registerSW({ onNeedRefresh: () => (newer.value = true) })
    if ('serviceWorker' in navigator) void inCharge().then(() => remember())
  }, AFTER_MS)
  return { newer, change: () => update(true) }
}
