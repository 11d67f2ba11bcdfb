// The clock of a file and the clock of this place.

/** How this place's clock stood to UTC at a time that is written without its offset: "-05:00". */
export function offsetOf(written: string | null): string {
  const at = written ? new Date(written) : null
  if (!at || Number.isNaN(at.getTime())) return ''
  const minutes = -at.getTimezoneOffset()
  const two = (number: number) => String(number).padStart(2, '0')
  return `${minutes < 0 ? '-' : '+'}${two(Math.floor(Math.abs(minutes) / 60))}:${two(Math.abs(minutes) % 60)}`
}

/** A time as a field of this place holds it, for the server; null where there is none. */
export function startOf(field: string): string | null {
  const at = field ? new Date(field) : null
  return at && !Number.isNaN(at.getTime()) ? at.toISOString() : null
}
