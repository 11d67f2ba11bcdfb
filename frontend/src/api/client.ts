// The one way to the server.
import createClient from 'openapi-fetch'
import type { paths } from './schema'
import type { ProblemDetails } from './types'

export const client = createClient<paths>({ baseUrl: '' })

/** The server answered, and refused; `details` says why. */
export class Refused extends Error {
  constructor(readonly details: ProblemDetails) {
    super(details.errors?.[0]?.message ?? details.detail)
  }
}

/** The server did not answer. */
export class Unreachable extends Error {
  constructor() {
    super('The server does not answer.')
  }
}

type Answer<T> = { data?: T; error?: unknown; response: Response }

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
  throw new Unreachable()
}
