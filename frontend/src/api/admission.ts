// What the server's door has to do with every request: the token that goes along with a change, and being turned away.
import { ref } from 'vue'

/** Goes along with every change; only a page of ours can have read it. */
let token = ''
export const holdToken = (now: string) => (token = now)

/** Counts the answers that said so: nobody has signed in any more, or somebody else has. */
export const turnedAway = ref(0)

export function withToken(request: Request) {
  if (token && request.method !== 'GET') request.headers.set('X-CSRF-Token', token)
}

export function heard(response: Response) {
  if (response.status === 401 || response.status === 403) turnedAway.value++
}
