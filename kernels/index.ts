// Inner loops of the pixel work as WebAssembly with SIMD, in AssemblyScript (https://www.assemblyscript.org).
// Each does what its namesake in core/pixels/kernels/plain.ts does in plain TypeScript, which stays as fallback and as the
// tests' oracle. Pointers are byte addresses in the one memory that holds every buffer; counts are in elements.

/** e^x for x from -20 to 0, within 2e-7: 2^n by the exponent's bits, the rest by a polynomial (Taylor, 6th order). */
// @ts-ignore: decorator
@inline
function exp4(x: v128): v128 {
  const t = f32x4.mul(f32x4.pmax(f32x4.splat(-80), x), f32x4.splat(1.44269504))
  const whole = f32x4.floor(t)
  const y = f32x4.mul(f32x4.sub(t, whole), f32x4.splat(0.69314718))
  let p = f32x4.add(f32x4.splat(<f32>(1.0 / 120.0)), f32x4.mul(y, f32x4.splat(<f32>(1.0 / 720.0))))
  p = f32x4.add(f32x4.splat(<f32>(1.0 / 24.0)), f32x4.mul(y, p))
  p = f32x4.add(f32x4.splat(<f32>(1.0 / 6.0)), f32x4.mul(y, p))
  p = f32x4.add(f32x4.splat(0.5), f32x4.mul(y, p))
  p = f32x4.add(f32x4.splat(1), f32x4.mul(y, p))
  p = f32x4.add(f32x4.splat(1), f32x4.mul(y, p))
  const power = i32x4.shl(i32x4.add(i32x4.trunc_sat_f32x4_s(whole), i32x4.splat(127)), 23)
  return f32x4.mul(p, power)
}

/** Share of a Gaussian below x standard deviations (Abramowitz and Stegun 7.1.26, 1.5e-7), cut to 0 and 1 beyond 4. */
// @ts-ignore: decorator
@inline
function phi4(x: v128): v128 {
  const one = f32x4.splat(1)
  const z = f32x4.mul(f32x4.abs(x), f32x4.splat(0.70710678))
  const t = f32x4.div(one, f32x4.add(one, f32x4.mul(z, f32x4.splat(0.3275911))))
  let p = f32x4.add(f32x4.splat(-1.453152027), f32x4.mul(t, f32x4.splat(1.061405429)))
  p = f32x4.add(f32x4.splat(1.421413741), f32x4.mul(t, p))
  p = f32x4.add(f32x4.splat(-0.284496736), f32x4.mul(t, p))
  p = f32x4.add(f32x4.splat(0.254829592), f32x4.mul(t, p))
  const below = f32x4.mul(f32x4.mul(f32x4.mul(t, p), exp4(f32x4.neg(f32x4.mul(z, z)))), f32x4.splat(0.5))
  const cut = v128.and(below, f32x4.lt(f32x4.abs(x), f32x4.splat(4)))
  return v128.bitselect(cut, f32x4.sub(one, cut), f32x4.lt(x, f32x4.splat(0)))
}

/** A whole number of less than four millions as one: with 1.5 * 2^23 added the bits of a float count ones. */
// @ts-ignore: decorator
@inline
function whole(x: f32): i32 {
  return reinterpret<i32>(x + 12582912) - 0x4b400000
}

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

/** One row of pixels: luma and chroma codes through tables of 16.16 levels (y, rv, gu, gv, bu; 256 each) to RGBA words. */
export function yuvRowToRgba(lum: usize, cu: usize, cv: usize, count: i32, tables: usize, clipped: usize, out: usize, across: i32): void {
  const step = <usize>(<isize>across << 2)
  for (let x = 0; x < count; x += 2) {
    const u = <usize>load<u8>(cu++) << 2
    const v = <usize>load<u8>(cv++) << 2
    const dr = load<i32>(tables + v, 1024)
    const dg = load<i32>(tables + u, 2048) + load<i32>(tables + v, 3072)
    const db = load<i32>(tables + u, 4096)
    for (let k = 0; k < 2 && x + k < count; k++) {
      const l = load<i32>(tables + (<usize>load<u8>(lum++) << 2)) + (384 << 16)
      const r = <u32>load<u8>(clipped + <usize>((l + dr) >> 16))
      const g = <u32>load<u8>(clipped + <usize>((l + dg) >> 16))
      const b = <u32>load<u8>(clipped + <usize>((l + db) >> 16))
      store<u32>(out, 0xff000000 | (b << 16) | (g << 8) | r)
      out += step
    }
  }
}

