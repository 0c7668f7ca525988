import { behindKnown, deviationParts, hidden, viewNumbers } from '../../pixels/kernels/station.ts'
import { colourParts, type RodLook, softness, widthAt } from './evidence.ts'
import type { RodMotion, RodPose } from './pose.ts'
import type { RodView } from './view.ts'

/** Each part of a rod is read at so many places along it. */
const alongPart = 3
/** Pixels to either side of the axis that are read. */
const explained = 30
const most = alongPart * (2 * explained + 1)

/** Pixels near a part of the rod: what is seen and what stands behind (y, u, v each), how much of the open shutter it covers each. */
export const places = {
  count: 0,
  seen: new Float64Array(3 * most),
  behind: new Float64Array(3 * most),
  variance: new Float64Array(most),
  share: new Float64Array(most),
  /** How far each lies off the axis. */
  off: new Float64Array(most),
  /** Pixels that the rod sweeps there while the shutter is open. */
  sweep: new Float64Array(most),
}

/** Share of the open shutter that a rod so wide, sweeping so far, covers a pixel so far off its axis. */
export const coveredShare = (width: number, sweep: number, off: number): number =>
  Math.max(0, Math.min(width, sweep, 0.5 * (width + sweep) - Math.abs(off))) / sweep

/**
 * Reads them; they hold until the next part is read. `widest`: what is as much wider than the rod counts as the rod where
 * its sides tell what stands behind.
 */
export function readPart(
  view: RodView,
  pose: RodPose,
  look: RodLook,
  motion: RodMotion,
  part: number,
  widest = 1,
): void {
  const { seen, behind, variance, share, off, sweep: sweeps } = places
  const { data, x: left, y: top, width, height } = view
  const [dx, dy] = [Math.cos(pose.angle), Math.sin(pose.angle)]
  const across = -dy * motion.hx + dx * motion.hy
  let n = 0
  let sides: Sides | null = null
  for (let k = 0; k < alongPart; k++) {
    const u = (part + (k + 0.5) / alongPart) / colourParts
    const along = u * pose.length
    const w = widthAt(look, view.wide, u)
    const sweep = Math.hypot(look.shutter * (across + along * motion.angle), softness)
    const reach = 0.5 * (widest * w + sweep)
    const [cx, cy] = [pose.hx + dx * along, pose.hy + dy * along]
    for (let step = -explained; step <= explained; step++) {
      const px = Math.floor(cx - dy * step)
      const py = Math.floor(cy + dx * step)
      if (px < left || py < top || px >= left + width || py >= top + height) continue
      const at = ((py - top) * width + px - left) * viewNumbers
      const knows = data[at + 7]
      if (knows === hidden) continue
      for (let i = 0; i < 3; i++) seen[3 * n + i] = data[at + i]!
      const exact = (px + 0.5 - cx) * -dy + (py + 0.5 - cy) * dx
      share[n] = coveredShare(w, sweep, exact)
      if (knows === behindKnown) {
        for (let i = 0; i < 3; i++) behind[3 * n + i] = data[at + 3 + i]!
        variance[n] = (data[at + 6]! / deviationParts) ** 2
      } else {
        // Where nothing is known of what stands behind, it runs on from the one side to the other.
        sides ??= sidesOf(view, cx, cy, dx, dy, reach)
        if (!sides) continue
        const u = Math.max(0, Math.min(1, 0.5 + (0.5 * exact) / reach))
        for (let i = 0; i < 3; i++) behind[3 * n + i] = sides.from[i]! + u * (sides.to[i]! - sides.from[i]!)
        variance[n] = sides.variance
      }
      off[n] = exact
      sweeps[n] = sweep
      n++
    }
    sides = null
  }
  places.count = n
}

/** What a frame shows just beside the rod on either side: colours (y, u, v), and how uneven they are. */
interface Sides {
  from: number[]
  to: number[]
  variance: number
}

/** Pixels beyond the rod's reach over which a side is read. */
const [sideFrom, sideTo] = [1, 6]

/** Null where one of them lies out of the picture. */
function sidesOf(
  { data, x: left, y: top, width, height }: RodView,
  cx: number,
  cy: number,
  dx: number,
  dy: number,
  reach: number,
): Sides | null {
  let variance = 0
  const sides = [-1, 1].map((side) => {
    const sums = [0, 0, 0]
    let [count, squares] = [0, 0]
    for (let beyond = sideFrom; beyond <= sideTo; beyond++) {
      const off = side * (reach + beyond)
      const [x, y] = [Math.floor(cx - dy * off) - left, Math.floor(cy + dx * off) - top]
      if (x < 0 || y < 0 || x >= width || y >= height) continue
      const at = (y * width + x) * viewNumbers
      for (let i = 0; i < 3; i++) sums[i]! += data[at + i]!
      squares += data[at]! ** 2
      count++
    }
    if (count === 0) return null
    variance += (squares / count - (sums[0]! / count) ** 2) / 2
    return sums.map((sum) => sum / count)
  })
  const [from, to] = sides
  return from && to ? { from, to, variance: 12 + variance + 0.06 * (from[0]! - to[0]!) ** 2 } : null
}
