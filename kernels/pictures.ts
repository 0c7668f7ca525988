// Rows of RGBA pixels in linear light.

import { whole, wholes4 } from './lanes'

/** out = (a + d) / 8 + 3 (b + c) / 8: a row of cells from four rows. */
export function foldRows(a: usize, b: usize, c: usize, d: usize, out: usize, count: i32): void {
  const eighth = f32x4.splat(0.125)
  const rest = f32x4.splat(0.375)
  for (let i: i32 = 0; i < count; i += 4) {
    const ends = f32x4.mul(f32x4.add(v128.load(a), v128.load(d)), eighth)
    v128.store(out, f32x4.add(ends, f32x4.mul(f32x4.add(v128.load(b), v128.load(c)), rest)))
    a += 16
    b += 16
    c += 16
    d += 16
    out += 16
  }
}

/** The same of four pixels of a row; the next cell lies two pixels on. */
export function foldPixels(line: usize, out: usize, count: i32): void {
  const eighth = f32x4.splat(0.125)
  const rest = f32x4.splat(0.375)
  for (let i: i32 = 0; i < count; i++) {
    const ends = f32x4.mul(f32x4.add(v128.load(line), v128.load(line, 48)), eighth)
    v128.store(out, f32x4.add(ends, f32x4.mul(f32x4.add(v128.load(line, 16), v128.load(line, 32)), rest)))
    line += 32
    out += 16
  }
}

export function spreadPixels(line: usize, out: usize, pairs: i32): void {
  const quarter = f32x4.splat(0.25)
  let a = v128.load(line)
  for (let i: i32 = 0; i < pairs; i++) {
    line += 16
    const b = v128.load(line)
    const d = f32x4.mul(f32x4.sub(b, a), quarter)
    v128.store(out, f32x4.add(a, d))
    v128.store(out, f32x4.sub(b, d), 16)
    a = b
    out += 32
  }
}

// @ts-ignore: decorator
@inline
function within(i: i32, n: i32, edge: i32): i32 {
  if (i >= 0 && i < n) return i
  if (edge == 0) return i < 0 ? 0 : n - 1
  if (edge == 1) {
    i = i % n
    return i < 0 ? i + n : i
  }
  i = i % (2 * n)
  if (i < 0) i += 2 * n
  return i < n ? i : 2 * n - 1 - i
}

function sampleAt(source: usize, width: i32, height: i32, px: f32, py: f32, edge: i32): v128 {
  const x = px - 0.5
  const y = py - 0.5
  const fx = floor<f32>(x)
  const fy = floor<f32>(y)
  const x0 = whole(fx)
  const y0 = whole(fy)
  const u = f32x4.splat(x - fx)
  const v = f32x4.splat(y - fy)
  let a: v128
  let b: v128
  let c: v128
  let d: v128
  if (x0 >= 0 && y0 >= 0 && x0 + 1 < width && y0 + 1 < height) {
    const p = source + (<usize>(y0 * width + x0) << 4)
    const q = p + (<usize>width << 4)
    a = v128.load(p)
    b = v128.load(p, 16)
    c = v128.load(q)
    d = v128.load(q, 16)
  } else if (edge == 3) {
    const none = f32x4.splat(0)
    const l = x0 >= 0 && x0 < width
    const r = x0 + 1 >= 0 && x0 + 1 < width
    const t = y0 >= 0 && y0 < height
    const m = y0 + 1 >= 0 && y0 + 1 < height
    const p = source + (<usize>(y0 * width + x0) << 4)
    const q = p + (<usize>width << 4)
    a = l && t ? v128.load(p) : none
    b = r && t ? v128.load(p, 16) : none
    c = l && m ? v128.load(q) : none
    d = r && m ? v128.load(q, 16) : none
  } else {
    const l = within(x0, width, edge)
    const r = within(x0 + 1, width, edge)
    const t = within(y0, height, edge) * width
    const m = within(y0 + 1, height, edge) * width
    a = v128.load(source + (<usize>(t + l) << 4))
    b = v128.load(source + (<usize>(t + r) << 4))
    c = v128.load(source + (<usize>(m + l) << 4))
    d = v128.load(source + (<usize>(m + r) << 4))
  }
  const top = f32x4.add(a, f32x4.mul(f32x4.sub(b, a), u))
  const low = f32x4.add(c, f32x4.mul(f32x4.sub(d, c), u))
  return f32x4.add(top, f32x4.mul(f32x4.sub(low, top), v))
}

