import { type ColourPicture, type Field, fieldNumbers } from '../background.ts'
import { bilinear } from '../frame.ts'

/*
 * How well a pose of a rod explains a frame. All lengths here are half-size pixels of the frame (see ColourPicture).
 */

/** A rod's place: its heel, the way it points (radians) and its length. */
export interface RodPose {
  hx: number
  hy: number
  angle: number
  length: number
}

/** How a rod moves in a frame: its heel's shift, its turn and its growth. */
export interface Motion {
  hx: number
  hy: number
  angle: number
  length: number
}

/** Stations along a rod of its first length. */
export const stationCount = 32
/** Share of a frame that the shutter is open where nothing else is known: 180 degrees. */
const shutter = 0.5
/** Softness of lens and grid: an edge is never sharper than this. */
const softness = 1.5
/** How much a station without any sign of the rod counts against a pose, where one that is all there counts 1. */
const hiddenCosts = 0.35
/** Evidence, as a log-likelihood, at which a station counts half. */
const half = 12
/** Stations that must tell something for their mean to count in full. */
const fewestTold = 7
/** Colour differences are cleaner than brightness. */
const colourWeight = 2

/** What a rod looks like, from a frame on which it was set by hand. */
export interface RodAppearance {
  widthHeel: number
  widthTip: number
  length: number
  /** Colour at each station (y, u, v), from the heel on. */
  colour: Float32Array
  /** How much each station showed of the rod, 0 to 1: under the hand that holds it there is nothing to see. */
  bare: Float32Array
}

/** Reads the rod's colours from a frame where its pose is known. */
export function rodLook(
  picture: ColourPicture,
  field: Field,
  pose: RodPose,
  widthHeel: number,
  widthTip: number,
): RodAppearance {
  const colour = new Float32Array(3 * stationCount)
  const [dx, dy] = [Math.cos(pose.angle), Math.sin(pose.angle)]
  let known = -1
  for (let i = 0; i < stationCount; i++) {
    const u = (i + 0.5) / stationCount
    const width = widthHeel + (widthTip - widthHeel) * u
    const along = u * pose.length
    const [y, cu, cv] = [0, 1, 2].map((plane) => {
      let [sum, count] = [0, 0]
      for (const off of [-0.22, 0, 0.22]) {
        const x = pose.hx + dx * along - dy * off * width
        const yy = pose.hy + dy * along + dx * off * width
        const value = colourAt(picture, plane, x, yy)
        if (value >= 0) {
          sum += value
          count++
        }
      }
      return count ? sum / count : -1
    }) as [number, number, number]
    if (y < 0) continue
    // A rod thinner than the lens is sharp shows what lies behind it too: that share is taken off again.
    const cover = Math.min(1, width / softness)
    const behind = sampleField(field, pose.hx + dx * along, pose.hy + dy * along)
    const own = [y, cu, cv].map((value, k) =>
      behind && cover < 1 ? behind[3 + k]! + (value - behind[3 + k]!) / cover : value,
    )
    colour.set(own, 3 * i)
    if (known < 0) for (let k = 0; k < i; k++) colour.set(own, 3 * k)
    known = i
  }
  for (let i = known + 1; i < stationCount; i++)
    colour.copyWithin(3 * i, 3 * Math.max(0, known), 3 * Math.max(0, known) + 3)
  const look = { widthHeel, widthTip, length: pose.length, colour, bare: new Float32Array(stationCount).fill(1) }
  const profile = new Float32Array(stationCount)
  rodFit(field, look, pose, still, still, { profile })
  const seen = (i: number) => (profile[i]! === profile[i]! ? Math.max(0, Math.min(1, profile[i]!)) : 1)
  // A station that was hidden once says nothing later: else the rod would gain by sliding out of the hand.
  look.bare = Float32Array.from(profile, (_, i) =>
    Math.min(seen(i), seen(Math.max(0, i - 1)), seen(Math.min(stationCount - 1, i + 1))) < 0.3 ? 0 : 1,
  )
  return look
}

