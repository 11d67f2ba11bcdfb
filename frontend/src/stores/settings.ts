// What this device remembers of its user: units, theme, instrument.
import { defineStore } from 'pinia'
import { ref, watch, watchEffect } from 'vue'
import type { Method, UnitSystem } from '../api/types'
import { keep, kept } from './shelf'

export type Theme = 'shade' | 'sun'

function remembered<T extends string>(key: string, initial: T, allowed: readonly T[]) {
  const before = kept(key) as T | null
  const value = ref<T>(before && allowed.includes(before) ? before : initial)
  watch(value, (now) => keep(key, now as string))
  return value
}

export const useSettings = defineStore('settings', () => {
  const bright = matchMedia('(prefers-color-scheme: light)').matches
  const theme = remembered<Theme>('icepick.theme', bright ? 'sun' : 'shade', ['shade', 'sun'])
  const units = remembered<UnitSystem>('icepick.units', 'field', ['field', 'metric'])
  const method = remembered<Method>('icepick.method', 'clamp', [
    'clamp', 'probe', 'infrared', 'gauge', 'meter', 'estimate',
  ])
  /** Whether tags show what a sound machine would read beside what was read. */
  const expected = remembered<'shown' | 'hidden'>('icepick.expected', 'hidden', ['shown', 'hidden'])
  /** The mode a call was last started in: the season. */
  const season = remembered<'heating' | 'cooling'>('icepick.season', 'heating', ['heating', 'cooling'])
  watchEffect(() => {
    document.documentElement.dataset.theme = theme.value
    document.documentElement.dataset.bsTheme = theme.value === 'shade' ? 'dark' : 'light'
  })
  return { theme, units, method, expected, season }
})
