// What a place of a rod says while it is followed.

import { bytes4, sum4, whole, wholes4 } from './lanes'

/** Four bends of a rod's row at whole brightnesses behind it, 0 to 255. */
// @ts-ignore: decorator
@inline
function bends4(bends: usize, behind: v128): v128 {
  const at = v128.and(behind, i32x4.splat(252))
  let out = f32x4.splat(load<f32>(bends + <usize>i32x4.extract_lane(at, 0)))
  out = f32x4.replace_lane(out, 1, load<f32>(bends + <usize>i32x4.extract_lane(at, 1)))
  out = f32x4.replace_lane(out, 2, load<f32>(bends + <usize>i32x4.extract_lane(at, 2)))
  return f32x4.replace_lane(out, 3, load<f32>(bends + <usize>i32x4.extract_lane(at, 3)))
}

/** What four pixels gain by the rod, and what they could (in `explained`); colours as differences from what is behind. */
let explained: v128 = f32x4.splat(0)

// @ts-ignore: decorator
@inline
function gain4(cover: v128, spread: v128, own2: v128, ey: v128, eu: v128, ev: v128, oy: v128, ou: v128, ov: v128): v128 {
  const two = f32x4.splat(2)
  const cap = f32x4.splat(9)
  const cover2 = f32x4.mul(cover, cover)
  const inverse = f32x4.div(f32x4.splat(1), f32x4.add(spread, f32x4.mul(own2, cover2)))
  const sy = f32x4.sub(oy, f32x4.mul(cover, ey))
  const su = f32x4.sub(ou, f32x4.mul(cover, eu))
  const sv = f32x4.sub(ov, f32x4.mul(cover, ev))
  const o2 = f32x4.add(f32x4.mul(oy, oy), f32x4.mul(two, f32x4.add(f32x4.mul(ou, ou), f32x4.mul(ov, ov))))
  const s2 = f32x4.add(f32x4.mul(sy, sy), f32x4.mul(two, f32x4.add(f32x4.mul(su, su), f32x4.mul(sv, sv))))
  const e2 = f32x4.add(f32x4.mul(ey, ey), f32x4.mul(two, f32x4.add(f32x4.mul(eu, eu), f32x4.mul(ev, ev))))
  explained = f32x4.pmin(cap, f32x4.mul(f32x4.mul(inverse, cover2), e2))
  return f32x4.sub(f32x4.pmin(cap, f32x4.mul(inverse, o2)), f32x4.pmin(cap, f32x4.mul(inverse, s2)))
}

/**
 * What one place along a rod says of a frame: see core/pixels/kernels/station.ts. Four pixels at once; `bends`: the row of the
 * rod's brightness, `room`: for three numbers of each of 68 pixels.
 */
