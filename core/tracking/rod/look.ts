import { bendOf } from '../../pixels/kernels/station.ts'
import { colourParts, placesSay, type RodLook } from './evidence.ts'
import { atRest, movedAcross, type RodMotion, type RodPose, speedOf, turnedAtHeel } from './pose.ts'
import { places, readPart } from './places.ts'
import type { RodView } from './view.ts'

/** A frame on which a hand has set the rod. */
export interface LookKey {
  view: RodView
  pose: RodPose
  /** How the rod moves there, as far as that is known from a path through it. */
  motion?: RodMotion
}

/** What one key says of the rod. */
interface Said {
  key: LookKey
  motion: RodMotion
  colour: Float32Array
  weight: Float32Array
  rough: Float32Array
  explained: Float32Array
}

/** Ways of the tip and of the whole rod while the shutter is open that are thought of on a key, in pixels. */
const turns = [0, 4, 8, 14, 22, 34, 48]
const shifts = [0, 6, 13]

/**
 * One look of the rod from all of its keys. A key on which the rod is a fan of blur says little of its colour: how it
 * moves there is found first (the motion that explains the frame best), and the sharper it shows the more it counts.
 */
export function learnedLook(keys: readonly LookKey[], widthHeel: number, widthTip: number, shutter: number): RodLook {
  const length = Math.max(...keys.map(({ pose }) => pose.length))
  const blank: RodLook = {
    ...{ widthHeel, widthTip, length, shutter, tipShort: 0, told: 0 },
    colour: new Float32Array(3 * colourParts),
    rough: new Float32Array(colourParts).fill(6),
    shows: new Float32Array(colourParts).fill(1),
  }
  const guess = keys.map((key) => saidBy(key, blank))
  const scale = scaleOf(guess, blank)
  blank.widthHeel *= scale
  blank.widthTip *= scale
  const said = scale === 1 ? guess : keys.map((key) => saidBy(key, blank))
  const look = { ...blank, colour: agreed(said), rough: roughOf(said) }
  const held = heldUpTo(look)
  for (let part = 0; part < held; part++) look.colour.copyWithin(3 * part, 3 * held, 3 * held + 3)
  look.shows = shownOf(said, look).fill(0, 0, held)
  look.tipShort = tipShortOf(said, look)
  look.told = Math.max(...said.map(toldBy))
  return look
}

/** What is not as a hand has set it must leave less than this share unexplained. */
const worthAnother = 0.985
/** Shares of the width that a hand has set which the rod may have instead. */
const scales = [1, 0.55, 0.7, 0.85, 1.2, 1.5, 1.9]

/** How wide the rod is on its keys against what a hand has set: a width left as it came must not spoil its colour. */
function scaleOf(said: readonly Said[], blank: RodLook): number {
  let best = { scale: 1, cost: Infinity }
  for (const scale of scales) {
    const look = { ...blank, widthHeel: scale * blank.widthHeel, widthTip: scale * blank.widthTip }
    const cost = said.reduce((sum, { key, motion }) => sum + coloursOf(key, look, motion).cost, 0)
    if (cost < best.cost * (scale === 1 ? 1 : worthAnother)) best = { scale, cost }
  }
  return best.scale
}
/** Pixels by which each end of a key may lie beside the rod: a hand is not that exact. */
const besides = [-1.5, -0.75, 0.75, 1.5]

/** What a key says, laid on the rod where it lies a little beside it. */
function saidBy(key: LookKey, blank: RodLook): Said {
  const motion = key.motion ?? likelyMotion(key, blank)
  const said = (laid: LookKey) => ({ key: laid, motion, ...coloursOf(laid, blank, motion) })
  let best = said(key)
  for (const end of ['heel', 'tip'] as const) {
    const { pose } = best.key
    for (const by of besides) {
      const turn = (end === 'heel' ? -by : by) / pose.length
      const moved = end === 'heel' ? movedAcross(pose, by) : pose
      const one = said({ ...key, pose: turnedAtHeel(moved, turn) })
      if (one.cost < worthAnother * best.cost) best = one
    }
  }
  return best
}

/** Shares of a frame that a shutter may be open: in bright light next to nothing. */
export const shares = [0.04, 0.1, 0.2, 0.3, 0.4, 0.5, 0.62, 0.75, 0.9, 1]

