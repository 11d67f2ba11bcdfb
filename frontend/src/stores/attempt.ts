// An attempt at the bench: the simulated unit as its worker sees it, where the cursor stands, and what is done.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { ask, client } from '../api/client'
import type { AttemptView, BenchStep, DebriefView, Saying } from '../api/types'
import { useOnce } from './entryKey'
import { useSettings } from './settings'
import { shared } from './sharing'
import { forget, keep, kept } from './shelf'
import { spotKey, type Shown, type Spot } from './visit'
import { useCursor } from './visitCursor'

export const useAttemptAtBench = defineStore('attempt', () => {
  const settings = useSettings()
  const view = shallowRef<AttemptView | null>(null)
  const debrief = shallowRef<DebriefView | null>(null)
  const runId = ref('')
  const onceStepped = useOnce<{ step: BenchStep }>()

  const examined = computed(() => view.value?.examined.find((one) => one.id === runId.value) ?? null)
  const run = computed(() => view.value?.runs.find((one) => one.id === runId.value) ?? null)
  /** Things are done in the run of now; an earlier one is only looked at. */
  const isNow = computed(() => runId.value === view.value?.runs.at(-1)?.id)
  const readable = computed(() => new Set((view.value?.readable ?? []).map(spotKey)))
  const shown = computed(() => {
    const tags = new Map<string, Shown>()
    for (const reading of examined.value?.readings ?? []) {
      tags.set(spotKey(reading), {
        value: reading.value, unit: reading.unit, early: reading.early, infrared: reading.method === 'infrared',
        doubted: false, state: 'kept',
      })
    }
    return tags
  })
  const cursor = useCursor({ examined, shown, wanted: () => [], within: (spot) => readable.value.has(spotKey(spot)) })

  function accept(answer: AttemptView) {
    const before = view.value
    view.value = shared(before, answer)
    if (before?.id !== answer.id) {
      runId.value = ''
      cursor.reset()
    }
    // A change of mode, and a repairing, begin a run of their own.
    if (!runId.value || answer.runs.length !== before?.runs.length) {
      runId.value = answer.runs.at(-1)!.id
      cursor.goToFirstUnread()
    }
  }

  async function load(id: number) {
    const params = { path: { attempt_id: id }, query: { units: settings.units } }
    accept(await ask(client.GET('/api/bench/attempts/{attempt_id}', { params })))
  }

  /** Do something; what it gives is there when this is through. */
  async function step(what: BenchStep) {
    const id = view.value!.id
    const params = { path: { attempt_id: id }, query: { units: settings.units } }
    const about = `${id} ${view.value!.steps.length} ${JSON.stringify(what)}`
    const { answer } = await onceStepped(about, { step: what }, (body) =>
      ask(client.POST('/api/bench/attempts/{attempt_id}/steps', { params, body })),
    )
    if (view.value?.id === id) accept(answer)
    return answer.steps.at(-1)!
  }

  /** Take the reading at a place, and move on to the next one that has none. */
  async function take(spot: Spot, infrared: boolean) {
    const again = shown.value.has(spotKey(spot))
    if (!isNow.value) runId.value = view.value!.runs.at(-1)!.id
    await step({ act: 'take', station: spot.station, quantity: spot.quantity, method: infrared ? 'infrared' : null })
    cursor.advance(again)
  }

  const draftOf = (id: number) => `icepick.bench.saying.${id}`
  /** What is being said, kept on this device until it is. */
  const draft = (id: number) => JSON.parse(kept(draftOf(id)) ?? '{}') as Record<string, unknown>
  const keepDraft = (id: number, saying: Record<string, unknown>) => keep(draftOf(id), JSON.stringify(saying))

  async function say(body: Saying) {
    const id = view.value!.id
    await ask(client.POST('/api/bench/attempts/{attempt_id}/saying', { params: { path: { attempt_id: id } }, body }))
    forget(draftOf(id))
  }

  async function loadDebrief(id: number) {
    if (debrief.value?.id !== id) debrief.value = null
    const params = { path: { attempt_id: id }, query: { units: settings.units } }
    debrief.value = await ask(client.GET('/api/bench/attempts/{attempt_id}/debrief', { params }))
  }

  function chooseRun(id: string) {
    runId.value = id
    cursor.goToFirstUnread()
  }
  function stepRun(by: 1 | -1) {
    const runs = view.value?.runs ?? []
    chooseRun(runs[runs.findIndex((one) => one.id === runId.value) + by]?.id ?? runId.value)
  }

  watch(() => settings.units, () => {
    if (view.value) void load(view.value.id)
    if (debrief.value) void loadDebrief(debrief.value.id)
  })

  const { spot, tray, spots, here, traysHere, trayOf, goTo, step: stepSpot, chooseTray, stepTray } = cursor
  return {
    view, debrief, runId, run, examined, isNow, readable, shown, load, step, take, say, loadDebrief, draft, keepDraft, chooseRun, stepRun,
    spot, tray, spots, here, traysHere, trayOf, goTo, stepSpot, chooseTray, stepTray,
  }
})