export function stationSays(
  data: usize,
  width: i32,
  height: i32,
  cx: f32,
  cy: f32,
  nx: f32,
  ny: f32,
  w: f64,
  sweepOf: f64,
  red: f32,
  green: f32,
  blue: f32,
  rough: f32,
  quick: i32,
  bends: usize,
  room: usize,
): f32 {
  const reachOf = 0.5 * (w + sweepOf)
  const inner: i32 = quick ? (reachOf < 4 ? 5 : 7) : reachOf < 3 ? 7 : reachOf < 8 ? 9 : 13
  const step = (2 * reachOf) / <f64>inner
  const total: i32 = 3 * inner + 2
  const first = <f32>(-(<f64>(total - 1) / 2) * step)
  const stepping = <f32>step
  const left = f32x4.splat(cx)
  const top = f32x4.splat(cy)
  const acrossX = f32x4.splat(nx)
  const acrossY = f32x4.splat(ny)
  const halfway = f32x4.splat(0.5)
  const columns = i32x4.splat(width)
  const rows = i32x4.splat(height)
  const none = f32x4.splat(0)
  const one4 = f32x4.splat(1)
  const reach = f32x4.splat(<f32>reachOf)
  const centreReach = f32x4.splat(<f32>(reachOf + 0.5))
  const sideways = f32x4.splat(<f32>(2 * reachOf + 1))
  const brim = f32x4.splat(<f32>(reachOf + 0.6))
  const rim = f32x4.splat(<f32>(reachOf + Math.max(3.6, Math.min(7, 0.6 * reachOf))))
  const most = f32x4.splat(<f32>Math.min(w, sweepOf))
  const perSweep = f32x4.splat(<f32>(1 / sweepOf))
  const own2 = f32x4.splat(rough * rough)
  const ry = f32x4.splat(red)
  const ru = f32x4.splat(green)
  const rv = f32x4.splat(blue)
  const hidden = i32x4.splat(2)
  const known4 = i32x4.splat(1)
  let own = none
  let best = none
  let beneath = none
  let above = none
  let known = none
  let inMiddle = none
  let ly = none
  let lyy = none
  let lu = none
  let lv = none
  let ln = none
  let hy = none
  let hyy = none
  let hu = none
  let hv = none
  let hn = none
  for (let k: i32 = 0; k < total; k += 4) {
    const numbers = i32x4.add(i32x4.splat(k), i32x4(0, 1, 2, 3))
    const aimed = f32x4.add(f32x4.splat(first), f32x4.mul(f32x4.convert_i32x4_s(numbers), f32x4.splat(stepping)))
    const px = f32x4.floor(f32x4.add(left, f32x4.mul(acrossX, aimed)))
    const py = f32x4.floor(f32x4.add(top, f32x4.mul(acrossY, aimed)))
    // The pixel's own middle: nothing is lost between pixels, and nothing has to be read between them.
    const off = f32x4.add(
      f32x4.mul(f32x4.sub(f32x4.add(px, halfway), left), acrossX),
      f32x4.mul(f32x4.sub(f32x4.add(py, halfway), top), acrossY),
    )
    const ix = wholes4(px)
    const iy = wholes4(py)
    const inView = v128.and(
      v128.and(i32x4.lt_u(ix, columns), i32x4.lt_u(iy, rows)),
      i32x4.lt_s(numbers, i32x4.splat(total)),
    )
    // What lies beyond the view is read as its first pixel, and not counted.
    const at = v128.and(inView, i32x4.shl(i32x4.add(i32x4.mul(iy, columns), ix), 3))
    const p = v128.load64_lane(
      data + <usize>i32x4.extract_lane(at, 1),
      v128.load64_zero(data + <usize>i32x4.extract_lane(at, 0)),
      1,
    )
    const q = v128.load64_lane(
      data + <usize>i32x4.extract_lane(at, 3),
      v128.load64_zero(data + <usize>i32x4.extract_lane(at, 2)),
      1,
    )
    const size = f32x4.abs(off)
    const here = i8x16.shuffle(p, q, 0, 1, 2, 3, 8, 9, 10, 11, 16, 17, 18, 19, 24, 25, 26, 27)
    const there = i8x16.shuffle(p, q, 4, 5, 6, 7, 12, 13, 14, 15, 20, 21, 22, 23, 28, 29, 30, 31)
    const knows = i32x4.shr_u(there, 24)
    const seen = v128.and(inView, i32x4.ne(knows, hidden))
    // For the second time: what is seen, how far off, and whether it counts.
    const kept = room + <usize>k * 12
    v128.store(kept, here)
    v128.store(kept, off, 16)
    v128.store(kept, seen, 32)
    const low = f32x4.lt(off, none)
    const y = bytes4(here, 0)
    const u = bytes4(here, 8)
    const v = bytes4(here, 16)
    inMiddle = f32x4.add(inMiddle, v128.and(one4, v128.and(seen, f32x4.lt(size, reach))))
    const atRim = v128.and(seen, v128.and(f32x4.gt(size, brim), f32x4.lt(size, rim)))
    if (v128.any_true(atRim)) {
      const lows = v128.and(atRim, low)
      const highs = v128.andnot(atRim, low)
      const yy = f32x4.mul(y, y)
      ly = f32x4.add(ly, v128.and(lows, y))
      lyy = f32x4.add(lyy, v128.and(lows, yy))
      lu = f32x4.add(lu, v128.and(lows, u))
      lv = f32x4.add(lv, v128.and(lows, v))
      ln = f32x4.add(ln, v128.and(lows, one4))
      hy = f32x4.add(hy, v128.and(highs, y))
      hyy = f32x4.add(hyy, v128.and(highs, yy))
      hu = f32x4.add(hu, v128.and(highs, u))
      hv = f32x4.add(hv, v128.and(highs, v))
      hn = f32x4.add(hn, v128.and(highs, one4))
    }
    const centre = f32x4.lt(size, centreReach)
    const far = v128.bitselect(size, f32x4.abs(f32x4.sub(size, sideways)), centre)
    const use = v128.and(v128.and(inView, i32x4.eq(knows, known4)), f32x4.lt(far, reach))
    if (!v128.any_true(use)) continue
    const share = f32x4.mul(f32x4.pmin(most, f32x4.sub(reach, far)), perSweep)
    const by = bytes4(here, 24)
    const bu = bytes4(there, 0)
    const bv = bytes4(there, 8)
    const deviation = f32x4.mul(bytes4(there, 16), f32x4.splat(<f32>(1.0 / 6.0)))
    const bend = bends4(bends, i32x4.shr_u(here, 24))
    const cover = f32x4.add(share, f32x4.mul(bend, f32x4.mul(share, f32x4.sub(one4, share))))
    const gain = v128.and(
      use,
      gain4(
        cover,
        f32x4.mul(deviation, deviation),
        own2,
        f32x4.sub(ry, by),
        f32x4.sub(ru, bu),
        f32x4.sub(rv, bv),
        f32x4.sub(y, by),
        f32x4.sub(u, bu),
        f32x4.sub(v, bv),
      ),
    )
    const mine = v128.and(use, centre)
    own = f32x4.add(own, v128.and(gain, centre))
    best = f32x4.add(best, v128.and(explained, mine))
    known = f32x4.add(known, v128.and(one4, mine))
    const beside = v128.andnot(gain, centre)
    beneath = f32x4.add(beneath, v128.and(beside, low))
    above = f32x4.add(above, v128.andnot(beside, low))
  }
  if (sum4(inMiddle) < 0.4 * <f32>inner) return NaN
  let value: f32 = NaN
  if (sum4(known) >= 0.4 * <f32>inner) {
    const beside = <f32>0.5 * (max<f32>(0, sum4(beneath)) + max<f32>(0, sum4(above)))
    value = min<f32>(1, max<f32>(-0.6, (sum4(own) - <f32>0.5 * beside) / (sum4(best) + 10)))
  }
  const lows = sum4(ln)
  const highs = sum4(hn)
  if ((quick && value == value) || lows == 0 || highs == 0) return value
  const lowY = sum4(ly) / lows
  const lowU = sum4(lu) / lows
  const lowV = sum4(lv) / lows
  const highY = sum4(hy) / highs
  const highU = sum4(hu) / highs
  const highV = sum4(hv) / highs
  const apart = lowY - highY
  const uneven = f32x4.splat(
    12 + 0.5 * (sum4(lyy) / lows - lowY * lowY + sum4(hyy) / highs - highY * highY) + 0.06 * apart * apart,
  )
  const perReach = f32x4.splat(<f32>(0.5 / reachOf))
  let mine = none
  let could = none
  for (let k: i32 = 0; k < total; k += 4) {
    const kept = room + <usize>k * 12
    const off = v128.load(kept, 16)
    const size = f32x4.abs(off)
    const use = v128.and(v128.load(kept, 32), f32x4.lt(size, reach))
    if (!v128.any_true(use)) continue
    const here = v128.load(kept)
    const along = f32x4.add(halfway, f32x4.mul(off, perReach))
    const by = f32x4.add(f32x4.splat(lowY), f32x4.mul(f32x4.splat(highY - lowY), along))
    const bu = f32x4.add(f32x4.splat(lowU), f32x4.mul(f32x4.splat(highU - lowU), along))
    const bv = f32x4.add(f32x4.splat(lowV), f32x4.mul(f32x4.splat(highV - lowV), along))
    const share = f32x4.mul(f32x4.pmin(most, f32x4.sub(reach, size)), perSweep)
    const bend = bends4(bends, wholes4(f32x4.floor(f32x4.pmin(f32x4.splat(255), f32x4.pmax(none, by)))))
    const cover = f32x4.add(share, f32x4.mul(bend, f32x4.mul(share, f32x4.sub(one4, share))))
    const gain = gain4(
      cover,
      uneven,
      own2,
      f32x4.sub(ry, by),
      f32x4.sub(ru, bu),
      f32x4.sub(rv, bv),
      f32x4.sub(bytes4(here, 0), by),
      f32x4.sub(bytes4(here, 8), bu),
      f32x4.sub(bytes4(here, 16), bv),
    )
    mine = f32x4.add(mine, v128.and(use, gain))
    could = f32x4.add(could, v128.and(use, explained))
  }
  const bySides = min<f32>(1, max<f32>(-0.6, sum4(mine) / (sum4(could) + 10)))
  return value != value ? bySides : value + <f32>0.5 * (bySides - value)
}

