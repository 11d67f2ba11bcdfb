// Icepick without a server: registered once the page stands and the line is free, so that it delays nothing.
import { ref, watch } from 'vue'
import { registerSW } from 'virtual:pwa-register'
import { ANSWERS } from '../stores/memory'
import { useSession } from '../stores/session'

const AFTER_MS = 4000

/** What every screen begins with is remembered from the first day on, once somebody may read it. */
async function remember() {
  await useSession().load().catch(() => undefined)
  if (useSession().outside) return
  const memory = await caches.open(ANSWERS)
  for (const place of ['/api/session', '/api/catalogue', '/api/visits', '/api/units', '/api/units/found', '/api/handbook']) {
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
  const session = useSession()
  watch(() => session.outside, (outside) => !outside && navigator.serviceWorker?.controller && void remember())
  let update: (reload?: boolean) => Promise<void> = async () => {}
  setTimeout(() => {
    update = registerSW({ onNeedRefresh: () => (newer.value = true) })
    if ('serviceWorker' in navigator) void inCharge().then(() => remember())
  }, AFTER_MS)
  return { newer, change: () => update(true) }
}
