// A drawing has units of its own. `--px` is how many of them make a pixel: so letters stay large enough to read, however small the
// drawing is shown (`font-size: max(15px, 11.5 * var(--px))`).
import { useElementSize, type MaybeComputedElementRef } from '@vueuse/core'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'

export function useSheet(element: MaybeComputedElementRef, width: MaybeRefOrGetter<number>) {
  const { width: shown } = useElementSize(element)
  const scale = computed(() => toValue(width) / (shown.value || toValue(width)))
  const style = computed(() => ({ '--px': `${scale.value}px` }))
  return { scale, style }
}
