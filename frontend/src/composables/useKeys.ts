// Keys that work anywhere on a screen, unless a field has the cursor or a dialog is open.
import { onScopeDispose, ref, watch, type Ref } from 'vue'

export type Keys = Record<string, (event: KeyboardEvent) => void>

const held = ref(false)
/** Nobody is to press what can't be seen: the screens' keys rest while signing in comes first. */
const shut = ref(false)
export const shutKeys = (now: boolean) => (shut.value = now)
const NUMBER = /[\d+\-−.,\s]/

/** An empty number field has no use for letters: they are the screen's. It says so with `data-passes-letters`. */
const passes = (field: Element, event: KeyboardEvent) =>
  field instanceof HTMLInputElement && 'passesLetters' in field.dataset && field.value === '' && event.key.length === 1 && !NUMBER.test(event.key)

/** Whether a key is typing, or meant for a dialog: then it is none of the screen's. */
export const keysHeld = (event: KeyboardEvent) => {
  const field = event.target instanceof HTMLElement ? event.target.closest('input, select, textarea') : null
  return held.value || shut.value || (field !== null && !passes(field, event))
}

/** Out of a field, so that letters and digits are the screen's; the cursor stays in the page. */
export const leaveField = () => document.getElementById('main')?.focus({ preventScroll: true })

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

/** Quick fingers are ahead of the cursor: keys pressed before a dialog has it belong to the dialog. `take` says which it took. */
export function useEarlyKeys(open: Ref<boolean>, take: (event: KeyboardEvent) => boolean) {
  function early(event: KeyboardEvent) {
    if (!open.value || event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey) return
    if ((event.target as Element).closest('.modal') || !take(event)) return
    event.preventDefault()
  }
  addEventListener('keydown', early)
  onScopeDispose(() => removeEventListener('keydown', early))
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
