import { bendOf } from '../../pixels/kernels/station.ts'
import { colourParts, type RodLook, widthAt } from './evidence.ts'
import { motionAt, movedAcross, type RodMotion, type RodPose } from './pose.ts'
import type { RodPath } from './path.ts'
import { coveredShare, places, readPart } from './places.ts'
import { asUsual, type RodView, type Wider } from './view.ts'

/*
 * How wide a rod is on every frame of a path, at its heel and at its tip: what comes nearer to the camera grows. A frame
 * says of each part how well a rod so wide explains the pixels around it; the best way through all frames at once.
 */

/** Factors of the usual width that are thought of, each so much more than the one before. */
const ratio = 1.09
const half = 9
const factors = Float64Array.from({ length: 2 * half + 1 }, (_, i) => ratio ** (i - half))
const widest = factors.at(-1)!

/** What is further off than three deviations is something else, however far it is. */
const capped = 9
/** Levels by which the rod's own light may lie off its colour. */
const rough = 6
/** Neighbours say the same twice, and shades are no colours: of a pixel's word so much counts. */
const pixelCounts = 0.04
/** What a change from frame to frame counts, and a tip that grows apart from its heel. */
const counts = { change: 0.35, apart: 0.06 }

/**
 * What a frame says of each factor for each part: so much a part, factor after factor. `side`: which side of the rod stays
 * where it is, -1 or 1; 0 where its axis does.
 */
function partsSay(
  view: RodView,
  look: RodLook,
  pose: RodPose,
  motion: RodMotion,
  side: number,
  of = factors,
): Float64Array {
  const out = new Float64Array(colourParts * of.length)
  const { seen, behind, variance, off, sweep } = places
  for (let part = 0; part < colourParts; part++) {
    if (look.shows[part]! < 0.05) continue
    readPart(view, pose, look, motion, part, widest)
    const y = look.colour[3 * part]! * view.light.gain + view.light.offset
    const [u, v] = [look.colour[3 * part + 1]!, look.colour[3 * part + 2]!]
    const w = widthAt(look, view.wide, (part + 0.5) / colourParts)
    for (let k = 0; k < places.count; k++) {
      const [by, bu, bv] = [behind[3 * k]!, behind[3 * k + 1]!, behind[3 * k + 2]!]
      const [oy, ou, ov] = [seen[3 * k]! - by, seen[3 * k + 1]! - bu, seen[3 * k + 2]! - bv]
      const [ey, eu, ev] = [y - by, u - bu, v - bv]
      const bend = bendOf(y, by)
      const without = oy * oy + ou * ou + ov * ov
      for (let i = 0; i < of.length; i++) {
        const aside = (side * w * (of[i]! - 1)) / 2
        const own = coveredShare(w * of[i]!, sweep[k]!, off[k]! + aside)
        if (own <= 0) continue
        const cover = own + bend * own * (1 - own)
        const inverse = 1 / (variance[k]! + rough * rough * cover * cover)
        const within = (oy - cover * ey) ** 2 + (ou - cover * eu) ** 2 + (ov - cover * ev) ** 2
        out[part * of.length + i]! +=
          pixelCounts * look.shows[part]! * (Math.min(capped, inverse * without) - Math.min(capped, inverse * within))
      }
    }
  }
  return out
}

/** How well the rod explains what is seen around it on the frames of a path, as wide as their views say. */
export const explained = ({ views, poses, judge }: RodPath): number =>
  meanOf(
    poses.map((pose, f) =>
      partsSay(views[f]!, judge.look, pose, motionAt(poses, f), 0, one).reduce((sum, said) => sum + said),
    ),
  )
const one = Float64Array.of(1)

/** What a frame says of every pair of factors, heel after heel. */
function pairsSay(says: Float64Array): Float64Array {
  const n = factors.length
  const out = new Float64Array(n * n)
  for (let h = 0; h < n; h++)
    for (let t = 0; t < n; t++)
      for (let part = 0; part < colourParts; part++) {
        // Between two factors what lies between them.
        const u = (part + 0.5) / colourParts
        const at = h + (t - h) * u
        const low = Math.min(n - 2, at | 0)
        const row = part * n + low
        out[h * n + t]! += says[row]! + (says[row + 1]! - says[row]!) * (at - low)
      }
  return out
}

/** How much wider than usual the rod is on each frame of a path, and how much more that explains a frame. */
export interface Widths {
  wide: Wider[]
  gain: number
  /** Which side of the rod lies on each frame where it lay when its width was the usual one: -1 or 1, 0 where its axis does. */
  sides: number[]
}

/**
 * How much more than one width for all frames they must explain, and by which share they must differ, to be believed. What
 * comes nearer grows at both ends: one that grows while the other shrinks is a hand that slides on the rod.
 */
const believed = { gain: 1.4, differ: 0.15, apart: 0.6 }
export function change({ wide, gain }: Widths): boolean {
  const whole = spread(wide.map(({ heel, tip }) => Math.log(heel * tip) / 2))
  const apart = spread(wide.map(({ heel, tip }) => Math.log(tip / heel)))
  return gain > believed.gain && whole > Math.max(believed.differ, believed.apart * apart)
}
function spread(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b)
  const at = (share: number) => sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))]!
  return at(0.95) - at(0.05)
}

