import * as yup from 'yup'
import { cubicBezierEasing } from '../geometry/easing.ts'

/**
 * How a setting describes itself. The settings panel, the validation and the parameter lanes are all made from
 * these descriptions; nobody writes a panel per effect or part kind.
 */
export type Parameter = NumberParameter | ColourParameter | ChoiceParameter | ListParameter

interface Described {
  name: string
  label: string
  /** One sentence for the tooltip. */
  hint: string
}

export interface NumberParameter extends Described {
  type: 'number'
  /** Shown behind the number; '%' values are stored as 0..1 and shown times 100. */
  unit: 'px' | '%' | '°' | 'frames' | '×' | ''
  min: number
  max: number
  step: number
  default: number
  /** May carry keys over time. */
  keyed?: boolean
}

export interface ColourParameter extends Described {
  type: 'colour'
  /** '#rrggbb', or '' where `inherits` names the colour that stands in. */
  default: string
  inherits?: string
}

export interface ChoiceParameter extends Described {
  type: 'choice'
  options: { value: string; label: string }[]
  default: string
}

export interface ListParameter extends Described {
  type: 'list'
  /** What one row is called, as in 'add halo'. */
  item: string
  of: (NumberParameter | ColourParameter)[]
  max: number
  default: Settings[]
}

export type Ease = 'straight' | 'eased' | 'held'
export interface CurveKey {
  /** Frame of the shot. */
  frame: number
  value: number
  /** How the span after this key runs. */
  ease: Ease
}
/** A number over time; at least one key, sorted by frame, one per frame. */
export interface Curve {
  keys: CurveKey[]
}
export type Setting = number | string | Curve | Settings[]
export interface Settings {
  [name: string]: Setting
}

export const isCurve = (value: Setting | undefined): value is Curve =>
  typeof value === 'object' && !Array.isArray(value) && 'keys' in value

/** Value of a curve at `time` (frames of the shot, real). Held at the ends. `eased` is CSS ease-in-out. */
export function curveAt(curve: Curve, time: number): number {
  const { keys } = curve
  const after = keys.findIndex((key) => key.frame > time)
  if (after === 0) return keys[0]!.value
  if (after < 0) return keys[keys.length - 1]!.value
  const a = keys[after - 1]!
  const b = keys[after]!
  const u = (time - a.frame) / (b.frame - a.frame)
  if (a.ease === 'held') return a.value
  return a.value + (b.value - a.value) * (a.ease === 'eased' ? cubicBezierEasing(0.42, 0, 0.58, 1, u) : u)
}

/** The curve with a key written (or replaced) at `frame`. */
export function withCurveKey(curve: Curve, key: CurveKey): Curve {
  const keys = [...curve.keys.filter((k) => k.frame !== key.frame), key]
  return { keys: keys.sort((a, b) => a.frame - b.frame) }
}

export function numberAt(settings: Settings, parameter: NumberParameter, time: number): number {
  const value = settings[parameter.name]
  if (isCurve(value)) return curveAt(value, time)
  return typeof value === 'number' ? value : parameter.default
}

/** All defaults of a description, copied, so that nobody shares a list. */
export function defaultsOf(parameters: readonly Parameter[]): Settings {
  return Object.fromEntries(parameters.map((p) => [p.name, structuredCopy(p.default)]))
}

function structuredCopy(value: Setting): Setting {
  return typeof value === 'object' ? (JSON.parse(JSON.stringify(value)) as Setting) : value
}

const colourPattern = /^#[0-9a-f]{6}$/i

function numberSchema(p: NumberParameter) {
  return yup
    .number()
    .typeError(`${p.label} must be a number from ${p.min} to ${p.max}.`)
    .min(p.min, `${p.label} must be at least ${p.min}.`)
    .max(p.max, `${p.label} must be at most ${p.max}.`)
}

function schemaOf(p: Parameter): yup.Schema {
  switch (p.type) {
    case 'number': {
      const still = numberSchema(p)
      if (!p.keyed) return still
      const curve = yup.object({
        keys: yup
          .array(
            yup.object({
              frame: yup
                .number()
                .integer(`Keys of ${p.label} lie on whole frames.`)
                .min(-100_000)
                .max(1_000_000)
                .required(),
              value: still.required(),
              ease: yup.string().oneOf(['straight', 'eased', 'held']).required(),
            }),
          )
          .min(1, `${p.label} needs at least one key; set it still to remove them.`)
          .required()
          .test('order', `Keys of ${p.label} must be sorted, one per frame.`, (keys) =>
            (keys ?? []).every((key, i) => i === 0 || key.frame > keys![i - 1]!.frame),
          ),
      })
      return yup.lazy((value: unknown) =>
        typeof value === 'object' && value !== null ? curve.noUnknown() : still,
      ) as unknown as yup.Schema
    }
    case 'colour':
      return yup
        .string()
        .test(
          'colour',
          `${p.label} must be a colour written as #rrggbb.`,
          (value) => value === undefined || colourPattern.test(value) || (value === '' && p.inherits !== undefined),
        )
    case 'choice':
      return yup.string().oneOf(
        p.options.map((option) => option.value),
        `${p.label} must be one of: ${p.options.map((option) => option.label).join(', ')}.`,
      )
    case 'list':
      return yup
        .array(settingsSchema(p.of))
        .typeError(`${p.label} must be a list.`)
        .max(p.max, `${p.label} holds at most ${p.max} rows; remove one first.`)
  }
}

/** Yup schema of a settings object made from its description; unknown names are refused. */
export function settingsSchema(parameters: readonly Parameter[]): yup.ObjectSchema<Settings> {
  const known = schemaCache.get(parameters)
  if (known) return known
  const schema = yup
    .object(Object.fromEntries(parameters.map((p) => [p.name, schemaOf(p)])))
    .noUnknown(({ unknown }) => `There is no setting called ${unknown}.`) as unknown as yup.ObjectSchema<Settings>
  schemaCache.set(parameters, schema)
  return schema
}

const schemaCache = new WeakMap<readonly Parameter[], yup.ObjectSchema<Settings>>()
