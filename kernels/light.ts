// Light of halos, and light on pictures.

import { phi4, whole, wholes4 } from './lanes'

export function mixLines(a: usize, b: usize, weight: f32, out: usize, count: i32): void {
  const w = f32x4.splat(weight)
  let i: i32 = 0
  for (; i + 4 <= count; i += 4) {
    const top = v128.load(a)
    v128.store(out, f32x4.add(top, f32x4.mul(f32x4.sub(v128.load(b), top), w)))
    a += 16
    b += 16
    out += 16
  }
  for (; i < count; i++) {
    const top = load<f32>(a)
    store<f32>(out, top + (load<f32>(b) - top) * weight)
    a += 4
    b += 4
    out += 4
  }
}

/** The fourth lane of each store spills onto the next pixel, which is written after it; the line has room at its end. */
export function enlargeLine(line: usize, out: usize, pairs: i32): void {
  const quarter = f32x4.splat(0.25)
  const rest = f32x4.splat(0.75)
  for (let i = 0; i < pairs; i++) {
    const a = v128.load(line)
    const d = f32x4.sub(v128.load(line, 12), a)
    v128.store(out, f32x4.add(a, f32x4.mul(d, quarter)))
    v128.store(out, f32x4.add(a, f32x4.mul(d, rest)), 12)
    line += 12
    out += 24
  }
}

/** The same, added to what is there; the fourth lane adds nothing. */
export function addEnlargedLine(line: usize, out: usize, pairs: i32): void {
  const quarter = f32x4.splat(0.25)
  const rest = f32x4.splat(0.75)
  const keep = i32x4(-1, -1, -1, 0)
  for (let i = 0; i < pairs; i++) {
    const a = v128.load(line)
    const d = f32x4.sub(v128.load(line, 12), a)
    v128.store(out, f32x4.add(v128.load(out), v128.and(f32x4.add(a, f32x4.mul(d, quarter)), keep)))
    v128.store(out, f32x4.add(v128.load(out, 12), v128.and(f32x4.add(a, f32x4.mul(d, rest)), keep)), 12)
    line += 12
    out += 24
  }
}

/** line (RGB) *= 1 - hidden * share, per pixel. */
export function hideLine(line: usize, hidden: usize, share: f32, count: i32): void {
  for (let i = 0; i < count; i++) {
    const h = load<f32>(hidden)
    if (h != 0) {
      const left: f32 = 1 - h * share
      store<f32>(line, load<f32>(line) * left)
      store<f32>(line, load<f32>(line, 4) * left, 4)
      store<f32>(line, load<f32>(line, 8) * left, 8)
    }
    hidden += 4
    line += 12
  }
}

export function addLine(line: usize, data: usize, count: i32): void {
  const keep = i32x4(-1, -1, -1, 0)
  for (let i = 0; i < count; i++) {
    v128.store(data, f32x4.add(v128.load(data), v128.and(v128.load(line), keep)))
    line += 12
    data += 16
  }
}

/** Screen: behind + light (1 - behind), light cut at 1, a picture beyond 1 left alone. */
export function screenLine(line: usize, data: usize, count: i32): void {
  const one = f32x4.splat(1)
  const none = f32x4.splat(0)
  const keep = i32x4(-1, -1, -1, 0)
  for (let i = 0; i < count; i++) {
    const behind = v128.load(data)
    const light = v128.and(f32x4.pmin(one, v128.load(line)), keep)
    const room = f32x4.pmax(none, f32x4.sub(one, behind))
    v128.store(data, f32x4.add(behind, f32x4.mul(light, room)))
    line += 12
    data += 16
  }
}

