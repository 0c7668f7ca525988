import type { RodMotion, RodPose } from './pose.ts'
import { deviationParts, hidden, pictureOnly, type RodView, viewNumbers, type Wider } from './view.ts'

/*
 * How well a pose of a rod explains a frame: at places along it, how much better a mix of what stands behind and the
 * rod, by the share of the open shutter that the rod covers each pixel, explains what is seen than no rod does.
 */

/** Places along a rod of its usual length. */
export const stations = 28
/** Parts of a rod that have a colour each. */
export const colourParts = 12
/** Softness of lens and grid: an edge is never sharper than this. */
export const softness = 1.5
/** What is further off than three deviations is something else, however far it is. */
const capped = 9
/** Evidence, as a sum of squares in deviations, at which a place counts half. */
const half = 10
/** Least and most that a place says. */
const [least, most] = [-0.6, 1]
/** Share of what is said just beside the rod that is taken off: what is wide is no rod. */
const besideCounts = 0.5
/** Share of a place's word that comes from its own sides instead of the backdrop, where that is known. */
const sidesCount = 0.5
/** Colour differences are cleaner than brightness. */
const colourWeight = 2

/** What a rod looks like, from all frames on which a hand has set it. */
export interface RodLook {
  widthHeel: number
  widthTip: number
  /** As set by hand, at its longest. */
  length: number
  /** Colour (y, u, v) of each part from the heel on, in the light of the backdrop. */
  colour: Float32Array
  /** Levels by which each part differs from its own colour: shade, grain of the wood, highlights. */
  rough: Float32Array
  /** How much each part can be seen, 0 to 1: under the hand that holds it there is nothing to see. */
  shows: Float32Array
  /** By how much the end that is seen falls short of the one that hands set. */
  tipShort: number
  /** Share of a frame that the shutter is open. */
  shutter: number
  /** How much of what lies under the key that shows it best is of one look and no backdrop, 0 to 1: little where no rod lies there. */
  told: number
}

/** A share of light is not that share of its code: by how much half a share is more, for every 4 levels of both. */
const bends = (() => {
  const out = new Float32Array(64 * 64)
  for (let rod = 0; rod < 64; rod++)
    for (let behind = 0; behind < 64; behind++) {
      const [a, b] = [Math.max(1, 4 * rod + 2 - 16), Math.max(1, 4 * behind + 2 - 16)]
      if (Math.abs(a - b) < 6) continue
      const middle = (0.5 * (a ** 2.2 + b ** 2.2)) ** (1 / 2.2)
      out[64 * rod + behind] = 4 * ((middle - b) / (a - b) - 0.5)
    }
  return out
})()

const clampCode = (v: number) => (v < 0 ? 0 : v > 255 ? 255 : v)
/** See {@link bends}: coverage in codes is share + bend share (1 - share), for a display of gamma 2.2. */
export const bendOf = (rod: number, behind: number): number =>
  bends[64 * (clampCode(rod) >> 2) + (clampCode(behind) >> 2)]!

/** Pixels across a station, from beyond its one side to beyond the other. */
const mostSamples = 66
const offs = new Float32Array(mostSamples)
const ats = new Int32Array(mostSamples)

/**
 * How well a pose explains a view, 1 where every station is all there, less than 0 where something else is. `motion`:
 * how the rod moves in that frame; `every`: reads every nth station only, and from 3 on goes by the backdrop alone where
 * that is known: to look around quickly.
 */
export function rodFit(view: RodView, look: RodLook, pose: RodPose, motion: RodMotion, every = 1): number {
  const seen = Math.max(4, pose.length - look.tipShort)
  const count = Math.max(6, Math.min(3 * stations, Math.round((stations * seen) / look.length)))
  const quick = every > 2
  let [score, outside] = [0, 0]
  for (let i = every >> 1; i < count; i += every) {
    const along = ((i + 0.5) * seen) / count
    const shows = look.shows[partOf(along, seen)]!
    const value = shows < 0.05 ? NaN : placeSays(view, look, pose, motion, along, seen, quick)
    if (value === value) score += every * shows * value
    else if (!within(view, pose, along)) outside += every
  }
  // At its tip a step must show.
  const stride = quick ? 3 : every
  let step = 0
  for (let i = 0; i < tipPlaces; i += stride)
    for (const side of [-1, 1]) {
      const value = placeSays(view, look, pose, motion, seen + side * tipGap * (i + 0.5), seen, quick)
      if (value > 0) step -= side * value
    }
  const away = outside / count
  return score / stations + (tipCounts * stride * step) / tipPlaces - (away > 0.5 ? 0.4 * (away - 0.5) : 0)
}
/** Places on either side of the tip that are read, how far apart, and what a whole step counts against a whole rod. */
const tipPlaces = 6
const tipGap = 1.4
const tipCounts = 0.12

