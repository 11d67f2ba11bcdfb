// Whether the server answers: heard from every request there is, and asked after while it does not.
import { ref } from 'vue'
import { rememberedSince } from '../stores/memory'

const ASK_AGAIN_MS = 3000

/** Since when the server has said nothing; null while it answers. */
export const silentSince = ref<Date | null>(null)
let heardAt = Date.now()
let asking: ReturnType<typeof setInterval> | undefined

function heard() {
  heardAt = Date.now()
  silentSince.value = null
  clearInterval(asking)
  asking = undefined
}

export function silent(since = new Date(heardAt)) {
  silentSince.value ??= since
  asking ??= setInterval(() => {
    // What a service worker remembers answers no HEAD.
    void fetch(new Request('/api/catalogue', { method: 'HEAD', cache: 'no-store' })).then((answer) => answer.status < 500 && heard(), () => undefined)
  }, ASK_AGAIN_MS)
}

export function answered(response: Response) {
  const since = rememberedSince(response)
  if (since) silent(since)
  else heard()
}
