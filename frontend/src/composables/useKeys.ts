// Keys that work anywhere on a screen, unless a field has the cursor.
import { onScopeDispose } from 'vue'

export type Keys = Record<string, (event: KeyboardEvent) => void>

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement && target.closest('input, select, textarea') !== null

export function useKeys(keys: Keys, otherwise?: (event: KeyboardEvent) => void) {
  function press(event: KeyboardEvent) {
    if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target)) return
    const action = keys[event.key] ?? otherwise
    action?.(event)
  }
  addEventListener('keydown', press)
  onScopeDispose(() => removeEventListener('keydown', press))
}