// @ts-ignore: decorator
@inline
function modulo(i: i32, n: i32): i32 {
  const rest = i % n
  return rest < 0 ? rest + n : rest
}

/** A row that is shifted as a whole: every sample is the same mix of four pixels, read one after the other up to the picture's edge. */
function shiftedRow(source: usize, width: i32, height: i32, x: f32, y: f32, edge: i32, out: usize, count: i32): void {
  const fx = floor<f32>(x - 0.5)
  const fy = floor<f32>(y - 0.5)
  const x0 = whole(fx)
  const y0 = whole(fy)
  const right: f32 = x - 0.5 - fx
  const below: f32 = y - 0.5 - fy
  const u = f32x4.splat(right)
  const v = f32x4.splat(below)
  const inside = edge != 3 || (y0 >= 0 && y0 + 1 < height)
  const top = source + (<usize>(inside ? within(y0, height, edge) * width : 0) << 4)
  const low = source + (<usize>(inside ? within(y0 + 1, height, edge) * width : 0) << 4)
  let i: i32 = 0
  while (i < count) {
    let at = x0 + i
    let way: i32 = 1
    if (edge == 1) at = modulo(at, width)
    else if (edge == 2) {
      at = modulo(at, 2 * width)
      if (at >= width) {
        at = 2 * width - 1 - at
        way = -1
      }
    }
    let run: i32 = 0
    if (inside && at >= 0 && at < width) run = min(count - i, way > 0 ? width - 1 - at : at)
    if (run <= 0) {
      v128.store(out, sampleAt(source, width, height, x + <f32>i, y, edge))
      out += 16
      i++
      continue
    }
    i += run
    const step = way > 0 ? 16 : -16
    let p = top + (<usize>at << 4)
    if (below == 0) {
      if (right == 0) {
        for (; run > 0; run--, p += step, out += 16) v128.store(out, v128.load(p))
        continue
      }
      let a = v128.load(p)
      for (; run > 0; run--, out += 16) {
        p += step
        const b = v128.load(p)
        v128.store(out, f32x4.add(a, f32x4.mul(f32x4.sub(b, a), u)))
        a = b
      }
      continue
    }
    let q = low + (<usize>at << 4)
    const first = v128.load(p)
    let a = f32x4.add(first, f32x4.mul(f32x4.sub(v128.load(q), first), v))
    for (; run > 0; run--, out += 16) {
      p += step
      q += step
      const above = v128.load(p)
      const b = f32x4.add(above, f32x4.mul(f32x4.sub(v128.load(q), above), v))
      v128.store(out, f32x4.add(a, f32x4.mul(f32x4.sub(b, a), u)))
      a = b
    }
  }
}

// @ts-ignore: decorator
@inline
function mixAt(p: usize, row: usize, u: v128, v: v128): v128 {
  const a = v128.load(p)
  const c = v128.load(p + row)
  const top = f32x4.add(a, f32x4.mul(f32x4.sub(v128.load(p, 16), a), u))
  const low = f32x4.add(c, f32x4.mul(f32x4.sub(v128.load(p + row, 16), c), u))
  return f32x4.add(top, f32x4.mul(f32x4.sub(low, top), v))
}

/** Four samples at once: their places are found together, and looked at one by one only where one of them lies at the rim. */
// @ts-ignore: decorator
@inline
function sampleFour(source: usize, width: i32, height: i32, px: v128, py: v128, edge: i32, out: usize): void {
  const half = f32x4.splat(0.5)
  const x = f32x4.sub(px, half)
  const y = f32x4.sub(py, half)
  const fx = f32x4.floor(x)
  const fy = f32x4.floor(y)
  const none = f32x4.splat(0)
  const across = v128.and(f32x4.ge(fx, none), f32x4.lt(fx, f32x4.splat(<f32>(width - 1))))
  const down = v128.and(f32x4.ge(fy, none), f32x4.lt(fy, f32x4.splat(<f32>(height - 1))))
  if (i32x4.all_true(v128.and(across, down))) {
    const at = i32x4.shl(i32x4.add(i32x4.mul(wholes4(fy), i32x4.splat(width)), wholes4(fx)), 4)
    const u = f32x4.sub(x, fx)
    const v = f32x4.sub(y, fy)
    const row = <usize>width << 4
    const p = source + <usize>i32x4.extract_lane(at, 0)
    const q = source + <usize>i32x4.extract_lane(at, 1)
    const r = source + <usize>i32x4.extract_lane(at, 2)
    const s = source + <usize>i32x4.extract_lane(at, 3)
    v128.store(out, mixAt(p, row, v128.shuffle<f32>(u, u, 0, 0, 0, 0), v128.shuffle<f32>(v, v, 0, 0, 0, 0)))
    v128.store(out, mixAt(q, row, v128.shuffle<f32>(u, u, 1, 1, 1, 1), v128.shuffle<f32>(v, v, 1, 1, 1, 1)), 16)
    v128.store(out, mixAt(r, row, v128.shuffle<f32>(u, u, 2, 2, 2, 2), v128.shuffle<f32>(v, v, 2, 2, 2, 2)), 32)
    v128.store(out, mixAt(s, row, v128.shuffle<f32>(u, u, 3, 3, 3, 3), v128.shuffle<f32>(v, v, 3, 3, 3, 3)), 48)
    return
  }
  rimFour(source, width, height, px, py, edge, out)
}

