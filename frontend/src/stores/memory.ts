// Answers of the server that this device remembers, for when it can't be reached. A page that comes over plain HTTP from
// another machine has no such memory: browsers keep it for secure addresses.

export const ANSWERS = 'icepick-answers'
/** On an answer out of memory. */
export const FROM_MEMORY = 'X-From-Memory'

/** Remember an answer under the address it would be asked for at. */
export async function remember(address: string, answer: unknown) {
  if (!('caches' in globalThis)) return
  const headers = { 'Content-Type': 'application/json', Date: new Date().toUTCString() }
  const memory = await caches.open(ANSWERS)
  await memory.put(address, new Response(JSON.stringify(answer), { headers }))
}

/** Whether there is an answer to this address in memory. */
export async function isRemembered(address: string): Promise<boolean> {
  return 'caches' in globalThis && !!(await caches.match(address, { cacheName: ANSWERS }))
}

/** Have the service worker, where there is one, remember what it has no answer to yet. */
export async function learn(address: string) {
  if (!navigator.serviceWorker?.controller || (await isRemembered(address))) return
  await fetch(address).catch(() => undefined)
}

/** Since when an answer has been in memory; null for one that came from the server. */
export function rememberedSince(response: Response): Date | null {
  return response.headers.has(FROM_MEMORY) ? new Date(response.headers.get('Date') ?? Date.now()) : null
}

/** Forget all of them: who uses this device next is another. */
export async function forgetAnswers() {
  if ('caches' in globalThis) await caches.delete(ANSWERS)
}