const still: Motion = { hx: 0, hy: 0, angle: 0, length: 0 }
const planeNames = ['y', 'u', 'v'] as const
/** Value of a plane at a place, between pixels; -1 beyond the picture. */
function colourAt(picture: ColourPicture, plane: number, x: number, y: number): number {
  const { width, height } = picture
  const [px, py] = [x - 0.5, y - 0.5]
  if (!(px >= 0 && py >= 0 && px < width - 1 && py < height - 1)) return -1
  const data = picture[planeNames[plane]!]
  const [ix, iy] = [px | 0, py | 0]
  const row = plane ? picture.row : width
  return bilinear(data, iy * row + ix, row, px - ix, py - iy)
}

function sampleField(field: Field, x: number, y: number): Float32Array | null {
  const [ix, iy] = [Math.floor(x) - field.x, Math.floor(y) - field.y]
  if (ix < 0 || iy < 0 || ix >= field.width || iy >= field.height) return null
  const at = (iy * field.width + ix) * fieldNumbers
  return field.data[at + 7] ? field.data.subarray(at, at + fieldNumbers) : null
}

/**
 * A share of light is not that share of its code: a quarter of a bright rod over a dark backdrop shows as more than a
 * quarter of the way between their codes. The bend k of share + k share (1 - share), by half a share; display gamma 2.2.
 */
function bendOf(rod: number, behind: number): number {
  const [a, b] = [Math.max(1, rod - 16), Math.max(1, behind - 16)]
  if (Math.abs(a - b) < 6) return 0
  const half = (0.5 * (a ** 2.2 + b ** 2.2)) ** (1 / 2.2)
  return 4 * ((half - b) / (a - b) - 0.5)
}

/** What the stations say of a pose. */
export interface RodFit {
  /** The better the higher: 1 where every station of the first length is there. */
  score: number
  /** Of the stations that can be seen and could tell, the share that shows the rod. */
  shown: number
}

/**
 * Log-likelihood of a pose against an empty backdrop, station by station: the rod's coverage across its axis, a box of
 * its width run over the way that the station sweeps while the shutter is open, times the rod's colour against the
 * backdrop's. Each station counts between -hiddenCosts and 1, by how much it could tell; beyond the picture it says
 * nothing. `usual`: the motion that is expected, which says how much light a station can have at most. `every`: reads every nth station only. `profile`, when given, gets what each station says (NaN: nothing).
 */