/** Which of them explains keys best whose motion is known, as far as it moves there at all; else the usual one. */
export function likelyShutter(keys: readonly LookKey[], widthHeel: number, widthTip: number, usual: number): number {
  const moving = keys.flatMap((key) => (key.motion && speedOf(key.pose, key.motion) >= slowest ? [key] : []))
  if (moving.length === 0) return usual
  const costs = shares.map((shutter) => {
    const look = { widthHeel, widthTip, shutter } as RodLook
    return moving.reduce((sum, key) => sum + coloursOf(key, look, key.motion!).cost, 0)
  })
  const best = Math.min(...costs)
  return best < worthAnother * costs[shares.indexOf(usual)]! ? shares[costs.indexOf(best)]! : usual
}
/** Half-size pixels a frame below which the shutter's share hardly shows. */
export const slowest = 8

/** How the rod moves on a key by that frame alone: what explains most of it. */
function likelyMotion(key: LookKey, blank: RodLook): RodMotion {
  let best = { motion: atRest, cost: Infinity }
  for (const turn of turns)
    for (const shift of shifts)
      for (const way of shift && turn ? [1, -1] : [1]) {
        const [nx, ny] = [-Math.sin(key.pose.angle), Math.cos(key.pose.angle)]
        const by = (way * shift) / blank.shutter
        const motion = { hx: by * nx, hy: by * ny, angle: turn / key.pose.length / blank.shutter, length: 0 }
        // A way that is longer must explain a little more: grain alone would choose it.
        const cost = coloursOf(key, blank, motion).cost * (1 + 0.002 * (turn + shift))
        if (cost < best.cost) best = { motion, cost }
      }
  return best.motion
}

/** Colours of the parts by a motion, how well each is known, and what of the frame around they leave unexplained. */
function coloursOf(
  { view, pose }: LookKey,
  look: RodLook,
  motion: RodMotion,
): Omit<Said, 'key' | 'motion'> & { cost: number } {
  const colour = new Float32Array(3 * colourParts)
  const weight = new Float32Array(colourParts)
  const rough = new Float32Array(colourParts)
  const explained = new Float32Array(colourParts)
  let cost = 0
  for (let part = 0; part < colourParts; part++) {
    readPart(view, pose, look, motion, part)
    const own = ownColour()
    cost += own.cost
    weight[part] = own.weight * own.explained
    rough[part] = own.rough
    explained[part] = own.explained
    const { gain, offset } = view.light
    colour.set([(own.colour[0]! - offset) / gain, own.colour[1]!, own.colour[2]!], 3 * part)
  }
  return { colour, weight, rough, explained, cost }
}

/** Square of how far what is seen at a place lies off a mix of what stands behind and a colour. */
function offSquared(k: number, cover: number, y: number, u: number, v: number): number {
  const { seen, behind } = places
  const at = 3 * k
  const offY = seen[at]! - behind[at]! - cover * (y - behind[at]!)
  const offU = seen[at + 1]! - behind[at + 1]! - cover * (u - behind[at + 1]!)
  const offV = seen[at + 2]! - behind[at + 2]! - cover * (v - behind[at + 2]!)
  return offY * offY + offU * offU + offV * offV
}

/** The colour that explains a part's pixels as mixes of it and what stands behind; heavy tails, what is covered most counts most. */
function ownColour(): {
  colour: [number, number, number]
  weight: number
  /** Share of what differs from what stands behind that this colour explains. */
  explained: number
  rough: number
  cost: number
} {
  const { count, seen, behind, variance, share } = places
  let [y, u, v] = [128, 128, 128]
  let weight = 0
  let bends = 0
  let middle = 0
  for (let k = 0; k < count; k++) middle += behind[3 * k]! / count
  for (let round = 0; round < 4; round++) {
    let [sumY, sumU, sumV] = [0, 0, 0]
    weight = 0
    for (let k = 0; k < count; k++) {
      const own = share[k]!
      if (own < 0.08) continue
      const cover = own + bends * own * (1 - own)
      let trust = (cover * cover * cover) / (4 + variance[k]!)
      if (round > 0) trust /= 1 + offSquared(k, cover, y, u, v) / 196
      const at = 3 * k
      sumY += trust * (behind[at]! + (seen[at]! - behind[at]!) / cover)
      sumU += trust * (behind[at + 1]! + (seen[at + 1]! - behind[at + 1]!) / cover)
      sumV += trust * (behind[at + 2]! + (seen[at + 2]! - behind[at + 2]!) / cover)
      weight += trust
    }
    if (weight < 1e-6) break
    const code = (sum: number) => Math.max(0, Math.min(255, sum / weight))
    ;[y, u, v] = [code(sumY), code(sumU), code(sumV)]
    bends = bendOf(y, middle)
  }
  let [cost, offs, trusts, within, without] = [0, 0, 0, 0, 0]
  for (let k = 0; k < count; k++) {
    const own = share[k]!
    const cover = own + bends * own * (1 - own)
    const off = offSquared(k, cover, y, u, v)
    const expected = variance[k]! + 36 * cover * cover
    const part = Math.min(9, off / expected)
    cost += part
    if (own >= 0.08) {
      without += Math.min(9, offSquared(k, 0, y, u, v) / expected)
      within += part
    }
    offs += cover ** 3 * Math.min(900, off)
    trusts += cover ** 3
  }
  const explained = Math.max(0, without - within) / (without + count * 0.02 + 1)
  return { colour: [y, u, v], weight, explained, rough: trusts > 0 ? Math.sqrt(offs / trusts) : 10, cost }
}

