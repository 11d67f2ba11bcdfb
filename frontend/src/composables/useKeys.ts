// Keys that work anywhere on a screen, unless a field has the cursor or a dialog is open.
import { onScopeDispose, ref, watch, type Ref } from 'vue'

export type Keys = Record<string, (event: KeyboardEvent) => void>

const held = ref(false)

/** Whether a key is typing, or meant for a dialog: then it is none of the screen's. */
export const keysHeld = (event: KeyboardEvent) =>
  held.value || (event.target instanceof HTMLElement && event.target.closest('input, select, textarea') !== null)

/** The screen's keys rest from the moment a dialog is asked for until it is closed, however long it takes to come and go. */
export function useDialogKeys(open: Ref<boolean>) {
  watch(open, (now) => (held.value = now), { flush: 'sync' })
  function press(event: KeyboardEvent) {
    if (!open.value || event.key !== 'Escape') return
    event.preventDefault()
    event.stopPropagation()
    open.value = false
  }
  addEventListener('keydown', press, { capture: true })
  onScopeDispose(() => {
    removeEventListener('keydown', press, { capture: true })
    held.value = false
  })
}

export function useKeys(keys: Keys) {
  function press(event: KeyboardEvent) {
    if (keysHeld(event) || event.ctrlKey || event.metaKey || event.altKey) return
    const action = keys[event.key]
    if (!action) return
    event.preventDefault()
    action(event)
  }
  addEventListener('keydown', press)
  onScopeDispose(() => removeEventListener('keydown', press))
}