/**
 * Finds them. `known`: what they are on the frames that hands have set. How wide a rod seems hangs on its shades and on how
 * sharp the picture is: it is as much wider than on a key as it seems to be wider there. `sides`: those that may have stayed
 * where they were: a path that was found with one width may have kept to one side of a rod that grew.
 */
export function widthsAlong(path: RodPath, known: (f: number) => Wider, sides: readonly number[] = [0]): Widths {
  const { views, poses, fixed, judge } = path
  const bySide = poses.map((pose, f) =>
    sides.map((side) =>
      pairsSay(partsSay({ ...views[f]!, wide: asUsual }, judge.look, pose, motionAt(poses, f), fixed[f] ? 0 : side)),
    ),
  )
  const said = bySide.map((all) => all.reduce((best, one) => best.map((value, s) => Math.max(value, one[s]!))))
  const states = bestStates(said)
  const seeming = (['heel', 'tip'] as const).map((end) => {
    const own = states.map((s) => Math.log(factors[end === 'heel' ? (s / factors.length) | 0 : s % factors.length]!))
    const even = own.map((_, f) => evenAround(own, f))
    return unbiased(even, (f) => (fixed[f] ? Math.log(known(f)[end]) : null)).map(Math.exp)
  })
  const constant = bestConstant(said)
  const gains = states.map((s, f) => said[f]![s]! - said[f]![constant]!)
  const [heel, tip] = seeming as [number[], number[]]
  return {
    wide: poses.map((_, f) => ({ heel: heel[f]!, tip: tip[f]! })),
    gain: meanOf(gains),
    sides: bySide.map((all, f) => sides[all.findIndex((one) => one[states[f]!] === said[f]![states[f]!])]!),
  }
}

/** The pair of factors that explains all frames best. */
function bestConstant(said: readonly Float64Array[]): number {
  const sums = said.reduce((sum, says) => sum.map((v, s) => v + says[s]!))
  return sums.indexOf(Math.max(...sums))
}

/** The best way through what frames say of every pair of factors: Viterbi (1967). */
function bestStates(said: readonly Float64Array[]): number[] {
  const n = factors.length
  const apart = (s: number) => counts.apart * Math.abs(((s / n) | 0) - (s % n))
  let total = new Float64Array(n * n)
  const from: Int32Array[] = []
  said.forEach((says, f) => {
    const next = new Float64Array(n * n).fill(f === 0 ? 0 : -Infinity)
    const came = new Int32Array(n * n)
    for (let s = 0; s < n * n; s++) {
      const [h, t] = [(s / n) | 0, s % n]
      for (let dh = -1; dh <= 1 && f > 0; dh++)
        for (let dt = -1; dt <= 1; dt++) {
          if (h + dh < 0 || h + dh >= n || t + dt < 0 || t + dt >= n) continue
          const m = s + dh * n + dt
          const value = total[m]! - counts.change * (Math.abs(dh) + Math.abs(dt))
          if (value > next[s]!) {
            next[s] = value
            came[s] = m
          }
        }
      next[s]! += says[s]! - apart(s)
    }
    total = next
    from.push(came)
  })
  let state = total.indexOf(Math.max(...total))
  const out: number[] = []
  for (let f = said.length - 1; f >= 0; f--) {
    out[f] = state
    state = from[f]![state]!
  }
  return out
}

/** The values with what they are off on frames where they are known taken away, evenly from one of these to the next. */
function unbiased(values: readonly number[], known: (f: number) => number | null): number[] {
  const offs = values.flatMap((value, f) => {
    const own = known(f)
    return own === null ? [] : [{ f, off: value - own }]
  })
  return values.map((value, f) => {
    const before = offs.findLast((one) => one.f <= f) ?? offs[0]
    const after = offs.find((one) => one.f >= f) ?? offs.at(-1)
    if (!before || !after) return value
    const u = after.f > before.f ? (f - before.f) / (after.f - before.f) : 0
    return value - before.off - (after.off - before.off) * u
  })
}

/** Frames on either side over which a width is evened out. */
const evenOver = 3
/** The line of least squares through the values around a frame, there: a mean alone would lag at both ends. */
function evenAround(values: readonly number[], f: number): number {
  const from = Math.max(0, f - evenOver)
  const near = values.slice(from, f + evenOver + 1)
  const [middle, mean] = [(near.length - 1) / 2, meanOf(near)]
  let [up, across] = [0, 0]
  near.forEach((value, i) => {
    up += (i - middle) * (value - mean)
    across += (i - middle) ** 2
  })
  return mean + (across > 0 ? (up / across) * (f - from - middle) : 0)
}
const meanOf = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0) / Math.max(1, values.length)

/** The poses of a path with their axes in the middle of what is as wide as found. */
export function centred({ poses, fixed, judge: { look } }: RodPath, { wide, sides }: Widths): RodPose[] {
  return poses.map((pose, f) => {
    if (fixed[f] || sides[f] === 0) return pose
    const by = (end: 'heel' | 'tip', width: number) => (-sides[f]! * width * (wide[f]![end] - 1)) / 2
    const [heel, tip] = [by('heel', look.widthHeel), by('tip', look.widthTip)]
    return { ...movedAcross(pose, heel), angle: pose.angle + Math.atan((tip - heel) / pose.length) }
  })
}
