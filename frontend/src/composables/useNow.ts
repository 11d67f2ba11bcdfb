// The present moment, once a second, for clocks.
import { onScopeDispose, ref } from 'vue'

export function useNow() {
  const now = ref(Date.now())
  const timer = setInterval(() => (now.value = Date.now()), 1000)
  onScopeDispose(() => clearInterval(timer))
  return now
}
