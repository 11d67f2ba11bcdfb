// Work that may fail, and the sentence to show when it does.
import { ref } from 'vue'

const DOUBLE_PRESS_MS = 600

export function useAttempt() {
  const trouble = ref('')
  const busy = ref(false)

  async function attempt(work: () => Promise<unknown>) {
    trouble.value = ''
    try {
      await work()
    } catch (error) {
      trouble.value = (error as Error).message
    }
  }

  /** As `attempt`, and once: what is pressed again meanwhile, or in the same breath, is the same press. */
  async function once(work: () => Promise<unknown>) {
    if (busy.value) return
    busy.value = true
    await attempt(work)
    setTimeout(() => (busy.value = false), DOUBLE_PRESS_MS)
  }

  return { trouble, busy, attempt, once }
}