/** What the keys agree on, part by part: the median by weight, so that one key that lies beside the rod changes nothing. */
function agreed(said: readonly Said[]): Float32Array {
  const out = new Float32Array(3 * colourParts)
  const all = (k: number) =>
    said.flatMap((one) => [...one.weight].map((weight, part) => ({ value: one.colour[3 * part + k]!, weight })))
  const whole = [0, 1, 2].map((k) => medianOf(all(k).sort((a, b) => a.value - b.value)))
  const usual = all(0).reduce((sum, one) => sum + one.weight, 0) / colourParts
  for (let part = 0; part < colourParts; part++)
    for (let k = 0; k < 3; k++) {
      const values = said
        .map((one) => ({ value: one.colour[3 * part + k]!, weight: one.weight[part]! + 1e-9 }))
        .sort((a, b) => a.value - b.value)
      const own = said.length < 3 ? meanOf(values) : medianOf(values)
      const weight = values.reduce((sum, one) => sum + one.weight, 0)
      // What hardly shows is taken to look as the rest does.
      out[3 * part + k] = (weight * own + rest * usual * whole[k]!) / (weight + rest * usual + 1e-12)
    }
  return out
}
/** How much the rest of the rod counts for the colour of a part, where that part itself shows as well as most. */
const rest = 0.12

interface Weighed {
  value: number
  weight: number
}
function meanOf(values: readonly Weighed[]): number {
  const weight = values.reduce((sum, one) => sum + one.weight, 0)
  return values.reduce((sum, one) => sum + one.value * one.weight, 0) / weight
}
function medianOf(sorted: readonly Weighed[]): number {
  const half = sorted.reduce((sum, one) => sum + one.weight, 0) / 2
  let sum = 0
  for (const { value, weight } of sorted) if ((sum += weight) >= half) return value
  return sorted.at(-1)!.value
}

/** How uneven the parts are by the keys that show them best: never so even that grain would speak against them. */
function roughOf(said: readonly Said[]): Float32Array {
  return Float32Array.from({ length: colourParts }, (_, part) => {
    const values = said
      .map((one) => ({ value: one.rough[part]!, weight: one.weight[part]! + 1e-6 }))
      .sort((a, b) => a.value - b.value)
    return Math.max(5, Math.min(18, medianOf(values)))
  })
}

/** How much of what lies under a key is no backdrop but of one look: the half of its parts that show best. */
const toldBy = ({ explained }: Said): number => {
  const best = [...explained].sort((a, b) => b - a).slice(0, colourParts / 2)
  return best.reduce((a, b) => a + b) / best.length
}

/** How sharp a key shows the rod, 0 to 1. */
const sharpness = ({ motion, key }: Said, look: RodLook): number => {
  const sweep = look.shutter * (Math.hypot(motion.hx, motion.hy) + 0.5 * Math.abs(motion.angle) * key.pose.length)
  return look.widthHeel / (look.widthHeel + sweep)
}

