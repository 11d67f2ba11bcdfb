// One continuous scale of temperature for every drawing. Blue through slate and ochre to brick: it differs in
// hue and in lightness of warm against cold, so it survives the common kinds of colour blindness; the number
// always stands beside it.
import { interpolateLab } from 'd3-interpolate'
import { scaleLinear } from 'd3-scale'

const COLOURS = ['#2f57c4', '#4c86b8', '#858c90', '#bd8420', '#c4402a']
const STOPS: Record<string, number[]> = {
  degF: [0, 40, 75, 120, 190],
  degC: [-18, 4, 24, 49, 88],
}

const scales = Object.fromEntries(
  Object.entries(STOPS).map(([unit, stops]) => [
    unit,
    scaleLinear<string>().domain(stops).range(COLOURS).interpolate(interpolateLab).clamp(true),
  ]),
)

/** Colour of a temperature, or null where there is none to show. */
export function temperatureColour(value: number | undefined, unit: string | undefined): string | null {
  const scale = unit === undefined ? undefined : scales[unit]
  return value === undefined || !scale ? null : scale(value)
}
