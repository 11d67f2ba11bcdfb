// The clock of a run: when it began, or how long it had been going.
import { ask, client } from '../api/client'
import type { Clock } from '../api/types'

export const setClockOf = (visit_id: number, run: string, { started_at = null, minutes_running = null }: Clock) =>
  ask(
    client.PATCH('/api/visits/{visit_id}/runs/{run}/clock', {
      params: { path: { visit_id, run } },
      body: { started_at, minutes_running },
    }),
  )
