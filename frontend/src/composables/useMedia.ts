// Whether a media query holds, followed as it changes.
import { onScopeDispose, ref } from 'vue'

export function useMedia(query: string) {
  const media = matchMedia(query)
  const holds = ref(media.matches)
  const follow = () => (holds.value = media.matches)
  media.addEventListener('change', follow)
  onScopeDispose(() => media.removeEventListener('change', follow))
  return holds
}

/** Whether the screen is a phone's. */
export const useNarrow = () => useMedia('(max-width: 40rem)')
