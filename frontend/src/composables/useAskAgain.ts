// What the server is still working out is asked for again until it is there, for as long as somebody looks.
import { onScopeDispose, watch } from 'vue'

export const AGAIN_AFTER_MS = 1500

/** Ask again whenever an answer came that is not complete. One that can't be had ends it. */
export function useAskAgain<T>(answer: () => T | null, complete: (answer: T) => boolean, ask: () => unknown) {
  let waiting: ReturnType<typeof setTimeout> | undefined
  const stop = () => clearTimeout(waiting)
  watch(answer, (now) => {
    stop()
    if (now !== null && !complete(now)) waiting = setTimeout(ask, AGAIN_AFTER_MS)
  }, { immediate: true })
  onScopeDispose(stop)
}