/** halos: per halo sigma and its light R, G, B with the peak in it. Four pixels at a time; a short end adds zeros. */
export function nearRow(
  near: usize, count: i32, x: f32, y: f32, ux: f32, uy: f32, length: f32, half: f32, taper: f32, round: f32, edge: f32,
  cr: f32, cg: f32, cb: f32, halos: usize, haloCount: i32,
): void {
  const zero = f32x4.splat(0)
  const one = f32x4.splat(1)
  const end = f32x4.splat(length)
  const thin = f32x4.splat(taper / length)
  const sharp = f32x4.splat(-1 / edge)
  const widest = f32x4.splat(half)
  const rounds = f32x4.splat(round)
  const flat = f32x4.splat(1 - round)
  for (let i = 0; i < count; i += 4) {
    const px = f32x4.add(f32x4.splat(x + <f32>i), f32x4(0, 1, 2, 3))
    const u = f32x4.add(f32x4.mul(px, f32x4.splat(ux)), f32x4.splat(y * uy))
    const v = f32x4.abs(f32x4.sub(f32x4.splat(y * ux), f32x4.mul(px, f32x4.splat(uy))))
    const along = f32x4.pmin(end, f32x4.pmax(zero, u))
    const h = f32x4.mul(widest, f32x4.sub(one, f32x4.mul(thin, along)))
    const beyond = f32x4.sub(u, along)
    const rounded = f32x4.sub(f32x4.sqrt(f32x4.add(f32x4.mul(beyond, beyond), f32x4.mul(v, v))), h)
    const cut = f32x4.pmax(beyond, f32x4.sub(v, h))
    const mixed = f32x4.add(f32x4.mul(rounds, rounded), f32x4.mul(flat, cut))
    const distance = v128.bitselect(mixed, rounded, f32x4.gt(beyond, zero))
    const core = phi4(f32x4.mul(distance, sharp))
    let r = f32x4.mul(core, f32x4.splat(cr))
    let g = f32x4.mul(core, f32x4.splat(cg))
    let b = f32x4.mul(core, f32x4.splat(cb))
    for (let k = 0; k < haloCount; k++) {
      const halo = halos + (<usize>k << 4)
      const sigma = load<f32>(halo)
      const reach = f32x4.splat(sigma * 4)
      const inside = f32x4.le(v, f32x4.add(h, reach))
      if (!v128.any_true(inside)) continue
      const scale = f32x4.splat(1 / sigma)
      // The far edge is out of sight of most pixels: its share is 1 then.
      const far = f32x4.mul(f32x4.add(v, h), scale)
      const farShare = i32x4.all_true(f32x4.ge(far, f32x4.splat(4))) ? one : phi4(far)
      let amount = f32x4.sub(farShare, phi4(f32x4.mul(f32x4.sub(v, h), scale)))
      const middle = v128.and(f32x4.gt(u, reach), f32x4.lt(u, f32x4.sub(end, reach)))
      if (!i32x4.all_true(middle)) {
        const lengthwise = f32x4.sub(phi4(f32x4.mul(u, scale)), phi4(f32x4.mul(f32x4.sub(u, end), scale)))
        amount = f32x4.mul(amount, v128.bitselect(one, lengthwise, middle))
      }
      amount = v128.and(amount, inside)
      r = f32x4.add(r, f32x4.mul(amount, f32x4.splat(load<f32>(halo, 4))))
      g = f32x4.add(g, f32x4.mul(amount, f32x4.splat(load<f32>(halo, 8))))
      b = f32x4.add(b, f32x4.mul(amount, f32x4.splat(load<f32>(halo, 12))))
    }
    if (i + 4 > count) {
      const there = i32x4.gt_s(i32x4.splat(count - i), i32x4(0, 1, 2, 3))
      r = v128.and(r, there)
      g = v128.and(g, there)
      b = v128.and(b, there)
    }
    const rg = v128.shuffle<i32>(r, g, 0, 4, 1, 5)
    const gb = v128.shuffle<i32>(g, b, 1, 5, 2, 6)
    const br = v128.shuffle<i32>(b, r, 2, 7, 3, 3)
    v128.store(near, f32x4.add(v128.load(near), v128.shuffle<i32>(rg, b, 0, 1, 4, 2)))
    v128.store(near, f32x4.add(v128.load(near, 16), v128.shuffle<i32>(gb, r, 0, 1, 6, 2)), 16)
    v128.store(near, f32x4.add(v128.load(near, 32), v128.shuffle<i32>(br, g, 0, 1, 7, 2)), 32)
    near += 48
  }
}

/** v and u run in table steps per cell. */
export function farRow(
  data: usize, count: i32, v: f32, vStep: f32, u: f32, uStep: f32, across: usize, along: usize, steps: f32, r: f32, g: f32, b: f32,
): void {
  const uEnd: f32 = steps * 2
  for (let i = 0; i < count; i++) {
    // From the first value, not by adding up: the error does not pile up along the row.
    const vi = abs<f32>(v + vStep * <f32>i)
    const ui = u + uStep * <f32>i
    if (vi < steps && ui >= 0 && ui < uEnd) {
      const vn = <i32>vi
      const un = <i32>ui
      const p = across + (<usize>vn << 2)
      const q = along + (<usize>un << 2)
      const a = load<f32>(p)
      const c = load<f32>(q)
      const amount = (a + (load<f32>(p, 4) - a) * (vi - <f32>vn)) * (c + (load<f32>(q, 4) - c) * (ui - <f32>un))
      store<f32>(data, load<f32>(data) + amount * r)
      store<f32>(data, load<f32>(data, 4) + amount * g, 4)
      store<f32>(data, load<f32>(data, 8) + amount * b, 8)
    }
    data += 12
  }
}

