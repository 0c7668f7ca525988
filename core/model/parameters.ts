import * as yup from 'yup'
import { cubicBezierEasing } from '../geometry/easing.ts'
import { linearColour, to8Bit } from '../image/transfer.ts'

/**
 * How a setting describes itself. The settings panel, the validation and the parameter lanes are all made from
 * these descriptions; nobody writes a panel per effect or part kind.
 */
export type Parameter =
  | NumberParameter
  | ColourParameter
  | ChoiceParameter
  | ListParameter
  | MemberParameter
  | MediaParameter
  | TextParameter
  | ToneParameter

interface Described {
  name: string
  label: string
  /** One sentence for the tooltip. */
  hint: string
}

export interface NumberParameter extends Described {
  type: 'number'
  /** Shown behind the number; '%' values are stored as 0..1 and shown times 100. */
  unit: 'px' | '%' | '°' | 'frames' | '×' | 'stops' | 'K' | ''
  min: number
  max: number
  step: number
  default: number
  /** May change over time: carry keys, or be driven by what is traced. */
  keyed?: boolean
}

export interface ColourParameter extends Described {
  type: 'colour'
  /** '#rrggbb', or '' where `inherits` names the colour that stands in. */
  default: string
  inherits?: string
  /** May carry keys over time. */
  keyed?: boolean
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

/** The id of another cast member, or '' for none. */
export interface MemberParameter extends Described {
  type: 'member'
  default: ''
}

/** The id of a clip of the project, or '' for none. */
export interface MediaParameter extends Described {
  type: 'media'
  default: ''
}

export interface TextParameter extends Described {
  type: 'text'
  default: string
  max: number
  /** Whether it may have several lines. */
  lines?: boolean
}

/** A tone curve: places (x, y), both 0..1, in rising x, through which a smooth curve runs. */
export interface ToneParameter extends Described {
  type: 'tone'
  default: Tone
}
export type Tone = [number, number][]

export const eases = ['straight', 'eased', 'held', 'shaped'] as const
export type Ease = (typeof eases)[number]
/** Control points x1, y1, x2, y2 of a span that runs as a CSS cubic-bezier; y may overshoot. */
export type Bend = [number, number, number, number]
export interface CurveKey {
  /** Frame of the shot. */
  frame: number
  value: number
  /** How the span after this key runs. */
  ease: Ease
  /** The span's own form where it is 'shaped'. */
  bend?: Bend
}
/** A number over time; at least one key, sorted by frame, one per frame. */
export interface Curve {
  keys: CurveKey[]
}
export interface ColourKey {
  frame: number
  /** '#rrggbb' */
  colour: string
  ease: Ease
  bend?: Bend
}
/** A colour over time, like a {@link Curve}. */
export interface ColourCurve {
  colours: ColourKey[]
}

/** What traced motion and the film can say at a time, to feed a number. */
export const signals = {
  tipSpeed: { label: 'tip speed', unit: 'px/frame', needs: 'rod', usual: [0, 40] },
  heelSpeed: { label: 'heel speed', unit: 'px/frame', needs: 'rod', usual: [0, 20] },
  speed: { label: 'speed', unit: 'px/frame', needs: 'one', usual: [0, 40] },
  angle: { label: 'angle', unit: '°', needs: 'one', usual: [-180, 180] },
  turning: { label: 'turning speed', unit: '°/frame', needs: 'one', usual: [0, 15] },
  length: { label: 'length', unit: 'px', needs: 'one', usual: [0, 400] },
  area: { label: 'area', unit: 'px²', needs: 'one', usual: [0, 20000] },
  x: { label: 'place across', unit: 'px', needs: 'one', usual: [0, 1280] },
  y: { label: 'place down', unit: 'px', needs: 'one', usual: [0, 720] },
  distance: { label: 'distance', unit: 'px', needs: 'two', usual: [0, 400] },
  contact: { label: 'contact', unit: 'frames since', needs: 'two', usual: [0, 12] },
  brightness: { label: 'brightness', unit: 'from black 0 to white 1', needs: 'one', usual: [0, 1] },
  loudness: { label: 'loudness', unit: 'dB of full scale', needs: 'sound', usual: [-50, -10] },
  join: { label: 'the join', unit: 'of it, 0 to 1', needs: 'nobody', usual: [0, 1] },
} as const
export type SignalName = keyof typeof signals

/** A number fed by a signal of the traced motion. */
export interface Drive {
  signal: SignalName
  /**
   * Id of the member it is read from, or of the clip whose sound it is ('' for the shot's own), and of the second member
   * where the signal is between two; else ''.
   */
  of: string
  with: string
  /** The signal's range that becomes the number's; beyond it the number stays at its end. */
  from: [number, number]
  to: [number, number]
  /** Form of the way between. */
  bend: Bend
  /** Frames over which the signal is smoothed (sigma of a Gaussian), and by which it comes late. */
  smooth: number
  lag: number
}

export type Setting = number | string | Curve | ColourCurve | Drive | Tone | Settings[]
export interface Settings {
  [name: string]: Setting
}

const isForm = (value: Setting | undefined, field: string): boolean =>
  typeof value === 'object' && !Array.isArray(value) && field in value
export const isCurve = (value: Setting | undefined): value is Curve => isForm(value, 'keys')
export const isColourCurve = (value: Setting | undefined): value is ColourCurve => isForm(value, 'colours')
export const isDrive = (value: Setting | undefined): value is Drive => isForm(value, 'signal')

/** CSS ease-in-out. */
const easedBend: Bend = [0.42, 0, 0.58, 1]

/** How far a span has come at `u`, 0..1 of its frames; may overshoot where it is shaped so. */
export function progress({ ease, bend }: { ease: Ease; bend?: Bend }, u: number): number {
  if (ease === 'held') return 0
  if (ease === 'straight') return u
  return cubicBezierEasing(...(ease === 'shaped' && bend ? bend : easedBend), u)
}

/** The keys around `time` and how far it has come from one to the other; the same key twice beyond the ends. */
function spanAt<K extends { frame: number; ease: Ease; bend?: Bend }>(
  keys: readonly K[],
  time: number,
): [K, K, number] {
  const after = keys.findIndex((key) => key.frame > time)
  if (after === 0) return [keys[0]!, keys[0]!, 0]
  if (after < 0) return [keys[keys.length - 1]!, keys[keys.length - 1]!, 0]
  const a = keys[after - 1]!
  const b = keys[after]!
  return [a, b, progress(a, (time - a.frame) / (b.frame - a.frame))]
}

/** Value of a curve at `time` (frames of the shot, real). Held at the ends. */
export function curveAt(curve: Curve, time: number): number {
  const [a, b, u] = spanAt(curve.keys, time)
  return a.value + (b.value - a.value) * u
}

/** Colour of a curve at `time` as '#rrggbb', mixed in linear light. */
export function colourCurveAt({ colours }: ColourCurve, time: number): string {
  const [a, b, u] = spanAt(colours, time)
  if (u === 0) return a.colour
  const [from, to] = [linearColour(a.colour), linearColour(b.colour)]
  const code = from.map((v, i) =>
    to8Bit(Math.max(0, v + (to[i]! - v) * u))
      .toString(16)
      .padStart(2, '0'),
  )
  return `#${code.join('')}`
}

/** The curve with a key written (or replaced) at `frame`. */
export function withCurveKey(curve: Curve, key: CurveKey): Curve {
  const keys = [...curve.keys.filter((k) => k.frame !== key.frame), key]
  return { keys: keys.sort((a, b) => a.frame - b.frame) }
}

/** The number that a drive makes of its signal. */
export function driven({ from, to, bend }: Drive, input: number): number {
  const [low, high] = from
  const u = high === low ? (input >= high ? 1 : 0) : Math.max(0, Math.min(1, (input - low) / (high - low)))
  return to[0] + (to[1] - to[0]) * cubicBezierEasing(...bend, u)
}

/** Reads a drive's signal at a time, smoothed and late as the drive says; null where there is nothing to read. */
export type ReadSignal = (drive: Drive, time: number) => number | null
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

const colourPattern = /^#[0-9a-f]{6}$/i

function numberSchema(p: NumberParameter) {
  return yup
    .number()
    .typeError(`${p.label} must be a number from ${p.min} to ${p.max}.`)
    .min(p.min, `${p.label} must be at least ${p.min}.`)
    .max(p.max, `${p.label} must be at most ${p.max}.`)
}

const frameSchema = (label: string) =>
  yup.number().integer(`Keys of ${label} lie on whole frames.`).min(-100_000).max(1_000_000).required()
const bendSchema = yup
  .array(yup.number().min(-10).max(10).required())
  .length(4, 'A bend has four numbers.')
  .test('within', 'The handles of a bend lie within its span.', (bend) =>
    [bend?.[0], bend?.[2]].every((x) => x === undefined || (x >= 0 && x <= 1)),
  )
const spanSchema = { ease: yup.string().oneOf(eases).required(), bend: bendSchema.optional().default(undefined) }
const sorted = (label: string) =>
  [
    'order',
    `Keys of ${label} must be sorted, one per frame.`,
    (keys: readonly { frame: number }[] | undefined) =>
      (keys ?? []).every((key, i) => i === 0 || key.frame > keys![i - 1]!.frame),
  ] as const

/** A number that keys or a signal may move over time. */
export function movingSchema(p: NumberParameter): yup.Schema {
  const still = numberSchema(p)
  const curve = yup.object({
    keys: yup
      .array(yup.object({ frame: frameSchema(p.label), value: still.required(), ...spanSchema }))
      .min(1, `${p.label} needs at least one key; set it still to remove them.`)
      .required()
      .test(...sorted(p.label)),
  })
  const pair = (label: string) => yup.array(yup.number().required(label)).length(2, label).required(label)
  const drive = yup.object({
    signal: yup
      .string()
      .oneOf(Object.keys(signals), `${p.label} is driven by a signal that does not exist; choose another.`)
      .required(),
    of: yup.string().max(80).defined(),
    with: yup.string().max(80).defined(),
    from: pair(`The range that drives ${p.label} needs two numbers.`),
    to: yup.array(still.required()).length(2).required(),
    bend: bendSchema.required(),
    smooth: yup.number().min(0).max(100).required(),
    lag: yup.number().min(-1000).max(1000).required(),
  })
  return yup.lazy((value: unknown) =>
    typeof value !== 'object' || value === null ? still : 'signal' in value ? drive.noUnknown() : curve.noUnknown(),
  ) as unknown as yup.Schema
}

function schemaOf(p: Parameter): yup.Schema {
  switch (p.type) {
    case 'number':
      return p.keyed ? movingSchema(p) : numberSchema(p)
    case 'colour': {
      const still = yup
        .string()
        .test(
          'colour',
          `${p.label} must be a colour written as #rrggbb.`,
          (value) => value === undefined || colourPattern.test(value) || (value === '' && p.inherits !== undefined),
        )
      const curve = yup.object({
        colours: yup
          .array(yup.object({ frame: frameSchema(p.label), colour: still.required(), ...spanSchema }))
          .min(1, `${p.label} needs at least one key; set it still to remove them.`)
          .required()
          .test(...sorted(p.label)),
      })
      if (!p.keyed) return still
      return yup.lazy((value: unknown) =>
        typeof value === 'object' && value !== null ? curve.noUnknown() : still,
      ) as unknown as yup.Schema
    }
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
    case 'member':
    case 'media':
      return yup.string().max(80, `${p.label} names something that can not exist; choose it again.`)
    case 'text':
      return yup.string().max(p.max, `${p.label} is too long; keep it under ${p.max} characters.`)
    case 'tone':
      return yup
        .array(yup.array(yup.number().min(0).max(1).required()).length(2).required())
        .min(2, `${p.label} needs two places at least.`)
        .max(16, `${p.label} takes at most 16 places; remove one first.`)
        .test('rising', `Places of ${p.label} must go from left to right.`, (places) =>
          (places ?? []).every((place, i) => i === 0 || place[0]! > places![i - 1]![0]!),
        )
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
