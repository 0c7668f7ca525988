import { behindKnown, viewNumbers } from '../../pixels/kernels/station.ts'
import { colourParts, type RodLook } from './evidence.ts'
import { farthest, type RodPose, slid } from './pose.ts'
import type { RodView } from './view.ts'

/*
 * Where on a whole frame something lies that could be the rod: straight, as long, in its colours. Nothing is asked of the
 * frames around: so a rod that was lost is found again.
 */

/** Directions that are looked along, over half a turn. */
const directions = 72
/** Quarter-size pixels from line to line, and along a line from middle to middle. */
const step = { across: 2, along: 6 }
/** Places along a line that are read: a few at first, more where those promise something. */
const [few, many] = [8, 20]
const promising = 240
/** A pixel is one of the rod's where what it is off lies within so many levels. */
const tolerance = 25

/** Poses of a rod of so long that a frame shows signs of, the likeliest first; both ways round. */
export function likelyLines(view: RodView, look: RodLook, length: number, count: number): RodPose[] {
  const signs = signsOf(view, look)
  const { width, height, data } = signs
  const long = length / 2
  const least = 0.22
  const found: { x: number; y: number; angle: number; score: number }[] = []
  const busy = busyBlocks(signs)
  for (let d = 0; d < directions; d++) {
    const angle = (Math.PI * d) / directions
    const [dx, dy] = [Math.cos(angle), Math.sin(angle)]
    const far = 0.5 * Math.hypot(width, height)
    for (let v = -far; v < far; v += step.across)
      for (let u = -far; u < far; u += step.along) {
        const cx = width / 2 + u * dx - v * dy
        const cy = height / 2 + u * dy + v * dx
        if (cx < 0 || cy < 0 || cx >= width || cy >= height) continue
        if (!busy.data[(cy >> 3) * busy.width + (cx >> 3)]) continue
        let sum = 0
        for (let i = 0; i < few; i++) {
          const along = ((i + 0.5) / few - 0.5) * long
          const [x, y] = [(cx + dx * along) | 0, (cy + dy * along) | 0]
          if (x >= 0 && y >= 0 && x < width && y < height) sum += data[y * width + x]!
        }
        const score = sum / (255 * few)
        if (score > least) found.push({ x: cx, y: cy, angle, score })
      }
  }
  found.sort((a, b) => b.score - a.score)
  const wide = Math.max(3, look.widthHeel / 2 + 2)
  const closer = found.slice(0, promising).map((one) => ({ ...one, score: standsOut(signs, one, long, wide) }))
  closer.sort((a, b) => b.score - a.score)
  const out: RodPose[] = []
  for (const { x, y, angle } of closer) {
    const middle = { hx: 2 * x, hy: 2 * y, angle, length }
    const pose = slid(middle, -length / 2)
    if (out.some((one) => Math.min(farthest(one, pose), farthest(one, turnedRound(pose))) < 0.12 * length)) continue
    out.push(pose)
    if (out.length === count) break
  }
  return out.flatMap((pose) => [pose, turnedRound(pose)])
}

const turnedRound = (pose: RodPose): RodPose => ({
  ...pose,
  hx: pose.hx + pose.length * Math.cos(pose.angle),
  hy: pose.hy + pose.length * Math.sin(pose.angle),
  angle: pose.angle + Math.PI,
})

/** A quarter-size map of bytes. */
interface Signs {
  data: Uint8Array
  width: number
  height: number
}

/**
 * How far every pixel has gone from what stands behind to a colour of the rod, where it is a mix of the two: projection
 * times fit, 255 where it is the rod.
 */
function signsOf(view: RodView, look: RodLook): Signs {
  const [width, height] = [view.width >> 1, view.height >> 1]
  const out = new Uint8Array(width * height)
  const { gain, offset } = view.light
  const colours = distinct(look).map(([y, u, v]) => [y * gain + offset, u, v] as const)
  const { data } = view
  for (let y = 0, to = 0; y < height; y++)
    for (let x = 0; x < width; x++, to++) {
      const at = (2 * y * view.width + 2 * x) * viewNumbers
      if (data[at + 7] !== behindKnown) continue
      const [by, bu, bv] = [data[at + 3]!, data[at + 4]!, data[at + 5]!]
      const [oy, ou, ov] = [data[at]! - by, data[at + 1]! - bu, data[at + 2]! - bv]
      if (oy * oy + 2 * (ou * ou + ov * ov) < 60) continue
      let best = 0
      for (const [ry, ru, rv] of colours) {
        const [ey, eu, ev] = [ry - by, ru - bu, rv - bv]
        const a = Math.min(1, (oy * ey + 2 * (ou * eu + ov * ev)) / (ey * ey + 2 * (eu * eu + ev * ev) + 300))
        if (a <= best) continue
        const [sy, su, sv] = [oy - a * ey, ou - a * eu, ov - a * ev]
        const fit = Math.exp(-(sy * sy + 2 * (su * su + sv * sv)) / (2 * tolerance * tolerance))
        if (a * fit > best) best = a * fit
      }
      out[to] = 255 * best
    }
  return { data: out, width, height }
}

/** Colours of the rod that differ. */
function distinct({ colour, shows }: RodLook): [number, number, number][] {
  const out: [number, number, number][] = []
  for (let part = 0; part < colourParts; part++) {
    if (shows[part]! < 0.2) continue
    const own = [colour[3 * part]!, colour[3 * part + 1]!, colour[3 * part + 2]!] as [number, number, number]
    if (out.every((one) => Math.hypot(...one.map((v, k) => v - own[k]!)) > 30)) out.push(own)
  }
  return out.slice(0, 3)
}

/** Blocks of 8 x 8 that show any sign at all: a line's middle is looked for nowhere else. */
function busyBlocks({ data, width, height }: Signs): Signs {
  const [w, h] = [(width >> 3) + 1, (height >> 3) + 1]
  const sums = new Uint32Array(w * h)
  for (let y = 0, at = 0; y < height; y++)
    for (let x = 0; x < width; x++, at++) sums[(y >> 3) * w + (x >> 3)]! += data[at]!
  return { data: Uint8Array.from(sums, (sum) => (sum > 255 ? 1 : 0)), width: w, height: h }
}

/** How much more a line shows than what lies just beside it. */
function standsOut(
  { data, width, height }: Signs,
  { x, y, angle }: { x: number; y: number; angle: number },
  long: number,
  wide: number,
): number {
  const [dx, dy] = [Math.cos(angle), Math.sin(angle)]
  let sum = 0
  for (let i = 0; i < many; i++) {
    const along = ((i + 0.5) / many - 0.5) * long
    const read = (off: number) => {
      const [px, py] = [(x + dx * along - dy * off) | 0, (y + dy * along + dx * off) | 0]
      return px >= 0 && py >= 0 && px < width && py < height ? data[py * width + px]! : 0
    }
    sum += Math.max(read(0), read(1), read(-1)) - 0.5 * (read(wide) + read(-wide))
  }
  return sum / (255 * many)
}