export function rodFit(
  field: Field,
  look: RodAppearance,
  pose: RodPose,
  motion: Motion,
  usual: Motion,
  { every = 1, profile }: { every?: number; profile?: Float32Array } = {},
): RodFit {
  const { data, x: left, y: top, width, height } = field
  const count = Math.max(4, Math.round((stationCount * pose.length) / look.length))
  const row = width * fieldNumbers
  const [dx, dy] = [Math.cos(pose.angle), Math.sin(pose.angle)]
  const across = -dy * motion.hx + dx * motion.hy
  const acrossUsual = -dy * usual.hx + dx * usual.hy
  let [score, told, shown] = [0, 0, 0]
  for (let i = every >> 1; i < count; i += every) {
    const u = (i + 0.5) / count
    const along = u * pose.length
    const w = look.widthHeel + (look.widthTip - look.widthHeel) * u
    const sweep = Math.hypot(shutter * (across + along * motion.angle), softness)
    const reach = 0.5 * (w + sweep)
    const samples = reach < 3 ? 5 : reach < 8 ? 7 : 11
    const gap = (2 * reach) / samples
    const cx = pose.hx + dx * along
    const cy = pose.hy + dy * along
    const c = 3 * Math.min(stationCount - 1, (u * stationCount) | 0)
    const [ry, ru, rv] = [look.colour[c]!, look.colour[c + 1]!, look.colour[c + 2]!]
    let [found, expected, powers, seen, bend] = [0, 0, 0, 0, NaN]
    for (let k = 0; k < samples; k++) {
      const off = (k + 0.5) * gap - reach
      const px = cx - dy * off - left - 0.5
      const py = cy + dx * off - top - 0.5
      if (!(px >= 0 && py >= 0 && px < width - 1 && py < height - 1)) continue
      const [ix, iy] = [px | 0, py | 0]
      const at = (iy * width + ix) * fieldNumbers
      const size = off < 0 ? -off : off
      const share = Math.min(w, sweep, reach - size) / sweep
      // What lies behind changes slowly: the nearest pixel will do. What differs is read between pixels.
      const ey = ry - data[at + 3]!
      const eu = ru - data[at + 4]!
      const ev = rv - data[at + 5]!
      if (data[at + 7] === 0) continue
      seen++
      if (bend !== bend) bend = bendOf(ry, data[at + 3]!)
      const cover = share + bend * share * (1 - share)
      const power = ey * ey + colourWeight * (eu * eu + ev * ev)
      const [s, t] = [px - ix, py - iy]
      const below = at + row
      const a = (1 - s) * (1 - t)
      const b = s * (1 - t)
      const c2 = (1 - s) * t
      const d = s * t
      const right = at + fieldNumbers
      const over = below + fieldNumbers
      const agree =
        ey * (a * data[at]! + b * data[right]! + c2 * data[below]! + d * data[over]!) +
        colourWeight *
          (eu * (a * data[at + 1]! + b * data[right + 1]! + c2 * data[below + 1]! + d * data[over + 1]!) +
            ev * (a * data[at + 2]! + b * data[right + 2]! + c2 * data[below + 2]! + d * data[over + 2]!))
      const inverse = 1 / data[at + 6]!
      found += cover * agree * inverse
      expected += 0.5 * cover * cover * power * inverse
      powers += power * inverse
    }
    if (profile) profile[i] = NaN
    if (seen < 0.4 * samples) continue
    // A sharp rod would have this much light; one that sweeps as expected, the share of its width in its way.
    const full = (0.5 * w * powers) / seen
    const sweepUsual = Math.hypot(shutter * (acrossUsual + along * usual.angle), softness)
    const usualShare = Math.min(1, w / sweepUsual)
    const usualCover = usualShare + bend * usualShare * (1 - usualShare)
    const most = (full * usualCover * usualCover) / usualShare
    const tells = (look.bare[(u * stationCount) | 0]! * most) / (most + half)
    const value = ((found - expected) * gap) / (most + 1e-6)
    const least = (-hiddenCosts * expected * gap) / (most + 1e-6)
    const clipped = value > 1.5 ? 1.5 : value < least ? least : value
    score += tells * clipped
    told += tells
    if (value > 0.35) shown += tells
    if (profile) profile[i] = tells * clipped
  }
  // What lies beyond the picture, or before a backdrop of its own colour, counts as what can be told does: else a pose
  // would gain by sliding into view.
  const mean = (score * every) / Math.max(fewestTold, told * every)
  return { score: (mean * count) / stationCount, shown: told > 0 ? shown / told : 0 }
}

/** Colours around the heel in coordinates of the rod: what the hand that holds it looks like. */
export interface GripLook {
  data: Float32Array
}
const gripAlong = { from: -22, to: 44, step: 2.2 }
const gripAcross = { reach: 8.8, step: 2.2 }
const gripSize = {
  rows: Math.round((2 * gripAcross.reach) / gripAcross.step) + 1,
  columns: Math.round((gripAlong.to - gripAlong.from) / gripAlong.step) + 1,
}
/** Levels of colour by which the hand may look different. */
const gripTolerance = 14

export function gripLook(picture: ColourPicture, pose: RodPose): GripLook {
  const data = new Float32Array(gripSize.rows * gripSize.columns * 3)
  forGrip(pose, (x, y, at) => {
    for (let plane = 0; plane < 3; plane++) data[at + plane] = colourAt(picture, plane, x, y)
  })
  return { data }
}