/** Light that falls on RGBA pixels, straight between `nodes` a `step` of pixels apart: each takes it by its own colour, and by `table` at its luminance. */
export function litRow(
  nodes: usize, step: i32, out: usize, count: i32, r: f32, g: f32, b: f32, table: usize, tones: i32, root: i32,
): void {
  const tint = f32x4(r, g, b, 0)
  const weights = f32x4(0.2126, 0.7152, 0.0722, 0)
  const one = f32x4.splat(1)
  const none = f32x4.splat(0)
  const scale = f32x4.splat(<f32>tones)
  const share: f32 = 1 / <f32>step
  let value = load<f32>(nodes)
  let rise = (load<f32>(nodes, 4) - value) * share
  let k: i32 = 0
  for (let i: i32 = 0; i < count; i++) {
    if (value >= 0.002) {
      const pixel = v128.load(out)
      const w = f32x4.mul(pixel, weights)
      const sum = f32x4.add(f32x4.add(w, v128.shuffle<i32>(w, w, 1, 1, 1, 1)), v128.shuffle<i32>(w, w, 2, 2, 2, 2))
      const light = f32x4.pmin(one, f32x4.pmax(none, sum))
      const tone = f32x4.floor(f32x4.mul(root ? f32x4.sqrt(light) : light, scale))
      const own = v128.load32_splat(table + (<usize>whole(f32x4.extract_lane(tone, 0)) << 2))
      const fallen = f32x4.mul(f32x4.mul(tint, f32x4.splat(value)), f32x4.add(pixel, own))
      v128.store(out, f32x4.add(pixel, fallen))
    }
    out += 16
    value += rise
    if (++k == step) {
      k = 0
      nodes += 4
      value = load<f32>(nodes)
      rise = (load<f32>(nodes, 4) - value) * share
    }
  }
}

/** Lays RGBA pixels on with Screen, cut to 1, each at s = share times the mask's value: b + s from (1 - b) where b < 1; alpha as Normal. */
export function screenRow(from: usize, to: usize, count: i32, share: f32, mask: usize): void {
  const none = f32x4.splat(0)
  const one = f32x4.splat(1)
  for (let i: i32 = 0; i < count; i++) {
    let s = share
    if (mask) {
      s *= load<f32>(mask)
      mask += 4
    }
    const light = f32x4.pmin(one, f32x4.pmax(none, f32x4.mul(v128.load(from), f32x4.splat(s))))
    const behind = v128.load(to)
    v128.store(to, f32x4.add(behind, f32x4.mul(light, f32x4.pmax(none, f32x4.sub(one, behind)))))
    from += 16
    to += 16
  }
}

/**
 * Draws RGBA pixels towards the mean of their four neighbours, one after the other, there or back: `unknown` are the first of
 * their numbers, 1 more for those at the rim, which stand in for the neighbours that they lack. Alpha stays.
 */
export function relaxPixels(data: usize, width: i32, height: i32, unknown: usize, count: i32, back: i32): void {
  const row = width << 2
  const last = row * (height - 1)
  const quarter = f32x4.splat(0.25)
  for (let k: i32 = 0; k < count; k++) {
    const told = load<i32>(unknown + (<usize>(back ? count - 1 - k : k) << 2))
    const i = told & ~1
    let up = i - row
    let down = i + row
    let left = i - 4
    let right = i + 4
    if (told & 1) {
      const x = i % row
      if (i < row) up = i
      if (i >= last) down = i
      if (!x) left = i
      if (x >= row - 4) right = i
    }
    const at = data + (<usize>i << 2)
    const upright = f32x4.add(v128.load(data + (<usize>up << 2)), v128.load(data + (<usize>down << 2)))
    const across = f32x4.add(v128.load(data + (<usize>left << 2)), v128.load(data + (<usize>right << 2)))
    const mean = f32x4.mul(f32x4.add(upright, across), quarter)
    v128.store(at, f32x4.replace_lane(mean, 3, load<f32>(at, 12)))
  }
}

/** out += gain * a line of RGBA cells, straight between their middles, from place x on by dx; nothing lies beyond it. */
export function addStretched(line: usize, cells: i32, x: f32, dx: f32, out: usize, count: i32, gain: f32): void {
  const none = f32x4.splat(0)
  const by = f32x4.splat(gain)
  for (let i: i32 = 0; i < count; i++) {
    const place = x + dx * <f32>i - 0.5
    const left = floor<f32>(place)
    const k = whole(left)
    const at = line + (<usize>k << 4)
    const a = k >= 0 && k < cells ? v128.load(at) : none
    const b = k >= -1 && k + 1 < cells ? v128.load(at, 16) : none
    const between = f32x4.add(a, f32x4.mul(f32x4.sub(b, a), f32x4.splat(place - left)))
    v128.store(out, f32x4.add(v128.load(out), f32x4.mul(between, by)))
    out += 16
  }
}

