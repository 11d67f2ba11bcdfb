// What this device keeps for itself. A full or forbidden store is an answer, not an exception: who keeps something asks
// whether it was kept.

/** Keep a text under a name; false where this device's store is full or shut. */
export function keep(name: string, text: string): boolean {
  try {
    localStorage.setItem(name, text)
    return true
  } catch {
    return false
  }
}

/** What was kept under a name; null where there is nothing, or nothing can be read. */
export function kept(name: string): string | null {
  try {
    return localStorage.getItem(name)
  } catch {
    return null
  }
}

export function forget(name: string) {
  try {
    localStorage.removeItem(name)
  } catch {
    // What can't be read can't be removed either.
  }
}

/** The names under which something is kept that begin like this, in order. */
export function names(beginning: string): string[] {
  try {
    return Object.keys(localStorage).filter((name) => name.startsWith(beginning)).sort()
  } catch {
    return []
  }
}
