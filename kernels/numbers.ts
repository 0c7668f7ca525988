// Rows of plain numbers.

import { whole, wholes4 } from './lanes'

/** to += from. */
export function addNumbers(from: usize, to: usize, count: i32): void {
  let i: i32 = 0
  for (; i + 4 <= count; i += 4) {
    v128.store(to, f32x4.add(v128.load(to), v128.load(from)))
    from += 16
    to += 16
  }
  for (; i < count; i++) {
    store<f32>(to, load<f32>(to) + load<f32>(from))
    from += 4
    to += 4
  }
}

/** to += from, and from = 0. */
export function moveNumbers(from: usize, to: usize, count: i32): void {
  addNumbers(from, to, count)
  memory.fill(from, 0, <usize>count << 2)
}

/** out[i] = sum of weights[|k|] * from[i + k * step] for k from -reach to reach; `step` in bytes. */
export function weighRow(from: usize, step: isize, weights: usize, reach: i32, out: usize, count: i32): void {
  let i: i32 = 0
  for (; i + 8 <= count; i += 8) {
    const first = f32x4.splat(load<f32>(weights))
    let a = f32x4.mul(first, v128.load(from))
    let b = f32x4.mul(first, v128.load(from, 16))
    let above = from
    let below = from
    for (let k: i32 = 1; k <= reach; k++) {
      const w = f32x4.splat(load<f32>(weights + (<usize>k << 2)))
      above -= step
      below += step
      a = f32x4.add(a, f32x4.mul(w, f32x4.add(v128.load(above), v128.load(below))))
      b = f32x4.add(b, f32x4.mul(w, f32x4.add(v128.load(above, 16), v128.load(below, 16))))
    }
    v128.store(out, a)
    v128.store(out, b, 16)
    from += 32
    out += 32
  }
  for (; i < count; i++) {
    let sum = load<f32>(weights) * load<f32>(from)
    for (let k: i32 = 1; k <= reach; k++)
      sum += load<f32>(weights + (<usize>k << 2)) * (load<f32>(from - <usize>k * step) + load<f32>(from + <usize>k * step))
    store<f32>(out, sum)
    from += 4
    out += 4
  }
}

/** to += (from - to) * share. */
export function mixInto(from: usize, to: usize, count: i32, share: f32): void {
  const s = f32x4.splat(share)
  for (let i: i32 = 0; i < count; i += 4) {
    const behind = v128.load(to)
    v128.store(to, f32x4.add(behind, f32x4.mul(f32x4.sub(v128.load(from), behind), s)))
    from += 16
    to += 16
  }
}

/** Adds (or takes off) `share` of numbers: out += from * share. */
export function addScaled(from: usize, out: usize, count: i32, share: f32): void {
  const s = f32x4.splat(share)
  let i: i32 = 0
  for (; i + 4 <= count; i += 4) {
    v128.store(out, f32x4.add(v128.load(out), f32x4.mul(v128.load(from), s)))
    from += 16
    out += 16
  }
  for (; i < count; i++) {
    store<f32>(out, load<f32>(out) + load<f32>(from) * share)
    from += 4
    out += 4
  }
}

/**
 * Lays what hangs on the distance from a point alone over a row of RGBA pixels: `table` has it, premultiplied, at `steps` + 1
 * distances that lie 1 / `per` pixels apart, straight between them; its last holds on. (x, y): the first pixel from the point.
 */
export function layRound(table: usize, steps: i32, per: f32, x: f32, y: f32, to: usize, count: i32): void {
  const y2 = y * y
  const last = <f32>steps
  const one = f32x4.splat(1)
  for (let i: i32 = 0; i < count; i++, to += 16) {
    const dx = x + <f32>i
    const place = sqrt<f32>(dx * dx + y2) * per
    const left = floor<f32>(place < last ? place : last)
    const at = table + (<usize>whole(left) << 4)
    const a = v128.load(at)
    const b = v128.load(at, 16)
    const lay = f32x4.add(a, f32x4.mul(f32x4.sub(b, a), f32x4.splat(place < last ? place - left : 0)))
    const stays = f32x4.sub(one, f32x4.splat(f32x4.extract_lane(lay, 3)))
    v128.store(to, f32x4.add(f32x4.mul(v128.load(to), stays), lay))
  }
}

/**
 * Numbers made smooth steps, in place: 0 up to the first place and 1 from the second on, where numbers below `from` count as 0
 * and those `ramp` above it as 1; u = (n - low) / span, u^2 (3 - 2 u).
 */
