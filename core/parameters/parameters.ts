import type { ColourCurve, Curve } from './curves.ts'
import type { Drive } from './drives.ts'

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
  unit: 'px' | '%' | '°' | 'frames' | '×' | 'stops' | 'K' | 'dB' | 'Hz' | 'kHz' | 's' | 'm' | 'MB' | 'semitones' | ''
  min: number
  max: number
  step: number
  default: number
  /** May change over time: carry keys, or be driven by what is traced. */
  keyed?: boolean
  /** The value that changes nothing, where there is as much to be gained on either side: it stands in the middle, as 0. */
  neutral?: number
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
  /** Its rows are colours on the way from one colour of the settings to another, each with its place `at`, 0..1: names of these. */
  along?: { from: string; to: string }
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
  /** Whether it names frames, as in '12, 40': they go along when a shot is cut or timed anew. */
  frames?: boolean
  /** Whether it may have several lines. */
  lines?: boolean
}

/** A tone curve: places (x, y), both 0..1, in rising x, through which a smooth curve runs. */
export interface ToneParameter extends Described {
  type: 'tone'
  default: Tone
}
export type Tone = [number, number][]

export type Setting = number | string | Curve | ColourCurve | Drive | Tone | Settings[]
export interface Settings {
  [name: string]: Setting
}

const isForm = (value: Setting | undefined, field: string): boolean =>
  typeof value === 'object' && !Array.isArray(value) && field in value
export const isCurve = (value: Setting | undefined): value is Curve => isForm(value, 'keys')
export const isColourCurve = (value: Setting | undefined): value is ColourCurve => isForm(value, 'colours')
export const isDrive = (value: Setting | undefined): value is Drive => isForm(value, 'signal')
