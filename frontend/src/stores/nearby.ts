// This browser's Bluetooth at work for a visit, also while another screen is looked at.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { ask, client, Refused } from '../api/client'
import { Nearby, radioHere, type Relay } from '../recorder/nearby'
import { useLive } from './live'

const EACH_MS = 1000
const GONE = [404, 409]

export const useNearby = defineStore('nearby', () => {
  const live = useLive()
  const nearby = shallowRef<Nearby | null>(null)
  const trouble = ref('')
  const here = computed(() => radioHere() !== null)
  let visit = 0
  let timer: ReturnType<typeof setInterval> | undefined

  const send = (body: Relay) => ask(client.POST('/api/visits/{visit_id}/live/heard', { params: { path: { visit_id: visit } }, body }))

  /** Choose a probe and listen to it. Called where somebody has just pressed. */
  async function add(to: number) {
    const radio = radioHere()
    if (!radio) return
    if (visit !== to) stop()
    visit = to
    nearby.value ??= new Nearby(radio)
    const one = await nearby.value.choose()
    if (!one) return
    if (!live.on) await live.listen('relayed')
    // Known first: what it says before that is heard by nobody.
    await send({ found: [one], said: [], lost: [] })
    await live.connect(one.address, true)
    timer ??= setInterval(() => void go(), EACH_MS)
  }

  async function go() {
    try {
      await nearby.value?.sendOn(send)
      trouble.value = ''
    } catch (error) {
      // Nobody listens any more; anything else passes, and what was heard waits.
      if (error instanceof Refused && GONE.includes(error.details.status)) stop()
      else trouble.value = (error as Error).message
    }
  }

  function stop() {
    clearInterval(timer)
    timer = undefined
    nearby.value?.close()
    nearby.value = null
    trouble.value = ''
  }

  return { here, trouble, add, stop }
})