export function stepNumbers(numbers: usize, count: i32, from: f32, ramp: f32, low: f32, span: f32): void {
  const none = f32x4.splat(0)
  const one = f32x4.splat(1)
  const start = f32x4.splat(from)
  const perRamp = f32x4.splat(1 / ramp)
  const first = f32x4.splat(low)
  const perSpan = f32x4.splat(1 / span)
  const three = f32x4.splat(3)
  let i: i32 = 0
  for (; i + 4 <= count; i += 4) {
    const order = f32x4.pmin(one, f32x4.pmax(none, f32x4.mul(f32x4.sub(v128.load(numbers), start), perRamp)))
    const u = f32x4.pmin(one, f32x4.pmax(none, f32x4.mul(f32x4.sub(order, first), perSpan)))
    v128.store(numbers, f32x4.mul(f32x4.mul(u, u), f32x4.sub(three, f32x4.add(u, u))))
    numbers += 16
  }
  for (; i < count; i++) {
    const order = min<f32>(1, max<f32>(0, (load<f32>(numbers) - from) * (1 / ramp)))
    const v: f32 = (order - low) * (1 / span)
    // What is no number, where a step is upright, is 0.
    const u: f32 = v > 0 ? (v < 1 ? v : 1) : 0
    store<f32>(numbers, u * u * (3 - (u + u)))
    numbers += 4
  }
}

/** Each number of `to` becomes the larger one of itself and that of `from`. */
export function maxNumbers(from: usize, to: usize, count: i32): void {
  let i: i32 = 0
  for (; i + 4 <= count; i += 4) {
    v128.store(to, f32x4.pmax(v128.load(to), v128.load(from)))
    from += 16
    to += 16
  }
  for (; i < count; i++) {
    store<f32>(to, max<f32>(load<f32>(to), load<f32>(from)))
    from += 4
    to += 4
  }
}

/**
 * out += gain times what a plane of `width` numbers a row is at places along a row, straight between its numbers: from `x` on by `dx`
 * in the row at `above` and the one below it, `v` of that. What lies beyond a row is its end.
 */
export function addZoomed(above: usize, width: i32, v: f32, x: f32, dx: f32, out: usize, count: i32, gain: f32): void {
  const below = above + (<usize>width << 2)
  const down = f32x4.splat(v)
  const share = f32x4.splat(gain)
  const first = f32x4.splat(0)
  const end = f32x4.splat(<f32>(width - 1))
  const last = f32x4.splat(<f32>(width - 2))
  for (let i: i32 = 0; i < count; i += 4) {
    const steps = f32x4.add(f32x4.splat(<f32>i), f32x4(0, 1, 2, 3))
    const at = f32x4.pmin(end, f32x4.pmax(first, f32x4.add(f32x4.splat(x), f32x4.mul(f32x4.splat(dx), steps))))
    const from = f32x4.pmin(last, f32x4.floor(at))
    const places = i32x4.shl(wholes4(from), 2)
    const a = <usize>i32x4.extract_lane(places, 0)
    const b = <usize>i32x4.extract_lane(places, 1)
    const c = <usize>i32x4.extract_lane(places, 2)
    const d = <usize>i32x4.extract_lane(places, 3)
    // Pairs of neighbours, of two places at once.
    const top = v128.load_lane<u64>(above + b, v128.load_zero<u64>(above + a), 1)
    const top2 = v128.load_lane<u64>(above + d, v128.load_zero<u64>(above + c), 1)
    const low = v128.load_lane<u64>(below + b, v128.load_zero<u64>(below + a), 1)
    const low2 = v128.load_lane<u64>(below + d, v128.load_zero<u64>(below + c), 1)
    const one = f32x4.add(top, f32x4.mul(f32x4.sub(low, top), down))
    const two = f32x4.add(top2, f32x4.mul(f32x4.sub(low2, top2), down))
    const left = v128.shuffle<f32>(one, two, 0, 2, 4, 6)
    const right = v128.shuffle<f32>(one, two, 1, 3, 5, 7)
    const mixed = f32x4.add(left, f32x4.mul(f32x4.sub(right, left), f32x4.sub(at, from)))
    const sum = f32x4.add(v128.load(out), f32x4.mul(mixed, share))
    if (i + 4 <= count) v128.store(out, sum)
    else {
      store<f32>(out, f32x4.extract_lane(sum, 0))
      if (i + 1 < count) store<f32>(out, f32x4.extract_lane(sum, 1), 4)
      if (i + 2 < count) store<f32>(out, f32x4.extract_lane(sum, 2), 8)
    }
    out += 16
  }
}
