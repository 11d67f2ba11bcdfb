import { applyPatch, type Operation } from 'rfc6902'

// Answers come anew whole, though little of them changed. What did not change stays the same object, so that only what shows
// something new is drawn again.

/** `next`, with every part that equals its counterpart in `before` taken from there; both are plain data. */
export function shared<T>(before: unknown, next: T): T {
  if (Object.is(before, next) || typeof before !== 'object' || typeof next !== 'object' || !before || !next) return next
  if (Array.isArray(before) !== Array.isArray(next)) return next
  const old = before as Record<string, unknown>
  const now = next as Record<string, unknown>
  const keys = Object.keys(now)
  let same = keys.length === Object.keys(old).length
  const found = (Array.isArray(next) ? [] : {}) as Record<string, unknown>
  for (const key of keys) {
    found[key] = shared(old[key], now[key])
    same &&= key in old && Object.is(found[key], old[key])
  }
  return (same ? before : found) as T
}

/** A copy of plain data, changed by the steps of a JSON Patch (RFC 6902); null where they don't fit it. */
export function patched<T>(before: T, steps: Operation[]): T | null {
  const copy = structuredClone(before)
  return applyPatch(copy, steps).some(Boolean) ? null : copy
}
