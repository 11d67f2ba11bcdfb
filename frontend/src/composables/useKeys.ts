// Keys that work anywhere on a screen, unless a field has the cursor or a dialog is open.
import { onScopeDispose } from 'vue'

export type Keys = Record<string, (event: KeyboardEvent) => void>

const busy = (target: EventTarget | null) =>
  target instanceof HTMLElement && target.closest('input, select, textarea, .modal') !== null

export function useKeys(keys: Keys) {
  function press(event: KeyboardEvent) {
    if (event.ctrlKey || event.metaKey || event.altKey || busy(event.target)) return
    const action = keys[event.key]
    if (!action) return
    event.preventDefault()
    action(event)
  }
  addEventListener('keydown', press)
  onScopeDispose(() => removeEventListener('keydown', press))
}
