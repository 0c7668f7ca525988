import { colourCurveAt, curveAt, withCurveKey } from '#core/parameters/curves.ts'
import {
  type ColourParameter,
  isColourCurve,
  isCurve,
  type NumberParameter,
  type Setting,
} from '#core/parameters/parameters.ts'

/** A number or colour as it is at the playhead; a driven number has none of its own. */
export function settingNow(p: NumberParameter, value: Setting, frame: number): number
export function settingNow(p: ColourParameter, value: Setting, frame: number): string
export function settingNow(p: NumberParameter | ColourParameter, value: Setting, frame: number): number | string
export function settingNow(p: NumberParameter | ColourParameter, value: Setting, frame: number): number | string {
  if (isCurve(value)) return curveAt(value, frame)
  if (isColourCurve(value)) return colourCurveAt(value, frame)
  return typeof value === typeof p.default ? (value as number | string) : p.default
}

/** The setting with a new value at the playhead: a key where it carries keys, else the value itself. */
export function withSettingNow(value: Setting, frame: number, now: number | string): Setting {
  if (isCurve(value)) {
    const before = value.keys.findLast((key) => key.frame <= frame)
    return withCurveKey(value, { ...span(before), frame, value: Number(now) })
  }
  if (isColourCurve(value)) {
    const before = value.colours.findLast((key) => key.frame <= frame)
    const colours = [
      ...value.colours.filter((key) => key.frame !== frame),
      { ...span(before), frame, colour: String(now) },
    ]
    return { colours: colours.sort((a, b) => a.frame - b.frame) }
  }
  return now
}

/** The form of a span, for the key that splits it. */
const span = (key: { ease: 'straight' | 'eased' | 'held' | 'shaped' } | undefined) => ({
  ease: key?.ease === 'shaped' || !key ? ('eased' as const) : key.ease,
})

export const hasKeyAt = (value: Setting, frame: number): boolean =>
  isCurve(value)
    ? value.keys.some((key) => key.frame === frame)
    : isColourCurve(value) && value.colours.some((key) => key.frame === frame)

/** Writes a key at the playhead, or takes it away; without keys left the setting is still again. */
export function withKeyToggled(p: NumberParameter | ColourParameter, value: Setting, frame: number): Setting {
  if (isCurve(value)) {
    if (!hasKeyAt(value, frame)) return withSettingNow(value, frame, curveAt(value, frame))
    const keys = value.keys.filter((key) => key.frame !== frame)
    return keys.length ? { keys } : curveAt(value, frame)
  }
  if (isColourCurve(value)) {
    if (!hasKeyAt(value, frame)) return withSettingNow(value, frame, colourCurveAt(value, frame))
    const colours = value.colours.filter((key) => key.frame !== frame)
    return colours.length ? { colours } : colourCurveAt(value, frame)
  }
  if (p.type === 'colour') return { colours: [{ frame, colour: settingNow(p, value, frame), ease: 'eased' }] }
  return { keys: [{ frame, value: settingNow(p, value, frame), ease: 'eased' }] }
}
