import { effectKind } from '../effects/catalogue.ts'
import { isColourCurve, type Setting } from '../parameters/parameters.ts'
import type { Records } from '../records/records.ts'

/** Most colours that are told of a project. */
const most = 16

/** Colours that the cards of a project are set to, '#rrggbb', the most used first; none without records. */
export function coloursOf(records: Records | null | undefined): string[] {
  const used = new Map<string, number>()
  const note = (value: unknown) => {
    if (typeof value === 'string' && /^#[0-9a-f]{6}$/.test(value)) used.set(value, (used.get(value) ?? 0) + 1)
  }
  for (const effect of records?.all('effect') ?? [])
    for (const parameter of effectKind(effect.kind).parameters) {
      const value = effect.settings[parameter.name] as Setting | undefined
      if (value === undefined) continue
      if (parameter.type === 'colour')
        (isColourCurve(value) ? value.colours.map((key) => key.colour) : [value]).forEach(note)
      else if (parameter.type === 'list' && Array.isArray(value))
        for (const row of value) for (const one of Object.values(row as object)) note(one)
    }
  return [...used]
    .sort(([, a], [, b]) => b - a)
    .slice(0, most)
    .map(([hex]) => hex)
}
