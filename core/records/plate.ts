import type { Plate } from './types.ts'

/** The four numbers of a frame's motion; null where the plate does not know it. */
export function motionOf({ from, motions }: Pick<Plate, 'from' | 'motions'>, frame: number) {
  const at = 4 * (frame - from)
  if (at < 0 || at + 4 > motions.length) return null
  const motion = motions.slice(at, at + 4) as [a: number, b: number, x: number, y: number]
  return motion[0] === 0 && motion[1] === 0 ? null : motion
}
