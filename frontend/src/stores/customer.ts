// The customer's page of a visit, in words.
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import { ask, client } from '../api/client'
import type { CustomerView } from '../api/types'

export const useCustomer = defineStore('customer', () => {
  const page = shallowRef<CustomerView | null>(null)

  async function load(visit: number, language: string) {
    const params = { path: { visit_id: visit }, query: { language } }
    page.value = await ask(client.GET('/api/visits/{visit_id}/customer', { params }))
  }

  return { page, load }
})
