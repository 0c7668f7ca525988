import { type Key, keyId, type Region, type Tween } from './types.ts'

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

/** The same key with other points: in-betweens, and whether it was followed, stay. */
export const rekeyed = (key: Key, points: readonly number[], frame = key.frame): Key => ({
  ...makeKey(key.part, frame, points, key.tween, key.followed ?? null),
  matte: key.matte ?? null,
})

/** Everywhere in the picture. */
export const everywhere: Region = { of: [], side: 'inside', grow: 0, soften: 0 }
