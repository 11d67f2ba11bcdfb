// Photos of a visit on their way to the server. A picture that was not sent waits here, to be sent again.
import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import { ask, client, Refused } from '../api/client'
import type { PhotoOf } from '../api/types'
import { keyOf, underKey } from '../api/visitKeys'
import { entryKey } from './entryKey'
import { useVisit } from './visit'

export interface Sending {
  visit: number
  file: File
  about: PhotoOf
  caption: string
  key: string
  /** The visit's own, as it was when the picture was taken. */
  visitKey: string | null
}

export const usePhotos = defineStore('photos', () => {
  const waiting = shallowRef<Sending | null>(null)
  const busy = ref(false)

  async function send(one: Sending) {
    waiting.value = one
    busy.value = true
    try {
      await ask(
        client.POST('/api/visits/{visit_id}/photos', {
          params: {
            path: { visit_id: one.visit },
            query: { entry_key: one.key, name: one.file.name || 'photo.jpg', about: one.about, ...(one.caption ? { caption: one.caption } : {}) },
          },
          headers: { 'Content-Type': 'application/octet-stream', ...underKey(one.visitKey) },
          body: one.file as unknown as string,
          bodySerializer: (body) => body,
        }),
      )
      waiting.value = null
    } catch (error) {
      // What is refused is refused again.
      if (error instanceof Refused) waiting.value = null
      throw error
    } finally {
      busy.value = false
    }
    await useVisit().load(one.visit)
  }

  const add = (visit: number, file: File, about: PhotoOf, caption: string) => send({ visit, file, about, caption, key: entryKey(), visitKey: keyOf(visit) })
  const again = async () => { if (waiting.value) await send(waiting.value) }
  const drop = () => { waiting.value = null }

  return { waiting, busy, add, again, drop }
})
