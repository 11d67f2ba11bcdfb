// One defrost in a line of words, the same on the walk and in the report.
import type { SeenDefrost } from '../api/types'
import { useCatalogue } from '../stores/catalogue'
import { clock } from './defrostLines'
import { plain } from './figures'

interface Figure {
  value: number
  unit: string
}
type Estimate = Figure & { uncertainty: number }

/** Whether it is more than its own doubt. */
const proved = (found: Estimate | null): found is Estimate => found !== null && found.value > found.uncertainty

export function useDefrostWords() {
  const catalogue = useCatalogue()
  const said = (found: Figure) => `${plain(found.value)} ${catalogue.symbol(found.unit)}`
  const about = ({ value, uncertainty, unit }: Estimate) => {
    const places = value < 10 ? 1 : 0
    return `${value.toFixed(places)} ± ${uncertainty.toFixed(places)} ${catalogue.symbol(unit)}`
  }

  return (one: SeenDefrost): string =>
    [
      one.started === null ? 'begun before the recording' : `begun at ${clock(one.started)}`,
      one.run_before === null ? '' : `after ${plain(one.run_before)} min in heating`,
      proved(one.frost_before) ? `frost had made the coil ${about(one.frost_before)} colder` : '',
      proved(one.air_lost) ? `taking ${about(one.air_lost)} of its air` : '',
      one.shifted ? '' : 'the valve did not shift',
      one.ended === null ? 'not seen to end' : `ended at ${clock(one.ended)} by ${catalogue.word('ended_by', one.ended_by)}`,
      one.coil_highest ? `coil up to ${said(one.coil_highest)}` : '',
      one.supply_air_lowest ? `supply air down to ${said(one.supply_air_lowest)}` : '',
      one.cleared === null ? '' : one.cleared ? 'came clear' : 'frost left',
    ]
      .filter(Boolean)
      .join(', ')
}
