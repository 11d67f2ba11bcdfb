// The list of calls.
import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import { ask, client } from '../api/client'
import type { NewVisit, VisitList, VisitsAsked } from '../api/types'
import { useOnce } from './entryKey'
import { setClockOf } from './clock'

/** The first run of a call, as the server numbers them. */
const FIRST_RUN = 'run-1'
export type NewCall = Omit<NewVisit, 'entry_key'>

export const useCalls = defineStore('calls', () => {
  const list = shallowRef<VisitList | null>(null)

  /** Visits with their headlines, a page of those asked for. */
  const visits = (asked: VisitsAsked): Promise<VisitList> => {
    const query = Object.fromEntries(Object.entries(asked).filter(([, value]) => value !== undefined))
    return ask(client.GET('/api/visits', { params: { query } }))
  }

  /** Whether the list on screen is another than was asked for. */
  const looking = ref(false)
  let turn = 0
  /** The list on screen; an answer that comes behind that of a later question is old. */
  async function look(asked: VisitsAsked) {
    const mine = ++turn
    looking.value = true
    try {
      const found = await visits(asked)
      if (mine === turn) list.value = found
    } finally {
      if (mine === turn) looking.value = false
    }
  }

  const once = useOnce<NewCall>()

  /** Start a call; gives the number of its visit. */
  async function start(call: NewCall): Promise<number> {
    // The moment it was started aside, the same call sent again is the same call.
    const about = JSON.stringify({ ...call, run: call.run.mode })
    const { answer, sent } = await once(about, call, (body) => ask(client.POST('/api/visits', { body })))
    if (sent !== call) await setClockOf(answer.id, FIRST_RUN, call.run)
    return answer.id
  }

  return { list, looking, visits, look, start }
})
