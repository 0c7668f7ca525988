import { colourCurveAt, curveAt } from './curves.ts'
import { driven, type ReadSignal } from './drives.ts'
import {
  isColourCurve,
  isCurve,
  isDrive,
  type NumberParameter,
  type Parameter,
  type Setting,
  type Settings,
} from './parameters.ts'

const silent: ReadSignal = () => null

/** A number at a time, within the parameter's range. A drive whose signal says nothing leaves the default. */
export function numberAt(settings: Settings, p: NumberParameter, time: number, read: ReadSignal = silent): number {
  const value = settings[p.name]
  let number = p.default
  if (typeof value === 'number') number = value
  else if (isCurve(value)) number = curveAt(value, time)
  else if (isDrive(value)) {
    const input = read(value, time)
    if (input !== null) number = driven(value, input)
  }
  return Math.min(p.max, Math.max(p.min, number))
}

/** Settings in which every number and colour stands still as it is at `time`. */
export function settingsAt(
  parameters: readonly Parameter[],
  settings: Settings,
  time: number,
  read: ReadSignal = silent,
): Settings {
  const out: Settings = { ...settings }
  for (const p of parameters) {
    const value = settings[p.name]
    if (p.type === 'number') out[p.name] = numberAt(settings, p, time, read)
    else if (value === undefined) out[p.name] = p.default
    else if (isColourCurve(value)) out[p.name] = colourCurveAt(value, time)
  }
  return out
}

/** All defaults of a description, copied, so that nobody shares a list. */
export function defaultsOf(parameters: readonly Parameter[]): Settings {
  return Object.fromEntries(parameters.map((p) => [p.name, structuredCopy(p.default)]))
}

function structuredCopy(value: Setting): Setting {
  return typeof value === 'object' ? (JSON.parse(JSON.stringify(value)) as Setting) : value
}
