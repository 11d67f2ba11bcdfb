// How often what was said was right.
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import { ask, client } from '../api/client'
import type { ScoreView } from '../api/types'

export const useScores = defineStore('scores', () => {
  const scores = shallowRef<ScoreView | null>(null)
  async function load() {
    scores.value = await ask(client.GET('/api/scores'))
  }
  return { scores, load }
})
