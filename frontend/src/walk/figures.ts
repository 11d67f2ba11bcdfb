// Numbers as the screen writes them.

/** One decimal unless told otherwise, with a true minus sign. */
export const signed = (value: number, decimals = 1) => value.toFixed(decimals).replace('-', '−')

/** As a tag shows it: a decimal below a thousand, none above, and thousands set apart. A band is written `like` its value. */
export const figure = (value: number, like = value) =>
  signed(value, Math.abs(like) < 1000 ? 1 : 0).replace(/\B(?=(\d{3})+(\.|$))/g, ',')

/** For limits: without a trailing `.0`, and a second decimal only where the first would be half of it. */
export const plain = (value: number) => String(Number(value.toFixed(Math.abs(value) < 10 ? 2 : 1))).replace('-', '−')

/** Minutes and seconds, as a clock shows them. */
export function clockFace(seconds: number): string {
  const whole = Math.max(0, Math.ceil(seconds))
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`
}

/** The time of day, to the minute. */
export const clockTime = (at: Date | string) => new Date(at).toLocaleTimeString(undefined, { hour: '2-digit', minute: '2-digit' })

/** A day, as in *Jul 14, 2026*. */
export const dayOf = (at: Date | string) => new Date(at).toLocaleDateString(undefined, { day: 'numeric', month: 'short', year: 'numeric' })