function rimFour(source: usize, width: i32, height: i32, px: v128, py: v128, edge: i32, out: usize): void {
  v128.store(out, sampleAt(source, width, height, f32x4.extract_lane(px, 0), f32x4.extract_lane(py, 0), edge))
  v128.store(out, sampleAt(source, width, height, f32x4.extract_lane(px, 1), f32x4.extract_lane(py, 1), edge), 16)
  v128.store(out, sampleAt(source, width, height, f32x4.extract_lane(px, 2), f32x4.extract_lane(py, 2), edge), 32)
  v128.store(out, sampleAt(source, width, height, f32x4.extract_lane(px, 3), f32x4.extract_lane(py, 3), edge), 48)
}

/** Samples at the places `k` to `end` of a line from (x, y) on by (dx, dy); gives where the next one goes. */
// @ts-ignore: decorator
@inline
function sampleRun(
  source: usize, width: i32, height: i32, x: f32, y: f32, dx: f32, dy: f32, k: i32, end: i32, edge: i32, out: usize,
): usize {
  for (; k + 4 <= end; k += 4) {
    const n = f32x4.add(f32x4.splat(<f32>k), f32x4(0, 1, 2, 3))
    const px = f32x4.add(f32x4.splat(x), f32x4.mul(f32x4.splat(dx), n))
    const py = f32x4.add(f32x4.splat(y), f32x4.mul(f32x4.splat(dy), n))
    sampleFour(source, width, height, px, py, edge, out)
    out += 64
  }
  for (; k < end; k++) {
    v128.store(out, sampleAt(source, width, height, x + dx * <f32>k, y + dy * <f32>k, edge))
    out += 16
  }
  return out
}

/** Bilinear samples of an RGBA picture at places on a line, from (x, y) on by (dx, dy); edge 0 stretched, 1 repeated, 2 mirrored, 3 nothing. */
export function sampleLine(
  source: usize, width: i32, height: i32, x: f32, y: f32, dx: f32, dy: f32, edge: i32, out: usize, count: i32,
): void {
  if (dx == 1 && dy == 0) return shiftedRow(source, width, height, x, y, edge, out, count)
  sampleRun(source, width, height, x, y, dx, dy, 0, count, edge, out)
}

/** The same at places between `nodes` (x, y pairs), `step` pixels apart, beginning `offset` pixels after the first. */
export function sampleMesh(
  source: usize, width: i32, height: i32, nodes: usize, step: i32, offset: i32, edge: i32, out: usize, count: i32,
): void {
  const share: f32 = 1 / <f32>step
  let i: i32 = 0
  let k: i32 = offset
  while (i < count) {
    // From one node to the next.
    const x = load<f32>(nodes)
    const y = load<f32>(nodes, 4)
    const dx = (load<f32>(nodes, 8) - x) * share
    const dy = (load<f32>(nodes, 12) - y) * share
    const end = min(step, k + count - i)
    i += end - k
    out = sampleRun(source, width, height, x, y, dx, dy, k, end, edge, out)
    k = 0
    nodes += 8
  }
}

/** to += from * (r, g, b, a), per RGBA pixel. */
export function addTinted(from: usize, to: usize, count: i32, r: f32, g: f32, b: f32, a: f32): void {
  const tint = f32x4(r, g, b, a)
  for (let i: i32 = 0; i < count; i++) {
    v128.store(to, f32x4.add(v128.load(to), f32x4.mul(v128.load(from), tint)))
    from += 16
    to += 16
  }
}

