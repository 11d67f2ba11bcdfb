// A split unit in the making: what the start form asks, and the document it becomes.
import type { Unit } from '../api/types'

export interface UnitDraft {
  site: string
  label: string
  refrigerant: Unit['refrigerant']
  indoor: Unit['indoor_meter']['kind']
  outdoor: Unit['outdoor_meter']['kind']
  energizedIn: Unit['reversing_valve']['energized_in']
  drier: Unit['drier']['kind']
  accumulator: Unit['accumulator']
}

export const blankUnit = (): UnitDraft => ({
  site: '',
  label: '',
  refrigerant: 'R-410A',
  indoor: 'txv',
  outdoor: 'txv',
  energizedIn: 'cooling',
  drier: 'bi_flow',
  accumulator: true,
})

type Meter = Unit['indoor_meter']

/** `usual` gives the way round a kind of meter that it most often comes with. */
export function toUnit(draft: UnitDraft, usual: (kind: Meter['kind']) => Meter['bypass']): Unit {
  return {
    label: draft.label,
    layout: 'split',
    source: 'air',
    load: 'air',
    refrigerant: draft.refrigerant,
    indoor_meter: { kind: draft.indoor, bypass: usual(draft.indoor) },
    outdoor_meter: { kind: draft.outdoor, bypass: usual(draft.outdoor) },
    drier: draft.drier === 'none' || draft.drier === 'unknown' ? { kind: draft.drier } : { kind: draft.drier, place: 'outdoor_unit' },
    accumulator: draft.accumulator,
    compressor: { kind: 'single' },
    reversing_valve: { energized_in: draft.energizedIn },
  }
}

/** Whether a part is fitted, as a choice: null where nobody knows. */
export const FITTED = [
  { value: 'yes', text: 'fitted' },
  { value: 'no', text: 'none' },
  { value: '', text: 'not known' },
]
export const fittedWord = (fitted: boolean | null) => (fitted === null ? '' : fitted ? 'yes' : 'no')
export const isFitted = (word: unknown) => (word ? word === 'yes' : null)
