// What the Handbook's parts do, asked of the server: each handling is worked out there.
import { ref, shallowRef, watch, type Ref } from 'vue'
import { useSettings } from '../../stores/settings'

/** The answer to what is asked now; the one before stands until it comes. */
export function useAnswer<A, Q>(asked: () => Q, get: (asked: Q & { units: 'field' | 'metric' }) => Promise<A>) {
  const settings = useSettings()
  const answer = shallowRef<A | null>(null) as Ref<A | null>
  const trouble = ref('')
  let latest = 0
  watch(
    () => ({ ...asked(), units: settings.units }),
    async (now) => {
      const mine = ++latest
      try {
        const came = await get(now)
        if (mine === latest) answer.value = came
        trouble.value = ''
      } catch (error) {
        trouble.value = (error as Error).message
      }
    },
    { immediate: true },
  )
  return { answer, trouble }
}
