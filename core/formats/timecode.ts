/**
 * Time code of a frame as mm:ss:ff, counting frames at the rate rounded to whole frames (SMPTE ST 12-1 without
 * dropped numbers). `rate` in frames a second.
 */
export function timeCode(frame: number, rate: number): string {
  const base = Math.max(1, Math.round(rate))
  const two = (value: number) => String(Math.floor(value)).padStart(2, '0')
  return `${two(frame / base / 60)}:${two((frame / base) % 60)}:${two(frame % base)}`
}

/** The same with hours, hh:mm:ss:ff, as edit lists have it. */
export function fullTimeCode(frame: number, rate: number): string {
  const hour = 3600 * Math.max(1, Math.round(rate))
  return `${String(Math.floor(frame / hour)).padStart(2, '0')}:${timeCode(frame % hour, rate)}`
}
