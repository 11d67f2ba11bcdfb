// Visits by their own keys: a number is used again once the records were put back, a key never is.

export const VISIT_KEY = 'Visit-Key'
const keys = new Map<number, string>()

export const knowVisit = (visit: { id: number; key: string }) => void keys.set(visit.id, visit.key)

/** The key of a visit that was seen on this page; null of any other. */
export const keyOf = (id: number) => keys.get(id) ?? null

/** The header for a visit that is meant by its key. */
export const underKey = (key: string | null | undefined) => (key ? { [VISIT_KEY]: key } : {})

/** A change to a visit goes to the one that was seen here under that number, or to none. */
export function withVisitKey(request: Request) {
  if (request.method === 'GET' || request.headers.has(VISIT_KEY)) return
  const id = /\/api\/visits\/(\d+)(?:\/|$)/.exec(new URL(request.url).pathname)?.[1]
  const key = id && keyOf(Number(id))
  if (key) request.headers.set(VISIT_KEY, key)
}