/** How much the surroundings of a pose's heel look like the grip, 0 to 1; 0.5 where nothing of it is in the picture. */
export function gripFit(picture: ColourPicture, grip: GripLook, pose: RodPose): number {
  const { y: py, u: pu, v: pv, width, height, row } = picture
  let [sum, count] = [0, 0]
  const scale = 1 / (2 * gripTolerance * gripTolerance)
  forGrip(pose, (x, y, at) => {
    const own = grip.data[at]!
    const [ix, iy] = [Math.floor(x), Math.floor(y)]
    if (own < 0 || ix < 0 || iy < 0 || ix >= width || iy >= height) return
    const chroma = iy * row + ix
    const ey = py[iy * width + ix]! - own
    const [eu, ev] = [pu[chroma]! - grip.data[at + 1]!, pv[chroma]! - grip.data[at + 2]!]
    const off = (ey * ey + 2 * (eu * eu + ev * ev)) * scale
    sum += 1 / (1 + off)
    count++
  })
  return count < 30 ? 0.5 : sum / count
}

function forGrip(pose: RodPose, visit: (x: number, y: number, at: number) => void): void {
  const [dx, dy] = [Math.cos(pose.angle), Math.sin(pose.angle)]
  let at = 0
  for (let row = 0; row < gripSize.rows; row++) {
    const off = row * gripAcross.step - gripAcross.reach
    for (let column = 0; column < gripSize.columns; column++, at += 3) {
      const along = gripAlong.from + column * gripAlong.step
      visit(pose.hx + dx * along - dy * off, pose.hy + dy * along + dx * off, at)
    }
  }
}

/**
 * How much of the rod shows along its axis, place by place from `from` to `to` (half-size pixels from the heel) in steps
 * of `step`: 1 where it is all there, 0 where only the backdrop is; NaN where that can not be told.
 */
export function alongAxis(
  field: Field,
  look: RodAppearance,
  pose: RodPose,
  motion: Motion,
  { from, to, step }: { from: number; to: number; step: number },
): Float32Array {
  const { data, x: left, y: top, width, height } = field
  const out = new Float32Array(Math.max(0, Math.round((to - from) / step)))
  const [dx, dy] = [Math.cos(pose.angle), Math.sin(pose.angle)]
  const across = -dy * motion.hx + dx * motion.hy
  for (let i = 0; i < out.length; i++) {
    const along = from + (i + 0.5) * step
    const u = Math.max(0, Math.min(0.999, along / pose.length))
    const w = look.widthHeel + (look.widthTip - look.widthHeel) * u
    const sweep = Math.hypot(shutter * (across + along * motion.angle), softness)
    const reach = 0.5 * (w + sweep)
    const samples = reach < 3 ? 5 : reach < 8 ? 7 : 11
    const c = 3 * ((u * stationCount) | 0)
    let [found, expected, seen, powers, bend] = [0, 0, 0, 0, NaN]
    for (let k = 0; k < samples; k++) {
      const off = ((k + 0.5) * 2 * reach) / samples - reach
      const ix = Math.floor(pose.hx + dx * along - dy * off) - left
      const iy = Math.floor(pose.hy + dy * along + dx * off) - top
      if (ix < 0 || iy < 0 || ix >= width || iy >= height) continue
      const at = (iy * width + ix) * fieldNumbers
      if (data[at + 7] === 0) continue
      seen++
      if (bend !== bend) bend = bendOf(look.colour[c]!, data[at + 3]!)
      const share = Math.min(w, sweep, reach - Math.abs(off)) / sweep
      const cover = share + bend * share * (1 - share)
      const ey = look.colour[c]! - data[at + 3]!
      const eu = look.colour[c + 1]! - data[at + 4]!
      const ev = look.colour[c + 2]! - data[at + 5]!
      const inverse = 1 / data[at + 6]!
      const power = (ey * ey + colourWeight * (eu * eu + ev * ev)) * inverse
      powers += power
      found += cover * (ey * data[at]! + colourWeight * (eu * data[at + 1]! + ev * data[at + 2]!)) * inverse
      expected += cover * cover * power
    }
    // A place of hardly another colour than what lies behind it can not tell.
    out[i] = seen < samples || powers / seen < 4 ? NaN : Math.max(-0.5, Math.min(1.5, found / (expected + 1e-6)))
  }
  return out
}

/** A grip's look with a share of a newer one. */
export function gripAdded(old: GripLook, fresh: GripLook, share: number): GripLook {
  const data = old.data.map((v, i) => {
    const own = fresh.data[i]!
    return own < 0 ? v : v < 0 ? own : v + (own - v) * share
  })
  return { data }
}
