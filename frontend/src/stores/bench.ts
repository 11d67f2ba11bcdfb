// The practice bench: lessons, levels, how one gets on; begin at a case, or set one.
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import { ask, client } from '../api/client'
import type { BenchHome, BenchLevel, NewCase } from '../api/types'
import { useOnce } from './entryKey'

export const useBench = defineStore('bench', () => {
  const home = shallowRef<BenchHome | null>(null)
  const onceBegun = useOnce<{ code?: string; level?: BenchLevel }>()
  const onceSet = useOnce<Omit<NewCase, 'entry_key'>>()

  async function load() {
    home.value = await ask(client.GET('/api/bench'))
  }

  /** Begin at a case, by its code or drawn at a level; gives the number of the attempt. */
  async function begin(what: { code?: string; level?: BenchLevel }) {
    const { answer } = await onceBegun(JSON.stringify(what), what, (body) => ask(client.POST('/api/bench/attempts', { body })))
    return answer.id
  }

  /** Set a case by hand; gives the code to hand on. */
  async function set(what: Omit<NewCase, 'entry_key'>) {
    const { answer } = await onceSet(JSON.stringify(what), what, (body) => ask(client.POST('/api/bench/cases', { body })))
    await load()
    return answer.code
  }

  return { home, load, begin, set }
})
