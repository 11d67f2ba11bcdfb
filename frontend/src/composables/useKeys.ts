// Keys that work anywhere on a screen, unless a field has the cursor or a dialog is open.
import { onScopeDispose, ref } from 'vue'

export type Keys = Record<string, (event: KeyboardEvent) => void>

/** Set while a dialog is on its way: what is typed before it has the cursor is meant for it, not for the screen. */
export const keysHeld = ref(false)

const busy = (target: EventTarget | null) =>
  target instanceof HTMLElement && target.closest('input, select, textarea, .modal') !== null

export function useKeys(keys: Keys) {
  function press(event: KeyboardEvent) {
    if (keysHeld.value || event.ctrlKey || event.metaKey || event.altKey || busy(event.target)) return
    const action = keys[event.key]
    if (!action) return
    event.preventDefault()
    action(event)
  }
  addEventListener('keydown', press)
  onScopeDispose(() => removeEventListener('keydown', press))
}
