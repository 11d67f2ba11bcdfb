// The clock of a file and the clock of this place.

/** How this place's clock stood to UTC at a time that is written without its offset: "-05:00". */
export function offsetOf(written: string | null): string {
  const at = written ? new Date(written) : null
  if (!at || Number.isNaN(at.getTime())) return ''
  return inHours(-at.getTimezoneOffset())
}

const two = (number: number) => String(number).padStart(2, '0')

/** Minutes ahead of UTC as an offset is written. */
export const inHours = (minutes: number) => `${minutes < 0 ? '-' : '+'}${two(Math.floor(Math.abs(minutes) / 60))}:${two(Math.abs(minutes) % 60)}`

/** An offset as it is written, in minutes; null where it is none. */
export function inMinutes(written: string): number | null {
  const match = /^([+-])(\d{1,2}):([0-5]\d)$/.exec(written.trim())
  return match ? (match[1] === '-' ? -1 : 1) * (Number(match[2]) * 60 + Number(match[3])) : null
}

/** A time of the server's as a field of this place holds it. */
export function fieldOf(at: string | null): string {
  if (!at) return ''
  const here = new Date(at)
  return `${here.getFullYear()}-${two(here.getMonth() + 1)}-${two(here.getDate())}T${two(here.getHours())}:${two(here.getMinutes())}:${two(here.getSeconds())}`
}

/** A time as a field of this place holds it, for the server; null where there is none. */
export function startOf(field: string): string | null {
  const at = field ? new Date(field) : null
  return at && !Number.isNaN(at.getTime()) ? at.toISOString() : null
}