/**
 * Lays what stands behind beside what is seen along a row of a view: brightness (times `gain`, plus `offset`) into byte 3 of
 * each pixel, colour into 4 and 5, deviation into 6, and 1 into 7. `behind`: four numbers a pixel, the last below 0 where
 * nothing is known; the row lies in it from (x, y) on by (dx, dy), straight between its pixels.
 */
export function layBehind(
  behind: usize,
  width: i32,
  height: i32,
  x: f32,
  y: f32,
  dx: f32,
  dy: f32,
  gain: f32,
  offset: f32,
  view: usize,
  count: i32,
): void {
  const scale = f32x4(gain, 1, 1, 1)
  const shift = f32x4(offset + 0.5, 0.5, 0.5, 0)
  const none = f32x4.splat(0)
  const most = f32x4.splat(255)
  const row = <usize>width << 4
  for (let i: i32 = 0; i < count; i++, view += 8) {
    const px = x + dx * <f32>i
    const py = y + dy * <f32>i
    if (!(px >= 0 && py >= 0 && px < <f32>(width - 1) && py < <f32>(height - 1))) continue
    const left = floor<f32>(px)
    const top = floor<f32>(py)
    const at = behind + (<usize>(whole(top) * width + whole(left)) << 4)
    const a = v128.load(at)
    const deviation = f32x4.extract_lane(a, 3)
    if (deviation < 0) continue
    const s = f32x4.splat(px - left)
    const above = f32x4.add(a, f32x4.mul(f32x4.sub(v128.load(at, 16), a), s))
    const c = v128.load(at + row)
    const below = f32x4.add(c, f32x4.mul(f32x4.sub(v128.load(at + row, 16), c), s))
    const mean = f32x4.add(above, f32x4.mul(f32x4.sub(below, above), f32x4.splat(py - top)))
    const told = f32x4.replace_lane(f32x4.add(f32x4.mul(mean, scale), shift), 3, deviation)
    const four = wholes4(f32x4.floor(f32x4.pmin(most, f32x4.pmax(none, told))))
    const bytes = i8x16.narrow_i16x8_u(i16x8.narrow_i32x4_u(four, four), four)
    const known = (<u64>i32x4.extract_lane(bytes, 0) & 0xffffffff) | (<u64>1 << 32)
    store<u64>(view, (load<u64>(view) & 0xffffff) | (known << 24))
  }
}

