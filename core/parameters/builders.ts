import type { ChoiceParameter, ColourParameter, NumberParameter, Settings } from './parameters.ts'

/** Short ways to write down an effect's parameters. What may change over time is keyed unless said otherwise. */
export const number = (
  name: string,
  label: string,
  unit: NumberParameter['unit'],
  [min, max, step]: [number, number, number],
  standard: number,
  hint: string,
  keyed = true,
): NumberParameter => ({ type: 'number', name, label, unit, min, max, step, default: standard, hint, keyed })

/** The same of a number that stands still: a seed, a count, a row of a list. */
export const still = (...given: Parameters<typeof number>): NumberParameter => {
  const { keyed: _, ...parameter } = number(...given)
  return parameter
}

export const seedNumber = still('seed', 'Seed', '', [0, 9999, 1], 1, 'Another number gives another chance.')

export const colour = (name: string, label: string, standard: string, hint: string): ColourParameter => ({
  ...{ type: 'colour', name, label, default: standard, hint, keyed: true },
})

export const choice = (
  name: string,
  label: string,
  options: Record<string, string>,
  hint: string,
): ChoiceParameter => ({
  ...{ type: 'choice', name, label, hint, default: Object.keys(options)[0]! },
  options: Object.entries(options).map(([value, label]) => ({ value, label })),
})

/** What a distortion shows where it looks past the picture's edge. */
export const edgeChoice = choice(
  'edge',
  'Past the edge',
  { mirrored: 'mirrored', stretched: 'stretched', repeated: 'repeated' },
  'What is seen where the effect looks past the picture’s edge.',
)

/** A number of settings that stand still already (see settingsAt). */
export function plain(settings: Settings, p: NumberParameter): number {
  const value = settings[p.name]
  return typeof value === 'number' ? value : p.default
}

export const word = (settings: Settings, p: { name: string; default: string }): string => {
  const value = settings[p.name]
  return typeof value === 'string' ? value : p.default
}
