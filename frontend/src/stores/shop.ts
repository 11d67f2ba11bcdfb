// The shop as it stands on its reports.
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import { ask, client } from '../api/client'
import type { Shop } from '../api/types'

export const useShop = defineStore('shop', () => {
  const shop = shallowRef<Shop | null>(null)

  async function load() {
    shop.value = await ask(client.GET('/api/shop'))
  }

  async function say(body: Shop) {
    shop.value = await ask(client.PUT('/api/shop', { body }))
  }

  return { shop, load, say }
})