/** Lays RGBA pixels on: to = to * (1 - keep * a) + from * s, s = share times the mask's value, a the source's alpha times s. */
export function layRow(from: usize, to: usize, count: i32, share: f32, mask: usize, over: i32): void {
  const one = f32x4.splat(1)
  for (let i: i32 = 0; i < count; i++) {
    let s = share
    if (mask) {
      s *= load<f32>(mask)
      mask += 4
    }
    if (s != 0) {
      const source = f32x4.mul(v128.load(from), f32x4.splat(s))
      if (over) {
        const left: f32 = 1 - f32x4.extract_lane(source, 3)
        // What covers all needs nothing of what is behind.
        if (left == 0) v128.store(to, source)
        else v128.store(to, f32x4.add(f32x4.mul(v128.load(to), f32x4.splat(left)), source))
      } else {
        const sum = f32x4.add(v128.load(to), source)
        v128.store(to, f32x4.replace_lane(sum, 3, min<f32>(f32x4.extract_lane(sum, 3), 1)))
      }
    }
    from += 16
    to += 16
  }
}

/** Running sums of RGBA pixels along a row: out[i + 1] = out[i] + line[i], out[0] = 0. */
export function sumPixels(line: usize, out: usize, count: i32): void {
  let sum = f32x4.splat(0)
  v128.store(out, sum)
  for (let i: i32 = 0; i < count; i++) {
    sum = f32x4.add(sum, v128.load(line))
    out += 16
    v128.store(out, sum)
    line += 16
  }
}

/** out[i] += (sums[i + span] - sums[i]) * share, per RGBA pixel. */
export function addSpans(sums: usize, span: i32, out: usize, count: i32, share: f32): void {
  const s = f32x4.splat(share)
  const ahead = sums + (<usize>span << 4)
  for (let i: usize = 0; i < <usize>count << 4; i += 16) {
    const difference = f32x4.sub(v128.load(ahead + i), v128.load(sums + i))
    v128.store(out + i, f32x4.add(v128.load(out + i), f32x4.mul(difference, s)))
  }
}

/** Puts the words of every column in order, the least first: bubbles of 8 columns at once. `width`: a multiple of 8. */
export function sortColumns(data: usize, rows: i32, width: usize): void {
  const row = width << 1
  for (let x: usize = 0; x < row; x += 16) {
    for (let last: i32 = rows - 1; last > 0; last--) {
      let at = data + x
      let most = v128.load(at)
      for (let k: i32 = 0; k < last; k++) {
        const next = v128.load(at + row)
        v128.store(at, i16x8.min_u(most, next))
        most = i16x8.max_u(most, next)
        at += row
      }
      v128.store(at, most)
    }
  }
}

/** RGBA pixels towards one colour by how much of them is left, with the rim's light where some is: 4 left (1 - left) of it. */
export function burnPixels(
  left: usize,
  to: usize,
  count: i32,
  red: f32,
  green: f32,
  blue: f32,
  alpha: f32,
  rimRed: f32,
  rimGreen: f32,
  rimBlue: f32,
): void {
  const colour = f32x4(red, green, blue, alpha)
  const rim = f32x4(rimRed, rimGreen, rimBlue, 0)
  for (let i: i32 = 0; i < count; i++, to += 16, left += 4) {
    const share = load<f32>(left)
    if (share == 1) continue
    const before = v128.load(to)
    const mixed = f32x4.add(colour, f32x4.mul(f32x4.sub(before, colour), f32x4.splat(share)))
    v128.store(to, f32x4.add(mixed, f32x4.mul(rim, f32x4.splat(4 * share * (1 - share)))))
  }
}

/**
 * What pixels know of what stands behind somebody: themselves, less `behind` (0 for none), with alpha 1; nothing where they are
 * `hidden` by more than `seen`, or further off from what is behind than (red, green, blue), or that does not know the place.
 * Returns 1 where any are hidden, plus 2 where any are known, plus 4 where something hidden is clear.
 */
