import type { Plate } from './types.ts'

type Motion = [a: number, b: number, x: number, y: number]

/** The four numbers of a frame's motion, straight between two frames; null where the plate does not know it. */
export function motionOf({ from, motions }: Pick<Plate, 'from' | 'motions'>, frame: number): Motion | null {
  const known = (whole: number): Motion | null => {
    const at = 4 * (whole - from)
    if (at < 0 || at + 4 > motions.length) return null
    const motion = motions.slice(at, at + 4) as Motion
    return motion[0] === 0 && motion[1] === 0 ? null : motion
  }
  const one = known(Math.floor(frame))
  if (Number.isInteger(frame)) return one
  const other = known(Math.ceil(frame))
  const share = frame - Math.floor(frame)
  return one && other && (one.map((v, i) => v + (other[i]! - v) * share) as Motion)
}
