// Recordings of a visit: added to it, and their lines fetched for drawing, each once for its units.
import { defineStore } from 'pinia'
import { ask, client } from '../api/client'
import type { Drawn, NewRecording, RecordingLine } from '../api/types'
import { useOnce } from './entryKey'
import { useSettings } from './settings'

export const useRecordings = defineStore('recordings', () => {
  const settings = useSettings()
  const kept = new Map<string, Promise<Drawn>>()

  /** The lines of a recording in the units on screen. What was recorded does not change, so it is asked for once. */
  function drawn(visit: number, line: RecordingLine): Promise<Drawn> {
    const key = `${visit} ${line.entry_key} ${settings.units}`
    const path = { visit_id: visit, recording: line.id }
    const found =
      kept.get(key) ??
      ask(client.GET('/api/visits/{visit_id}/recordings/{recording}/drawn', { params: { path, query: { units: settings.units } } }))
    kept.set(key, found)
    found.catch(() => kept.delete(key))
    return found
  }

  const once = useOnce<Omit<NewRecording, 'entry_key'>>()

  /** Add a recording; gives its id. */
  async function add(visit: number, body: Omit<NewRecording, 'entry_key'>): Promise<string> {
    const { answer } = await once(`${visit} by hand`, body, (recording) =>
      ask(client.POST('/api/visits/{visit_id}/recordings', { params: { path: { visit_id: visit } }, body: recording })),
    )
    return answer.recording
  }

  const csv = (visit: number, recording: string) =>
    ask(client.GET('/api/visits/{visit_id}/recordings/{recording}/csv', { params: { path: { visit_id: visit, recording } } }))

  return { drawn, add, csv }
})
