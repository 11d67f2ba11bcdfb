// What the first screen begins with is asked for before the rest of the app is read.
import type { UnitSystem } from './types'

/** Not taken up so long, an answer is old. */
const LASTS_MS = 5000
const asked = new Map<string, Promise<Response>>()

/** Where a visit is asked for whole. */
export const addressOf = (visit: number, units: UnitSystem) => `/api/visits/${visit}/changes?units=${units}`

export function askEarly(address: string, cache: RequestCache = 'default') {
  const answer = fetch(address, { cache })
  // Who takes it up hears of what went wrong.
  answer.catch(() => undefined)
  asked.set(address, answer)
  setTimeout(() => asked.delete(address), LASTS_MS)
}

/** Fetch, or take up what was asked for early; asked before somebody signed in, it is asked again. */
export async function fetchOrTakeUp(request: Request): Promise<Response> {
  const { pathname, search } = new URL(request.url)
  const early = request.method === 'GET' ? asked.get(pathname + search) : undefined
  asked.delete(pathname + search)
  const answer = await early
  return answer && answer.status !== 401 ? answer : fetch(request)
}