/** One row of reduced pixels by 2 or 4 (cells = 1 or 2): mean of light. Rows of codes by their addresses. */
export function yuvRowsToReduced(
  lum: usize, lumStride: i32, cu: usize, cv: usize, chromaStride: i32, columns: i32, cells: i32, tables: usize, linear: usize, encode: usize, out: usize, across: i32,
): void {
  const step = <usize>(<isize>across << 2)
  const share: f32 = 16384 / <f32>(cells * cells * 4)
  for (let column = 0; column < columns; column++) {
    let r: f32 = 0
    let g: f32 = 0
    let b: f32 = 0
    for (let j = 0; j < cells; j++) {
      for (let i = 0; i < cells; i++) {
        const cell = column * cells + i
        const u = <usize>load<u8>(cu + cell + j * chromaStride) << 2
        const v = <usize>load<u8>(cv + cell + j * chromaStride) << 2
        const dr = load<i32>(tables + v, 1024) + (384 << 16)
        const dg = load<i32>(tables + u, 2048) + load<i32>(tables + v, 3072) + (384 << 16)
        const db = load<i32>(tables + u, 4096) + (384 << 16)
        const top = lum + 2 * cell + 2 * j * lumStride
        for (let k = 0; k < 4; k++) {
          const l = load<i32>(tables + (<usize>load<u8>(top + (k & 1) + (k >> 1) * lumStride) << 2))
          r += load<f32>(linear + (<usize>((l + dr) >> 16) << 2))
          g += load<f32>(linear + (<usize>((l + dg) >> 16) << 2))
          b += load<f32>(linear + (<usize>((l + db) >> 16) << 2))
        }
      }
    }
    const er = <u32>load<u8>(encode + <usize>(<i32>(r * share + 0.5)))
    const eg = <u32>load<u8>(encode + <usize>(<i32>(g * share + 0.5)))
    const eb = <u32>load<u8>(encode + <usize>(<i32>(b * share + 0.5)))
    store<u32>(out, 0xff000000 | (eb << 16) | (eg << 8) | er)
    out += step
  }
}

/** One row of pixels from column `x` on to RGBA floats through `working`, 1024 floats by clipped level. */
export function yuvRowToFloats(lum: usize, cu: usize, cv: usize, x: i32, count: i32, tables: usize, working: usize, out: usize): void {
  for (let i = x; i < x + count; i++) {
    const u = <usize>load<u8>(cu + (i >> 1)) << 2
    const v = <usize>load<u8>(cv + (i >> 1)) << 2
    const l = load<i32>(tables + (<usize>load<u8>(lum + i) << 2)) + (384 << 16)
    const r = load<f32>(working + (<usize>((l + load<i32>(tables + v, 1024)) >> 16) << 2))
    const g = load<f32>(working + (<usize>((l + load<i32>(tables + u, 2048) + load<i32>(tables + v, 3072)) >> 16) << 2))
    const b = load<f32>(working + (<usize>((l + load<i32>(tables + u, 4096)) >> 16) << 2))
    v128.store(out, f32x4(r, g, b, 1))
    out += 16
  }
}

/** Steps of the encoder's table for an RGBA pixel: 16384 of its values, cut to 0..1 and rounded, as whole numbers of each lane. */
// @ts-ignore: decorator
@inline
function steps(p: usize): v128 {
  const cut = f32x4.pmin(f32x4.splat(1), f32x4.pmax(f32x4.splat(0), v128.load(p)))
  const whole = f32x4.floor(f32x4.add(f32x4.mul(cut, f32x4.splat(16384)), f32x4.splat(0.5)))
  // With 2^23 added the bits of a float count ones.
  return v128.and(f32x4.add(whole, f32x4.splat(8388608)), i32x4.splat(0x7fff))
}

