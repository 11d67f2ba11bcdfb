// A server that keeps what it is sent, and can be told to break.
import { createPatch } from 'rfc6902'
import type { VisitView } from '../src/api/types'
import { line } from './line'

type Answer = { status: number; body: unknown }
export type Sent = { method: string; path: string; body: Record<string, unknown>; visitKey?: string | null }

const problem = (status: number, detail: string): Answer => ({
  status, body: { type: 'about:blank', title: detail, status, detail, errors: [] },
})

export function fakeServer(...views: VisitView[]) {
  const sent: Sent[] = []
  const acknowledged: Sent[] = []
  const kept = new Set<string>()
  const server = {
    sent,
    acknowledged,
    views: new Map(views.map((view) => [view.id, view])),
    /** Answers instead of the usual one while it gives something; throws for a line that is cut. */
    breaks: (() => undefined) as (asked: Sent) => Answer | undefined,
    problem,
  }

  function keep(asked: Sent): Answer {
    const key = String(asked.body.entry_key)
    acknowledged.push(asked)
    // A withdrawal names the key of what it takes back.
    const once = `${asked.path} ${key}`
    const view = server.views.get(Number(asked.path.split('/')[3]))
    if (kept.has(once)) return { status: 201, body: { entry_key: key } }
    kept.add(once)
    const { reading, observation, run } = asked.body as { reading?: never; observation?: never; run?: string }
    if (view && asked.path.endsWith('/withdrawals')) {
      for (const entry of view.entries) if (entry.entry_key === key) entry.withdrawn = true
    } else if (view && (reading || observation)) {
      view.entries.push({
        run: run ?? '', entry_key: key, withdrawn: false, recorded_at: new Date().toISOString(), by: null,
        reading: reading ?? null, observation: observation ?? null,
      })
      const examined = view.examination.runs.find((one) => one.id === run)
      if (reading && examined) {
        const { station, quantity, value, unit, method, at } = reading as (typeof examined.readings)[number]
        examined.readings = examined.readings.filter((one) => one.station !== station || one.quantity !== quantity)
        examined.readings.push({ station, quantity, value, unit, method, at, uncertainty: 1, minutes: 20, early: false, earlier: 0 })
      }
    }
    return { status: 201, body: asked.path.endsWith('/runs') ? { run: 'run-new' } : { entry_key: key } }
  }

  line.ask = async (request) => {
    const text = await request.text()
    const path = new URL(request.url).pathname
    const asked: Sent = { method: request.method, path, body: text ? (JSON.parse(text) as Sent['body']) : {}, visitKey: request.headers.get('Visit-Key') }
    sent.push(asked)
    const view = server.views.get(Number(path.split('/')[3]))
    const revision = view ? JSON.stringify(view) : ''
    const since = new URL(request.url).searchParams.get('since')
    const steps = () => (view && since ? createPatch(JSON.parse(since), view) : [])
    const changes = () => ({ revision, steps: steps(), whole: since ? null : view })
    const { status, body } =
      server.breaks(asked) ?? (request.method === 'GET' ? { status: view ? 200 : 404, body: changes() } : keep(asked))
    return new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } })
  }
  return server
}