export function knownPixels(
  data: usize,
  behind: usize,
  hidden: usize,
  seen: f32,
  red: f32,
  green: f32,
  blue: f32,
  out: usize,
  count: i32,
): i32 {
  const none = f32x4.splat(0)
  const far = f32x4(red, green, blue, 1e30)
  let said: i32 = 0
  for (let i: i32 = 0; i < count; i++) {
    const pixel = v128.load(data)
    let known = none
    if (load<f32>(hidden) > seen) {
      said |= 1
      if (f32x4.extract_lane(pixel, 3) < 0.999) said |= 4
    } else if (behind) {
      const there = v128.load(behind)
      const off = f32x4.sub(pixel, there)
      if (f32x4.extract_lane(there, 3) > 0.99 && !v128.any_true(f32x4.gt(f32x4.abs(off), far))) {
        known = f32x4.replace_lane(off, 3, 1)
        said |= 2
      }
    } else {
      known = f32x4.replace_lane(pixel, 3, 1)
      said |= 2
    }
    v128.store(out, known)
    data += 16
    hidden += 4
    out += 16
    if (behind) behind += 16
  }
  return said
}

/**
 * Adds to RGBA pixels what it changes in others, `under`, that a layer is laid on those with Normal, each at its
 * mask's share of `opacity`.
 */
export function changeRow(layer: usize, under: usize, to: usize, count: i32, opacity: f32, mask: usize): void {
  for (let i: i32 = 0; i < count; i++) {
    let s = opacity
    if (mask) {
      s *= load<f32>(mask)
      mask += 4
    }
    if (s != 0) {
      const laid = v128.load(layer)
      const kept = f32x4.mul(v128.load(under), f32x4.splat(f32x4.extract_lane(laid, 3)))
      const sum = f32x4.add(v128.load(to), f32x4.mul(f32x4.sub(laid, kept), f32x4.splat(s)))
      v128.store(to, f32x4.replace_lane(sum, 3, min<f32>(f32x4.extract_lane(sum, 3), 1)))
    }
    layer += 16
    under += 16
    to += 16
  }
}

/**
 * The frame where an effect is to reach over those in front, pixel by pixel: there less of them is left than their matte, `cover`, says.
 * `change`: what the effect changes behind them; `wide` (0 for everywhere): where it works.
 */
export function changeOver(front: usize, behind: usize, change: usize, wide: usize, cover: usize, count: i32): void {
  const none = f32x4.splat(0)
  for (let i: i32 = 0; i < count; i++) {
    let share: f32 = 1
    if (wide) {
      share = load<f32>(wide)
      wide += 4
    }
    const own = load<f32>(cover)
    const shown = v128.load(front)
    const changed = f32x4.mul(f32x4.splat(share), v128.load(change))
    let out = f32x4.add(shown, changed)
    if (share > 1 - own + <f32>1e-4) {
      const was = v128.load(behind)
      const left = f32x4.sub(shown, f32x4.mul(f32x4.splat(1 - own), was))
      const rest = f32x4.add(f32x4.mul(f32x4.splat(share), was), changed)
      out = f32x4.add(f32x4.mul(f32x4.splat((1 - share) / own), left), rest)
    }
    // What was above nothing stays so.
    const kept = v128.or(f32x4.ge(out, none), f32x4.lt(shown, none))
    v128.store(front, v128.and(out, kept))
    front += 16
    behind += 16
    change += 16
    cover += 4
  }
}

/** RGB of RGBA pixels times a matrix, its columns `r`, `g` and `b`; nothing less than 0. Alpha stays. */
export function mixChannels(
  data: usize, count: i32, rr: f32, gr: f32, br: f32, rg: f32, gg: f32, bg: f32, rb: f32, gb: f32, bb: f32,
): void {
  const none = f32x4.splat(0)
  const r = f32x4(rr, gr, br, 0)
  const g = f32x4(rg, gg, bg, 0)
  const b = f32x4(rb, gb, bb, 0)
  for (let i: i32 = 0; i < count; i++) {
    const own = v128.load(data)
    const red = f32x4.mul(v128.shuffle<f32>(own, own, 0, 0, 0, 0), r)
    const green = f32x4.mul(v128.shuffle<f32>(own, own, 1, 1, 1, 1), g)
    const blue = f32x4.mul(v128.shuffle<f32>(own, own, 2, 2, 2, 2), b)
    const sum = f32x4.pmax(none, f32x4.add(f32x4.add(red, green), blue))
    v128.store(data, f32x4.replace_lane(sum, 3, f32x4.extract_lane(own, 3)))
    data += 16
  }
}
