// A file of rows on its way into a visit: sent, read by the server, given a meaning, entered.
import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { ask, client } from '../api/client'
import type { EnterFile, FileSaid, FileView } from '../api/types'
import { useOnce } from './entryKey'
import { ASK_AGAIN_MS, asBytes, sendParts } from './inParts'
import { forget, keep, kept } from './shelf'

/** The file this window follows, also after it was loaded again. */
const SHELF = 'icepick.file'

export const useRecordingFile = defineStore('recordingFile', () => {
  const visit = shallowRef(0)
  const now = shallowRef<FileView | null>(null)
  const busy = computed(() => ['arriving', 'reading', 'entering'].includes(now.value?.state ?? ''))
  const once = useOnce<Omit<EnterFile, 'entry_key'>>()

  const path = () => ({ visit_id: visit.value, name: now.value!.id })
  const isStill = (one: FileView) => now.value?.id === one.id
  function seen(one: FileView) {
    if (isStill(one)) now.value = one
    return isStill(one)
  }

  async function follow() {
    while (busy.value) {
      const one = now.value!
      await new Promise((done) => setTimeout(done, ASK_AGAIN_MS))
      if (!isStill(one)) return
      seen(await ask(client.GET('/api/visits/{visit_id}/files/{name}', { params: { path: path() } })))
    }
  }

  /** Send a file to a visit, and follow it until it is read. */
  async function send(to: number, file: File) {
    if (now.value) await leave()
    visit.value = to
    const begun = await ask(client.POST('/api/visits/{visit_id}/files', { params: { path: { visit_id: to } }, body: { name: file.name, bytes: file.size } }))
    now.value = begun
    keep(SHELF, `${to} ${begun.id}`)
    const put = (one: FileView, part: Blob) =>
      ask(client.PUT('/api/visits/{visit_id}/files/{name}/part', { params: { path: { visit_id: to, name: one.id }, query: { at: one.received } }, ...asBytes(part) }))
    await sendParts(file, begun, put, seen)
    if (isStill(begun)) await follow()
  }

  let unsaid: FileSaid | null = null
  let saying: Promise<void> | null = null
  async function sayAll() {
    while (unsaid && now.value) {
      const body = unsaid
      unsaid = null
      seen(await ask(client.PUT('/api/visits/{visit_id}/files/{name}/meaning', { params: { path: path() }, body })))
    }
  }
  /** Say what it means. One after the other: what was said last is what stands. */
  function say(said: FileSaid): Promise<void> {
    unsaid = said
    saying ??= sayAll().finally(() => (saying = null))
    return saying
  }

  /** Enter it, and follow that to its end; gives the recording's id, if it was entered. */
  async function enter(body: Omit<EnterFile, 'entry_key'>) {
    await saying
    const params = { path: path() }
    // What was said changes what is sent: only the same file, asked for in the same way, is the same thing.
    const about = JSON.stringify([params, body])
    const { answer } = await once(about, body, (whole) => ask(client.POST('/api/visits/{visit_id}/files/{name}/entry', { params, body: whole })))
    seen(answer)
    await follow()
    return now.value?.recording ?? null
  }

  /** Let it go; nothing of it was entered, if it was not done. */
  async function leave() {
    const one = now.value
    if (!one) return
    const params = { path: path() }
    now.value = null
    forget(SHELF)
    await ask(client.DELETE('/api/visits/{visit_id}/files/{name}', { params })).catch(() => undefined)
  }

  /** Go on with the file of a visit that was followed before this window was loaded again. */
  async function resume(of: number) {
    const [to, name = ''] = (kept(SHELF) ?? '').split(' ')
    if (now.value || Number(to) !== of) return
    const found = await ask(client.GET('/api/visits/{visit_id}/files/{name}', { params: { path: { visit_id: of, name } } })).catch(() => null)
    if (now.value) return
    visit.value = of
    now.value = found
    // What had not arrived is sent anew.
    if (found?.state === 'arriving') return leave()
    await follow()
  }

  return { visit, now, busy, send, say, enter, leave, resume }
})
