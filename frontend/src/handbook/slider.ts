// The ends of a slider. A slider moves in the input's own unit; in any other unit the number is typed.
import type { InputInUnits } from '../api/types'

const STEPS = 200

export function toSlider(input: InputInUnits, unit: string): { min: number; max: number; step: number } | null {
  if (unit !== input.unit || input.high <= input.low) return null
  const rough = (input.high - input.low) / STEPS
  const step = 10 ** Math.floor(Math.log10(rough)) * (rough / 10 ** Math.floor(Math.log10(rough)) > 5 ? 5 : 1)
  return { min: input.low, max: input.high, step }
}
