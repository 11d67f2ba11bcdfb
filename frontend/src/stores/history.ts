// A visit beside earlier ones of the same unit: asked for when looked at.
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import { ask, client } from '../api/client'
import type { History } from '../api/types'
import { useSettings } from './settings'

export const useHistory = defineStore('history', () => {
  const settings = useSettings()
  const history = shallowRef<History | null>(null)

  async function load(visit: number) {
    const params = { path: { visit_id: visit }, query: { units: settings.units } }
    history.value = await ask(client.GET('/api/visits/{visit_id}/history', { params }))
  }

  return { history, load }
})
