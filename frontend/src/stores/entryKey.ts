// Keys made where something is typed, so that what is sent twice is kept once.
import { Refused } from '../api/client'

/** A key nobody else will make. `randomUUID` would be missing on a phone that comes over plain HTTP. */
export const entryKey = () =>
  Array.from(crypto.getRandomValues(new Uint8Array(16)), (byte) => byte.toString(16).padStart(2, '0')).join('')

/**
 * Sends a thing that must be made once. Where no answer came, asking for the same thing again sends what was sent before,
 * under the same key; `about` says what counts as the same. Gives the answer, and what was really sent.
 */
export function useOnce<Body extends object>() {
  let open: { about: string; body: Body; key: string } | null = null

  return async function once<Answer>(about: string, body: Body, send: (body: Body & { entry_key: string }) => Promise<Answer>) {
    const asked = open?.about === about ? open : { about, body, key: entryKey() }
    open = asked
    try {
      const answer = await send({ ...asked.body, entry_key: asked.key })
      open = null
      return { answer, sent: asked.body }
    } catch (error) {
      if (error instanceof Refused && error.details.status < 500) open = null
      throw error
    }
  }
}