/** How wide the rod is at a share of its length on a frame. */
export const widthAt = ({ widthHeel, widthTip }: RodLook, { heel, tip }: Wider, u: number): number =>
  (1 - u) * widthHeel * heel + u * widthTip * tip

const partOf = (along: number, length: number): number =>
  along <= 0 ? 0 : along >= length ? colourParts - 1 : ((colourParts * along) / length) | 0

const within = ({ frame }: RodView, { hx, hy, angle }: RodPose, along: number): boolean => {
  const [x, y] = [hx + Math.cos(angle) * along, hy + Math.sin(angle) * along]
  return x >= 0 && y >= 0 && x < frame.width && y < frame.height
}

/** What places along the axis say, from `from` pixels off the heel on, `gap` apart; NaN where nothing can be told. */
export function placesSay(
  view: RodView,
  look: RodLook,
  pose: RodPose,
  motion: RodMotion,
  from: number,
  gap: number,
  count: number,
): Float32Array {
  return Float32Array.from({ length: count }, (_, i) =>
    placeSays(view, look, pose, motion, from + (i + 0.5) * gap, pose.length, false),
  )
}

/** What the place so far along the axis says; `length`: where the rod's colours end. */
function placeSays(
  view: RodView,
  look: RodLook,
  pose: RodPose,
  motion: RodMotion,
  along: number,
  length: number,
  quick: boolean,
): number {
  const [dx, dy] = [Math.cos(pose.angle), Math.sin(pose.angle)]
  const [cx, cy] = [pose.hx + dx * along, pose.hy + dy * along]
  if (!(cx >= 0 && cy >= 0 && cx < view.frame.width && cy < view.frame.height)) return NaN
  const u = along <= 0 ? 0 : along >= length ? 1 : along / length
  const part = partOf(along, length)
  const width = widthAt(look, view.wide, u)
  const way = look.shutter * (dx * motion.hy - dy * motion.hx + along * motion.angle)
  const sweep = Math.sqrt(way * way + softness * softness)
  const y = look.colour[3 * part]! * view.light.gain + view.light.offset
  const [cu, cv] = [look.colour[3 * part + 1]!, look.colour[3 * part + 2]!]
  return stationSays(view, cx, cy, -dy, dx, width, sweep, y, cu, cv, look.rough[part]!, quick)
}

