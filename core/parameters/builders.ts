import { said } from '../say.ts'
import type {
  ChoiceParameter,
  ColourParameter,
  ListParameter,
  MediaParameter,
  MemberParameter,
  NumberParameter,
  Parameter,
  Settings,
  TextParameter,
  Tone,
  ToneParameter,
} from './parameters.ts'

/*
 * Short ways to write down parameters. They stand in a table under their names, so that a name is written once and the
 * settings made from it are typed. What may change over time is keyed unless it is `still`.
 */

/** A parameter before the table that holds it gives it its name. */
export type Unnamed<P extends Parameter = Parameter> = P extends Parameter ? Omit<P, 'name'> : never
export type ParameterTable = Record<string, Unnamed>

/** The parameters of a table as everybody else reads them: a list with names, in the table's order. */
export const named = (table: ParameterTable): Parameter[] =>
  Object.entries(table).map(([name, parameter]) => ({ name, ...parameter }))

/** Settings of a table that stand still: what a kind is drawn with (see settingsAt). */
export type SettingsOf<T extends ParameterTable> = { [N in keyof T]: StillValue<T[N]> }
type StillValue<P> = P extends { type: 'number' }
  ? number
  : P extends { type: 'choice'; options: { value: infer V }[] }
    ? V
    : P extends { type: 'list'; rows: infer R extends ParameterTable }
      ? SettingsOf<R>[]
      : P extends { type: 'tone' }
        ? Tone
        : string

export const number = (
  label: string,
  unit: NumberParameter['unit'],
  [min, max, step]: [min: number, max: number, step: number],
  standard: number,
  hint: string,
): Unnamed<NumberParameter> => ({
  ...{ type: 'number', label: said(label), unit, min, max, step, default: standard, hint: said(hint), keyed: true },
})

/** A number that stands still: a seed, a count, a row of a list. */
export const still = (...given: Parameters<typeof number>): Unnamed<NumberParameter> => {
  const { keyed: _, ...parameter } = number(...given)
  return parameter
}

/** A number that changes nothing at a value in the middle. */
export const about = (neutral: number, parameter: Unnamed<NumberParameter>): Unnamed<NumberParameter> => ({
  ...parameter,
  neutral,
})

export const seedNumber = still('Seed', '', [0, 9999, 1], 1, 'Another number gives another chance.')

export const colour = (label: string, standard: string, hint: string): Unnamed<ColourParameter> => ({
  ...{ type: 'colour', label: said(label), default: standard, hint: said(hint), keyed: true },
})

/** One of several; the first one is the default. */
export const choice = <const V extends string>(
  label: string,
  options: Record<V, string>,
  hint: string,
): Unnamed<ChoiceParameter> & { options: { value: V; label: string }[] } => ({
  ...{ type: 'choice', label: said(label), hint: said(hint), default: Object.keys(options)[0]! },
  options: (Object.entries(options) as [V, string][]).map(([value, label]) => ({ value, label: said(label) })),
})

export const member = (label: string, hint: string): Unnamed<MemberParameter> => ({
  ...{ type: 'member', label: said(label), hint: said(hint), default: '' },
})

export const media = (label: string, hint: string): Unnamed<MediaParameter> => ({
  ...{ type: 'media', label: said(label), hint: said(hint), default: '' },
})

export const text = (
  label: string,
  standard: string,
  { max, lines = false }: { max: number; lines?: boolean },
  hint: string,
): Unnamed<TextParameter> => ({ type: 'text', label: said(label), default: standard, max, lines, hint: said(hint) })

/** Frames, written as in '12, 40, 61'. */
export const frameList = (label: string, hint: string): Unnamed<TextParameter> => ({
  ...{ type: 'text', label: said(label), default: '', max: 400, frames: true, hint: said(hint) },
})

/** A tone curve that changes nothing at first. */
export const tone = (label: string, hint: string): Unnamed<ToneParameter> => ({
  ...{ type: 'tone', label: said(label), hint: said(hint) },
  default: [
    [0, 0],
    [1, 1],
  ],
})

/** Rows of settings; `item` is what one is called. */
export const list = <R extends Record<string, Unnamed<NumberParameter> | Unnamed<ColourParameter>>>(
  label: string,
  item: string,
  rows: R,
  { max, default: standard }: { max: number; default: Settings[] },
  hint: string,
): Unnamed<ListParameter> & { rows: R } => ({
  ...{ type: 'list', label: said(label), item: said(item), rows, max, hint: said(hint), default: standard },
  of: named(rows) as ListParameter['of'],
})

/** Colours on the way from one colour of the settings to another, by the names of these. */
export const stops = (from: string, to: string, hint: string) => ({
  ...list(
    'Colours between',
    'colour',
    {
      at: still('Place', '%', [0, 1, 0.005], 0.5, 'Where on the way it lies.'),
      colour: colour('Colour', '#ffffff', 'Which one it is.'),
    },
    { max: 12, default: [] },
    hint,
  ),
  along: { from, to },
})

/** What a distortion shows where it looks past the picture's edge. */
export const edgeChoice = choice(
  'Past the edge',
  { mirrored: 'mirrored', stretched: 'stretched', repeated: 'repeated' },
  'What is seen where the effect looks past the picture’s edge.',
)
