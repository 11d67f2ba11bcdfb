// The one way to the server.
import createClient from 'openapi-fetch'
import { heard, withToken } from './admission'
import { fetchOrTakeUp } from './early'
import { answered, silent } from './line'
import type { paths } from './schema'
import type { ProblemDetails } from './types'
import { withVisitKey } from './visitKeys'

export const client = createClient<paths>({ baseUrl: '', fetch: fetchOrTakeUp })
client.use({
  onRequest: ({ request }) => {
    withToken(request)
    withVisitKey(request)
  },
  onResponse: ({ response }) => {
    heard(response)
    answered(response)
  },
  onError: () => silent(),
})

const TOO_LARGE = 413
const SAYS_NOTHING = new Set(['value', 'unit', 'new_unit', 'design', 'reading', 'observation', 'run'])

/** The field a problem points at, in words: `/design/supply_fan_power/value` is *supply fan power*. */
const field = (pointer: string) =>
  pointer.split('/').filter((step) => step && !SAYS_NOTHING.has(step)).map((step) => step.replaceAll('_', ' ')).join(' ')

/** The server answered, and refused; `details` says why. */
export class Refused extends Error {
  constructor(readonly details: ProblemDetails) {
    const wrong = details.errors?.[0]
    super(wrong ? [field(wrong.pointer), wrong.message].filter(Boolean).join(': ') : details.detail)
  }
}

/** The server did not answer. */
export class Unreachable extends Error {
  constructor() {
    super('The server does not answer.')
  }
}

type Answer<T> = { data?: T; error?: unknown; response: Response }

/** Have the server make a file; `Refused` or `Unreachable` where it can't. */
export async function madeFile(address: string) {
  let response: Response
  try {
    response = await fetch(address)
  } catch {
    silent()
    throw new Unreachable()
  }
  heard(response)
  answered(response)
  if (response.ok) return
  const details = (await response.json().catch(() => null)) as ProblemDetails | null
  throw details?.status ? new Refused(details) : new Unreachable()
}

/** Unwrap an answer: the data, or `Refused`, or `Unreachable`. */
export async function ask<T>(request: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await request
  } catch {
    throw new Unreachable()
  }
  if (answer.data !== undefined) return answer.data
  const details = answer.error as ProblemDetails | undefined
  if (details?.status) throw new Refused(details)
  // Refused before it was read, it is answered without details.
  if (answer.response.status === TOO_LARGE) {
    throw new Refused({ type: 'about:blank', title: 'Too large', status: TOO_LARGE, detail: 'That is more than the server takes at once.' })
  }
  throw new Unreachable()
}
