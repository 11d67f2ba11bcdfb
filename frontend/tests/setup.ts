// What a browser has and jsdom does not; and a line to no server but the one a test plays.
import { beforeEach } from 'vitest'
import { line } from './line'

const Plain = Request
globalThis.Request = class extends Plain {
  constructor(input: RequestInfo | URL, init?: RequestInit) {
    super(typeof input === 'string' ? new URL(input, 'http://127.0.0.1') : input, init)
  }
}
globalThis.fetch = (request) => line.ask(request as Request)
globalThis.matchMedia = () => ({ matches: false, addEventListener: () => undefined, removeEventListener: () => undefined }) as unknown as MediaQueryList

beforeEach(() => localStorage.clear())
