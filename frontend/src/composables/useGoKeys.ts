// `g` and then a letter goes to a screen.
import { onScopeDispose } from 'vue'
import type { RouteLocationRaw } from 'vue-router'
import { useRouter } from 'vue-router'
import { keysHeld } from './useKeys'

const WAIT_MS = 1500

/** `places` says, when asked, where each letter leads just now. */
export function useGoKeys(places: () => Record<string, RouteLocationRaw>) {
  const router = useRouter()
  let armedAt = -Infinity

  function press(event: KeyboardEvent) {
    if (keysHeld(event) || event.ctrlKey || event.metaKey || event.altKey) return
    const armed = event.timeStamp - armedAt < WAIT_MS
    armedAt = event.key === 'g' ? event.timeStamp : -Infinity
    const place = armed ? places()[event.key] : undefined
    if (!place) return
    event.preventDefault()
    event.stopImmediatePropagation()
    void router.push(place)
  }
  addEventListener('keydown', press, { capture: true })
  onScopeDispose(() => removeEventListener('keydown', press, { capture: true }))
}
