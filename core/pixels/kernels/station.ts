/*
 * What one place along a rod says of a frame: how much better a mix of what stands behind and the rod, by the share of the
 * open shutter that the rod covers each pixel, explains what is seen across it than no rod does.
 */

/** Numbers of a pixel: the picture (y, u, v), what stands behind (y, u, v), the deviation to expect, what is known. */
export const viewNumbers = 8
/** What is known of a pixel: the picture alone, what stands behind it too; or it is covered. */
export const pictureOnly = 0
export const behindKnown = 1
export const hidden = 2

/** Deviations are kept in so many parts of a level. */
export const deviationParts = 6

/** A frame beside what stands behind everything that moves on it: {@link viewNumbers} bytes a pixel, row by row. */
export interface ByteView {
  data: Uint8Array
  x: number
  y: number
  width: number
  height: number
}

/** A place along a rod, in pixels of the frame that the view lies in. */
export interface Station {
  cx: number
  cy: number
  /** Across the rod, of length 1. */
  nx: number
  ny: number
  /** How wide the rod is there, and how far it goes while the shutter is open, its soft edge included. */
  wide: number
  sweep: number
  /** Colour of the rod, and levels by which it differs from that. */
  y: number
  u: number
  v: number
  rough: number
  /** Reads fewer pixels, and goes by what stands behind alone where that is known. */
  quick: boolean
}

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

/** A share of light is not that share of its code: by how much half a share is more, for every 4 levels of both. */
export const bends = (() => {
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
/** First of the bends of a rod of that brightness. */
export const bendsFrom = (rod: number): number => 64 * (clampCode(rod) >> 2)
/** See {@link bends}: coverage in codes is share + bend share (1 - share), for a display of gamma 2.2. */
export const bendOf = (rod: number, behind: number): number => bends[bendsFrom(rod) + (clampCode(behind) >> 2)]!

const { fround } = Math

/** Pixels across a station, from beyond its one side to beyond the other. */
const mostSamples = 66
const offs = new Float32Array(mostSamples)
const ats = new Int32Array(mostSamples)

/** What a place says, -0.6 to 1; NaN where nothing can be told. The loops are plain and long: it is asked thousands of times a frame. */
export function stationSays(
  { data, x: left, y: top, width, height }: ByteView,
  { cx, cy, nx, ny, wide: w, sweep, y: ry, u: ru, v: rv, rough, quick }: Station,
): number {
  const reach = 0.5 * (w + sweep)
  const inner = quick ? (reach < 4 ? 5 : 7) : reach < 3 ? 7 : reach < 8 ? 9 : 13
  const step = (2 * reach) / inner
  const sideways = 2 * reach + 1
  const total = 3 * inner + 2
  const first = -((total - 1) / 2) * step
  // In single precision as the compiled one has it: which pixel a place lies in must not hang on who reads it.
  const [x0, y0, acrossX, acrossY] = [fround(cx - left), fround(cy - top), fround(nx), fround(ny)]
  const [begin, stepping] = [fround(first), fround(step)]
  const own2 = rough * rough
  let n = 0
  for (let k = 0; k < total; k++) {
    const aimed = fround(begin + fround(k * stepping))
    const px = Math.floor(fround(x0 + fround(acrossX * aimed)))
    const py = Math.floor(fround(y0 + fround(acrossY * aimed)))
    if (px < 0 || py < 0 || px >= width || py >= height) continue
    // The pixel's own middle: nothing is lost between pixels, and nothing has to be read between them.
    offs[n] = fround(fround(fround(px + 0.5) - x0) * acrossX) + fround(fround(fround(py + 0.5) - y0) * acrossY)
    ats[n++] = (py * width + px) * viewNumbers
  }
  // By the backdrop: the rod itself, and what lies just beside it on both sides.
  let own = 0
  let best = 0
  let known = 0
  let inMiddle = 0
  let one = 0
  let other = 0
  let ly = 0
  let lyy = 0
  let lu = 0
  let lv = 0
  let ln = 0
  let hy = 0
  let hyy = 0
  let hu = 0
  let hv = 0
  let hn = 0
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
    const bu = data[at + 4]!
    const bv = data[at + 5]!
    const ey = ry - by
    const eu = ru - bu
    const ev = rv - bv
    const oy = data[at]! - by
    const ou = data[at + 1]! - bu
    const ov = data[at + 2]! - bv
    const sy = oy - cover * ey
    const su = ou - cover * eu
    const sv = ov - cover * ev
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
  let mine = 0
  let could = 0
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
    const bu = lu + (hu - lu) * u
    const bv = lv + (hv - lv) * u
    const ey = ry - by
    const eu = ru - bu
    const ev = rv - bv
    const oy = data[at]! - by
    const ou = data[at + 1]! - bu
    const ov = data[at + 2]! - bv
    const sy = oy - cover * ey
    const su = ou - cover * eu
    const sv = ov - cover * ev
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
