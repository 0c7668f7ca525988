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

/** The sum of four numbers. */
// @ts-ignore: decorator
@inline
function sum4(x: v128): f32 {
  return (
    f32x4.extract_lane(x, 0) + f32x4.extract_lane(x, 1) + f32x4.extract_lane(x, 2) + f32x4.extract_lane(x, 3)
  )
}

/** One byte of four words each as numbers. */
// @ts-ignore: decorator
@inline
function bytes4(words: v128, shift: i32): v128 {
  return f32x4.convert_i32x4_s(v128.and(i32x4.shr_u(words, shift), i32x4.splat(255)))
}

/** Four whole numbers of less than four millions each: see {@link whole}. */
// @ts-ignore: decorator
@inline
function wholes4(x: v128): v128 {
  return i32x4.sub(f32x4.add(x, f32x4.splat(12582912)), i32x4.splat(0x4b400000))
}

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