function shownOf(said: readonly Said[], look: RodLook): Float32Array {
  const sums = new Float32Array(colourParts)
  const weights = new Float32Array(colourParts)
  for (const one of said) {
    const { view, pose } = one.key
    const count = 3 * colourParts
    const profile = placesSay(view, look, pose, one.motion, 0, pose.length / count, count)
    const weight = sharpness(one, look) ** 2
    for (let i = 0; i < count; i++) {
      const part = (((i + 0.5) / count) * colourParts) | 0
      const value = profile[i]!
      if (value !== value) continue
      sums[part]! += weight * Math.max(0, value)
      weights[part]! += weight
    }
  }
  const own = Float32Array.from(sums, (sum, part) => (weights[part]! > 1e-3 ? sum / weights[part]! : 1))
  // A part that was hidden says nothing later: else the rod would gain by sliding out of the hand. What says little counts little.
  return Float32Array.from(own, (value, part) => {
    const least = Math.min(value, own[Math.max(0, part - 1)]!, own[Math.min(colourParts - 1, part + 1)]!)
    return least < 0.12 && value < 0.25 ? 0 : Math.max(0.25, Math.min(1, 0.4 + value))
  })
}

/**
 * Parts from the heel on that a hand may lie on: up to the last place near the heel where the colour changes. What was
 * learned there is the hand's own colour, and a rod could then be made longer for it: it gets the colour of what comes next.
 */
function heldUpTo({ colour }: RodLook): number {
  for (let part = mostHeld; part > 0; part--) {
    const off = Math.hypot(...[0, 1, 2].map((k) => colour[3 * part + k]! - colour[3 * (part - 1) + k]!))
    if (off > otherColour) return part
  }
  return 0
}
const mostHeld = Math.round(0.45 * colourParts)
const otherColour = 22

/** Share of a whole step at the tip that a pixel's way from where hands set it outweighs. */
const setWell = 0.02

/** By how much the end that is seen falls short of the one that hands set: of the keys that show it well the one that says least. */
function tipShortOf(said: readonly Said[], look: RodLook): number {
  const found = said.map((one) => {
    const { view, pose } = one.key
    const from = pose.length - 3 * stepReach
    const says = placesSay(view, look, pose, one.motion, from, 1, 6 * stepReach)
    let best = { at: pose.length, step: 0.25, worth: 0.25 }
    for (let i = 2 * stepReach; i <= 4 * stepReach; i++) {
      const step = -stepAt(says, i)
      // Hands set it well: what lies farther off must show more clearly. Else the last band of a banded rod is no end.
      const worth = step - setWell * Math.abs(from + i - pose.length)
      if (worth > best.worth) best = { at: from + i, step, worth }
    }
    return { value: pose.length - best.at, weight: sharpness(one, look) ** 2 * best.step }
  })
  // It is the same on every key: one that says more has seen something else.
  const clear = 0.2 * Math.max(...found.map(({ weight }) => weight))
  const sure = found.filter(({ weight }) => weight >= clear).map(({ value }) => value)
  return sure.reduce((least, value) => (Math.abs(value) < Math.abs(least) ? value : least))
}

/** Where on the rod it comes out of the hand that holds it, as a key shows it. */
export interface Emergence {
  /** Pixels from the heel. */
  at: number
  /** How clear a step it is, 0 to 1. */
  step: number
}

/** How far along the rod a hand may lie, and over how many pixels on either side a step is read. */
const farthestHand = 0.45
export const stepReach = 8

export function emergenceOf({ view, pose, motion }: LookKey, look: RodLook): Emergence {
  const from = -stepReach - 2
  const count = Math.ceil(farthestHand * pose.length + 2 * stepReach)
  const says = placesSay(view, look, pose, motion ?? atRest, from, 1, count)
  let best: Emergence = { at: 0, step: 0 }
  for (let i = stepReach; i + stepReach < count; i++) {
    const step = stepAt(says, i)
    if (step > best.step) best = { at: from + i, step }
  }
  return best
}

/** How much more the places from `i` on say than those before it, -1 to 1; 0 where that can not be told, or was not read. */
export function stepAt(says: Float32Array, i: number): number {
  let [before, after, known] = [0, 0, 0]
  for (let k = 0; k < stepReach; k++) {
    const [a, b] = [says[i - 1 - k] ?? NaN, says[i + k] ?? NaN]
    if (Number.isNaN(a + b)) continue
    before += Math.max(0, a)
    after += Math.max(0, b)
    known++
  }
  return known > stepReach / 2 ? (after - before) / known : 0
}