/** What one station says, {@link least} to {@link most}; NaN where nothing can be told. */
function stationSays(
  view: RodView,
  cx: number,
  cy: number,
  nx: number,
  ny: number,
  w: number,
  sweep: number,
  ry: number,
  ru: number,
  rv: number,
  rough: number,
  quick: boolean,
): number {
  const { data, x: left, y: top, width, height } = view
  const reach = 0.5 * (w + sweep)
  const inner = quick ? (reach < 4 ? 5 : 7) : reach < 3 ? 7 : reach < 8 ? 9 : 13
  const step = (2 * reach) / inner
  const sideways = 2 * reach + 1
  const total = 3 * inner + 2
  const first = -((total - 1) / 2) * step
  const own2 = rough * rough
  let n = 0
  for (let k = 0; k < total; k++) {
    const off = first + k * step
    const px = Math.floor(cx + nx * off)
    const py = Math.floor(cy + ny * off)
    const [qx, qy] = [px - left, py - top]
    if (qx < 0 || qy < 0 || qx >= width || qy >= height) continue
    // The pixel's own middle: nothing is lost between pixels, and nothing has to be read between them.
    offs[n] = (px + 0.5 - cx) * nx + (py + 0.5 - cy) * ny
    ats[n++] = (qy * width + qx) * viewNumbers
  }
  // By the backdrop: the rod itself, and what lies just beside it on both sides.
  let [own, best, known, inMiddle] = [0, 0, 0, 0]
  let [one, other] = [0, 0]
  let [ly, lu, lv, ln, lyy, hy, hu, hv, hn, hyy] = [0, 0, 0, 0, 0, 0, 0, 0, 0, 0]
  const brim = reach + 0.6
  const rim = reach + Math.max(3.6, Math.min(7, 0.6 * reach))
  for (let k = 0; k < n; k++) {
    const at = ats[k]!
    const off = offs[k]!
    const size = off < 0 ? -off : off
    const knows = data[at + 7]!
    if (knows === hidden) continue
    if (size < reach) inMiddle++
    if (size > brim && size < rim) {
      const code = data[at]!
      if (off < 0) {
        ly += code
        lyy += code * code
        lu += data[at + 1]!
        lv += data[at + 2]!
        ln++
      } else {
        hy += code
        hyy += code * code
        hu += data[at + 1]!
        hv += data[at + 2]!
        hn++
      }
    }
    if (knows === pictureOnly) continue
    const side = size < reach + 0.5 ? 0 : off < 0 ? -1 : 1
    const far = side === 0 ? size : Math.abs(size - sideways)
    if (far >= reach) continue
    const share = Math.min(w, sweep, reach - far) / sweep
    const by = data[at + 3]!
    const bend = bends[64 * (clampCode(ry) >> 2) + (by >> 2)]!
    const cover = share + bend * share * (1 - share)
    const deviation = data[at + 6]! / deviationParts
    const inverse = 1 / (deviation * deviation + own2 * cover * cover)
    const [ey, eu, ev] = [ry - by, ru - data[at + 4]!, rv - data[at + 5]!]
    const [oy, ou, ov] = [data[at]! - by, data[at + 1]! - data[at + 4]!, data[at + 2]! - data[at + 5]!]
    const [sy, su, sv] = [oy - cover * ey, ou - cover * eu, ov - cover * ev]
    const without = inverse * (oy * oy + colourWeight * (ou * ou + ov * ov))
    const within = inverse * (sy * sy + colourWeight * (su * su + sv * sv))
    const gain = (without > capped ? capped : without) - (within > capped ? capped : within)
    if (side === 0) {
      const could = inverse * cover * cover * (ey * ey + colourWeight * (eu * eu + ev * ev))
      own += gain
      best += could > capped ? capped : could
      known++
    } else if (side < 0) one += gain
    else other += gain
  }
  if (inMiddle < 0.4 * inner) return NaN
  let value = NaN
  if (known >= 0.4 * inner) {
    const beside = 0.5 * ((one > 0 ? one : 0) + (other > 0 ? other : 0))
    value = clipped((own - besideCounts * beside) / (best + half))
  }
  // To look around quickly the backdrop alone will do, where it is known.
  if ((quick && value === value) || ln === 0 || hn === 0) return value
  // By its own sides: what stands behind is taken to run on from the one to the other.
  ly /= ln
  lu /= ln
  lv /= ln
  hy /= hn
  hu /= hn
  hv /= hn
  const uneven = 12 + 0.5 * (lyy / ln - ly * ly + hyy / hn - hy * hy) + 0.06 * (ly - hy) * (ly - hy)
  let [mine, could] = [0, 0]
  for (let k = 0; k < n; k++) {
    const off = offs[k]!
    const size = off < 0 ? -off : off
    if (size >= reach) continue
    const at = ats[k]!
    if (data[at + 7] === hidden) continue
    const u = 0.5 + (0.5 * off) / reach
    const by = ly + (hy - ly) * u
    const share = Math.min(w, sweep, reach - size) / sweep
    const bend = bends[64 * (clampCode(ry) >> 2) + (clampCode(by) >> 2)]!
    const cover = share + bend * share * (1 - share)
    const inverse = 1 / (uneven + own2 * cover * cover)
    const [bu, bv] = [lu + (hu - lu) * u, lv + (hv - lv) * u]
    const [ey, eu, ev] = [ry - by, ru - bu, rv - bv]
    const [oy, ou, ov] = [data[at]! - by, data[at + 1]! - bu, data[at + 2]! - bv]
    const [sy, su, sv] = [oy - cover * ey, ou - cover * eu, ov - cover * ev]
    const without = inverse * (oy * oy + colourWeight * (ou * ou + ov * ov))
    const within = inverse * (sy * sy + colourWeight * (su * su + sv * sv))
    const most = inverse * cover * cover * (ey * ey + colourWeight * (eu * eu + ev * ev))
    mine += (without > capped ? capped : without) - (within > capped ? capped : within)
    could += most > capped ? capped : most
  }
  const bySides = clipped(mine / (could + half))
  return value !== value ? bySides : value + sidesCount * (bySides - value)
}

const clipped = (v: number) => (v < least ? least : v > most ? most : v)