/** Two rows of RGBA floats (width floats*4 apart by `stride` bytes) into two luma rows and a row of each chroma. */
export function floatRowsToI420(
  data: usize, stride: i32, count: i32, encode: usize, lum: usize, lumStride: i32, cu: usize, cv: usize,
  yr: i32, yg: i32, yb: i32, ur: i32, ug: i32, ub: i32, vr: i32, vg: i32, vb: i32,
): void {
  for (let x = 0; x < count; x += 2) {
    let r4 = 0
    let g4 = 0
    let b4 = 0
    for (let k = 0; k < 4; k++) {
      const s = steps(data + ((k & 1) << 4) + (k >> 1) * stride)
      const r = <i32>load<u8>(encode + <usize>i32x4.extract_lane(s, 0))
      const g = <i32>load<u8>(encode + <usize>i32x4.extract_lane(s, 1))
      const b = <i32>load<u8>(encode + <usize>i32x4.extract_lane(s, 2))
      r4 += r
      g4 += g
      b4 += b
      store<u8>(lum + (k & 1) + (k >> 1) * lumStride, <u8>(16 + ((r * yr + g * yg + b * yb + 32768) >> 16)))
    }
    store<u8>(cu++, <u8>(128 + ((r4 * ur + g4 * ug + b4 * ub + 32768) >> 16)))
    store<u8>(cv++, <u8>(128 + ((r4 * vr + g4 * vg + b4 * vb + 32768) >> 16)))
    data += 32
    lum += 2
  }
}

export function wordsToFloats(words: usize, count: i32, working: usize, out: usize): void {
  for (let i = 0; i < count; i++) {
    const word = load<u32>(words)
    const r = load<f32>(working + (<usize>(word & 255) << 2))
    const g = load<f32>(working + (<usize>((word >> 8) & 255) << 2))
    const b = load<f32>(working + (<usize>((word >> 16) & 255) << 2))
    v128.store(out, f32x4(r, g, b, 1))
    words += 4
    out += 16
  }
}

export function floatsToWords(data: usize, count: i32, encode: usize, words: usize): void {
  for (let i = 0; i < count; i++) {
    const s = steps(data)
    const r = <u32>load<u8>(encode + <usize>i32x4.extract_lane(s, 0))
    const g = <u32>load<u8>(encode + <usize>i32x4.extract_lane(s, 1))
    const b = <u32>load<u8>(encode + <usize>i32x4.extract_lane(s, 2))
    store<u32>(words, 0xff000000 | (b << 16) | (g << 8) | r)
    data += 16
    words += 4
  }
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

// @ts-ignore: decorator
@inline
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

/** Bilinear samples of an RGBA picture at places on a line, from (x, y) on by (dx, dy); edge 0 stretched, 1 repeated, 2 mirrored, 3 nothing. */
export function sampleLine(
  source: usize, width: i32, height: i32, x: f32, y: f32, dx: f32, dy: f32, edge: i32, out: usize, count: i32,
): void {
  for (let i: i32 = 0; i < count; i++) {
    v128.store(out, sampleAt(source, width, height, x + dx * <f32>i, y + dy * <f32>i, edge))
    out += 16
  }
}

/** The same at places between `nodes` (x, y pairs), `step` pixels apart, beginning `offset` pixels after the first. */
export function sampleMesh(
  source: usize, width: i32, height: i32, nodes: usize, step: i32, offset: i32, edge: i32, out: usize, count: i32,
): void {
  const share: f32 = 1 / <f32>step
  let k: i32 = offset
  for (let i: i32 = 0; i < count; i++) {
    const u = <f32>k * share
    const x = load<f32>(nodes)
    const y = load<f32>(nodes, 4)
    const px = x + (load<f32>(nodes, 8) - x) * u
    const py = y + (load<f32>(nodes, 12) - y) * u
    v128.store(out, sampleAt(source, width, height, px, py, edge))
    out += 16
    if (++k == step) {
      k = 0
      nodes += 8
    }
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
      const behind = v128.load(to)
      if (over) {
        const left: f32 = 1 - f32x4.extract_lane(source, 3)
        v128.store(to, f32x4.add(f32x4.mul(behind, f32x4.splat(left)), source))
      } else {
        const sum = f32x4.add(behind, source)
        v128.store(to, f32x4.replace_lane(sum, 3, min<f32>(f32x4.extract_lane(sum, 3), 1)))
      }
    }
    from += 16
    to += 16
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
