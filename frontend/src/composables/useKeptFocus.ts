// The cursor never falls out of the page: where what had it goes away, what it stood in takes it.
import { onScopeDispose } from 'vue'

export function useKeptFocus(page: () => HTMLElement | null) {
  /** What has the cursor, and all it stands in. */
  let path: HTMLElement[] = []

  function follow(event: FocusEvent) {
    path = event.composedPath().filter((one): one is HTMLElement => one instanceof HTMLElement)
  }
  const isGone = (element: HTMLElement | undefined) => element !== undefined && (!element.isConnected || element.matches(':disabled'))

  const seen = new MutationObserver(() => {
    if (document.activeElement !== document.body || !isGone(path[0])) return
    const within = path.slice(1).find((one) => one.isConnected && page()?.contains(one)) ?? page()
    if (!within) return
    if (within.tabIndex < 0) within.tabIndex = -1
    within.focus({ preventScroll: true })
  })
  seen.observe(document.body, { childList: true, subtree: true, attributeFilter: ['disabled'] })
  addEventListener('focusin', follow)
  onScopeDispose(() => {
    seen.disconnect()
    removeEventListener('focusin', follow)
  })
}
