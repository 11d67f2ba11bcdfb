// Work that may fail, and the sentence to show when it does.
import { ref } from 'vue'

export function useAttempt() {
  const trouble = ref('')

  async function attempt(work: () => Promise<unknown>) {
    trouble.value = ''
    try {
      await work()
    } catch (error) {
      trouble.value = (error as Error).message
    }
  }

  return { trouble, attempt }
}
