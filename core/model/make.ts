import { ovalOf, packed, type Raster } from '../image/raster.ts'
import { partKinds } from '../shapes/registry.ts'
import { defaultsOf, type Settings } from './parameters.ts'
import { effectKinds } from '../effects/registry.ts'
import {
  keyId,
  type Effect,
  type EffectKindName,
  type Key,
  type Part,
  type PartKindName,
  type Region,
  type Tween,
} from './records.ts'

/**
 * A key as it is kept: a thousandth of a pixel is enough. `followed`: how sure it is, 0 to 1, where it came from following
 * the picture; null where a hand set it.
 */
export const makeKey = (
  part: string,
  frame: number,
  points: readonly number[],
  tween: Tween | '' = '',
  followed: number | null = null,
): Key => ({
  ...{ type: 'key', id: keyId(part, frame), part, frame, tween },
  points: points.map((v) => Math.round(v * 1000) / 1000),
  followed: followed === null ? null : Math.round(followed * 1000) / 1000,
  matte: null,
})

/** A key of a painted part: its matte, and the oval that stands for it. */
export const makePaintedKey = (part: string, frame: number, raster: Raster, sure: number | null): Key => ({
  ...makeKey(part, frame, ovalOf(raster), '', sure),
  matte: packed(raster),
})

/** The same key with other points: in-betweens, and whether it was followed, stay. */
export const rekeyed = (key: Key, points: readonly number[], frame = key.frame): Key => ({
  ...makeKey(key.part, frame, points, key.tween, key.followed ?? null),
  matte: key.matte ?? null,
})

/** A part with everything that is not given as usual. `settings` go over the defaults of its kind. */
export function makePart(
  given: Pick<Part, 'id' | 'member' | 'name' | 'order'> & { kind: PartKindName } & Partial<Omit<Part, 'type'>>,
): Part {
  const { settings, hold } = partKinds[given.kind]
  return {
    ...{ type: 'part', tween: 'arc', hold, role: 'add', hidden: false, locked: false, ride: null },
    ...given,
    settings: { ...defaultsOf(settings), ...((given.settings ?? {}) as Settings) },
  }
}

/** Everywhere in the picture. */
export const everywhere: Region = { of: [], side: 'inside', grow: 0, soften: 0 }

/** An effect with everything that is not given as its kind wants it. `settings` go over the kind's defaults. */
export function makeEffect(
  given: Pick<Effect, 'id' | 'shot' | 'order'> & { kind: EffectKindName } & Partial<Omit<Effect, 'type'>>,
): Effect {
  const { parameters, blend } = effectKinds[given.kind]
  return {
    ...{ type: 'effect', on: true, target: '', region: everywhere, behind: [], opacity: 1, range: null, group: '' },
    blend,
    ...given,
    settings: { ...defaultsOf(parameters), ...((given.settings ?? {}) as Settings) },
  }
}