/**
 * How much places of a view look like what is told of them: see alikeSays in core/pixels/kernels/interface.ts. `places`: along,
 * across, y, u, v and how much each tells, `count` (a multiple of 4) numbers of each.
 */
export function alikeSays(
  view: usize,
  width: i32,
  height: i32,
  places: usize,
  count: usize,
  x: f32,
  y: f32,
  dx: f32,
  dy: f32,
  gain: f32,
  offset: f32,
  scale: f32,
): f32 {
  const left = f32x4.splat(x)
  const top = f32x4.splat(y)
  const alongX = f32x4.splat(dx)
  const alongY = f32x4.splat(dy)
  const columns = i32x4.splat(width)
  const rows = i32x4.splat(height)
  const one4 = f32x4.splat(1)
  const two = f32x4.splat(2)
  const plane = count << 2
  let sum = f32x4.splat(0)
  let told = f32x4.splat(0)
  for (let i: usize = 0; i < plane; i += 16) {
    const place = places + i
    const along = v128.load(place)
    const across = v128.load(place + plane)
    const ix = wholes4(
      f32x4.floor(f32x4.sub(f32x4.add(left, f32x4.mul(alongX, along)), f32x4.mul(alongY, across))),
    )
    const iy = wholes4(
      f32x4.floor(f32x4.add(f32x4.add(top, f32x4.mul(alongY, along)), f32x4.mul(alongX, across))),
    )
    const inView = v128.and(i32x4.lt_u(ix, columns), i32x4.lt_u(iy, rows))
    if (!v128.any_true(inView)) continue
    // What lies beyond the view is read as its first pixel, and not counted.
    const at = v128.and(inView, i32x4.shl(i32x4.add(i32x4.mul(iy, columns), ix), 3))
    let here = v128.load32_zero(view + <usize>i32x4.extract_lane(at, 0))
    here = v128.load32_lane(view + <usize>i32x4.extract_lane(at, 1), here, 1)
    here = v128.load32_lane(view + <usize>i32x4.extract_lane(at, 2), here, 2)
    here = v128.load32_lane(view + <usize>i32x4.extract_lane(at, 3), here, 3)
    const bright = f32x4.add(f32x4.mul(v128.load(place + 2 * plane), f32x4.splat(gain)), f32x4.splat(offset))
    const oy = f32x4.sub(bytes4(here, 0), bright)
    const ou = f32x4.sub(bytes4(here, 8), v128.load(place + 3 * plane))
    const ov = f32x4.sub(bytes4(here, 16), v128.load(place + 4 * plane))
    const tells = v128.and(inView, v128.load(place + 5 * plane))
    const far = f32x4.add(f32x4.mul(oy, oy), f32x4.mul(two, f32x4.add(f32x4.mul(ou, ou), f32x4.mul(ov, ov))))
    sum = f32x4.add(sum, f32x4.div(tells, f32x4.add(one4, f32x4.mul(far, f32x4.splat(scale)))))
    told = f32x4.add(told, tells)
  }
  const all = sum4(told)
  return all < 8 ? -1 : sum4(sum) / all
}
