import { effectKind } from '../effects/catalogue.ts'
import type { Drive } from '../parameters/drives.ts'
import { isDrive, type Setting, type Settings } from '../parameters/parameters.ts'
import { type AnyRecord, type Effect, keyId, parentField, type Sound } from '../records/types.ts'

/**
 * The same records under new ids from `newId`, relations among them kept; what they name outside of themselves stays
 * named. What a duplicate is made of.
 */
export function duplicate(records: readonly AnyRecord[], newId: () => string): AnyRecord[] {
  const fresh = new Map(records.map((record) => [record.id, newId()]))
  const of = (id: string) => fresh.get(id) ?? id
  return records.map((record) => {
    const copy = { ...record, id: of(record.id) } as AnyRecord
    const parent = parentField[record.type]
    if (parent)
      (copy as unknown as Record<string, string>)[parent.field] = of(
        (record as unknown as Record<string, string>)[parent.field]!,
      )
    if (copy.type === 'key') return { ...copy, id: keyId(copy.part, copy.frame) }
    if (copy.type === 'plate') return { ...copy, media: of(copy.media) }
    if (copy.type === 'effect') return retargeted(copy, of, of)
    if (copy.type === 'sound') return retargetedSound(copy, of, of)
    if (copy.type === 'part' && copy.ride) {
      const from = copy.ride.from.map((carrier) => ({ ...carrier, part: of(carrier.part) }))
      return { ...copy, ride: { on: of(copy.ride.on), from } }
    }
    return copy
  })
}

/** The effect with every member and part that it names sent through `of`, and every clip or sound through `clip`. */
export function retargeted<E extends Omit<Effect, 'type' | 'id' | 'shot' | 'order'>>(
  effect: E,
  of: (id: string) => string,
  clip: (id: string) => string = (id) => id,
): E {
  const types = new Map<string, string>(effectKind(effect.kind).parameters.map((p) => [p.name, p.type]))
  const settings: Settings = Object.fromEntries(
    Object.entries(effect.settings).map(([name, value]) => {
      const type = types.get(name)
      return [
        name,
        type === 'member' ? of(String(value)) : type === 'media' ? clip(String(value)) : fed(value, of, clip),
      ]
    }),
  )
  return {
    ...effect,
    target: of(effect.target),
    region: { ...effect.region, of: effect.region.of.map(of) },
    behind: effect.behind.map(of),
    opacity: fed(effect.opacity, of, clip),
    settings,
  }
}

/** The sound with every member that it names sent through `of`, and every clip through `clip`. */
export const retargetedSound = (
  sound: Sound,
  of: (id: string) => string,
  clip: (id: string) => string = (id) => id,
): Sound => ({
  ...sound,
  ...{ target: of(sound.target), with: of(sound.with), takes: sound.takes.map(clip) },
  settings: Object.fromEntries(Object.entries(sound.settings).map(([name, value]) => [name, fed(value, of, clip)])),
})

/** A number that is driven, by what its source is sent to. */
function fed<S extends Setting>(value: S, of: (id: string) => string, clip: (id: string) => string): S {
  if (!isDrive(value)) return value
  const source = (value.signal === 'loudness' ? clip : of)(value.of)
  return { ...(value as Drive), of: source, with: of(value.with) } as S
}