/** Premultiplied RGBA pixels in another light: each colour times its gain, plus its offset. */
export function relightPixels(
  data: usize,
  count: i32,
  red: f32,
  green: f32,
  blue: f32,
  redOff: f32,
  greenOff: f32,
  blueOff: f32,
): void {
  const gain = f32x4(red, green, blue, 1)
  const offset = f32x4(redOff, greenOff, blueOff, 0)
  for (let i: i32 = 0; i < count; i++, data += 16) {
    const pixel = v128.load(data)
    const alpha = i8x16.shuffle(pixel, pixel, 12, 13, 14, 15, 12, 13, 14, 15, 12, 13, 14, 15, 12, 13, 14, 15)
    v128.store(data, f32x4.add(f32x4.mul(pixel, gain), f32x4.mul(alpha, offset)))
  }
}

/**
 * Direction of (x, y) in turns, -0.5 to 0.5: an odd polynomial of 9th order for the eighth of a turn (Abramowitz and Stegun, Handbook of
 * Mathematical Functions, 4.4.49: 1e-5 radians for the arc tangent).
 */
// @ts-ignore: decorator
@inline
function turn4(x: v128, y: v128): v128 {
  const none = f32x4.splat(0)
  const across = f32x4.abs(x)
  const down = f32x4.abs(y)
  const a = f32x4.div(f32x4.pmin(across, down), f32x4.pmax(f32x4.splat(<f32>1e-9), f32x4.pmax(across, down)))
  const s = f32x4.mul(a, a)
  let p = f32x4.add(f32x4.splat(<f32>-0.085133), f32x4.mul(s, f32x4.splat(<f32>0.0208351)))
  p = f32x4.add(f32x4.splat(<f32>0.180141), f32x4.mul(s, p))
  p = f32x4.add(f32x4.splat(<f32>-0.3302995), f32x4.mul(s, p))
  p = f32x4.add(f32x4.splat(<f32>0.999866), f32x4.mul(s, p))
  let turn = f32x4.mul(f32x4.mul(a, p), f32x4.splat(<f32>0.15915494309))
  turn = v128.bitselect(f32x4.sub(f32x4.splat(0.25), turn), turn, f32x4.gt(down, across))
  turn = v128.bitselect(f32x4.sub(f32x4.splat(0.5), turn), turn, f32x4.lt(x, none))
  return v128.bitselect(f32x4.neg(turn), turn, f32x4.lt(y, none))
}

/**
 * Light that streams from a point, onto RGB of RGBA pixels: `amounts` of it times what `table` says of the direction, in `steps` from
 * -0.5 to 0.5 turns, both ends in it. The first pixel lies (x, y) from the point. Less than 1e-4 is none.
 */
export function addStreaming(
  amounts: usize, x: f32, y: f32, table: usize, steps: i32, r: f32, g: f32, b: f32, out: usize, count: i32,
): void {
  const least = f32x4.splat(<f32>1e-4)
  const light = f32x4(r, g, b, 0)
  const dy = f32x4.splat(y)
  const places = f32x4.splat(<f32>steps)
  for (let i: i32 = 0; i < count; i += 4) {
    let amount = v128.load(amounts)
    amounts += 16
    if (i + 4 > count) {
      const left = f32x4.splat(<f32>(count - i))
      amount = v128.and(amount, f32x4.lt(f32x4(0, 1, 2, 3), left))
    }
    const seen = f32x4.ge(amount, least)
    if (v128.any_true(seen)) {
      const dx = f32x4.add(f32x4.splat(x + <f32>i), f32x4(0, 1, 2, 3))
      const at = f32x4.floor(f32x4.mul(f32x4.add(turn4(dx, dy), f32x4.splat(0.5)), places))
      const numbers = i32x4.shl(wholes4(at), 2)
      amount = v128.and(amount, seen)
      addAt(out, f32x4.extract_lane(amount, 0) * load<f32>(table + <usize>i32x4.extract_lane(numbers, 0)), light)
      addAt(out + 16, f32x4.extract_lane(amount, 1) * load<f32>(table + <usize>i32x4.extract_lane(numbers, 1)), light)
      addAt(out + 32, f32x4.extract_lane(amount, 2) * load<f32>(table + <usize>i32x4.extract_lane(numbers, 2)), light)
      addAt(out + 48, f32x4.extract_lane(amount, 3) * load<f32>(table + <usize>i32x4.extract_lane(numbers, 3)), light)
    }
    out += 64
  }
}

// @ts-ignore: decorator
@inline
function addAt(out: usize, share: f32, light: v128): void {
  if (share != 0) v128.store(out, f32x4.add(v128.load(out), f32x4.mul(f32x4.splat(share), light)))
}
