// Codes of video and of screens to light and back.

import { whole } from './lanes'

/** A luma code through its table. */
// @ts-ignore: decorator
@inline
function lumaAt(tables: usize, at: usize): i32 {
  return load<i32>(tables + (<usize>load<u8>(at) << 2))
}

/** Levels of four pixels, not cut: their luma in 16.16 with what their chroma adds. */
// @ts-ignore: decorator
@inline
function levels4(luma: v128, chroma: v128): v128 {
  return i32x4.shr_s(i32x4.add(luma, chroma), 16)
}

/** One row of pixels: luma and chroma codes through tables of 16.16 levels (y, rv, gu, gv, bu; 256 each) to RGBA words. */
export function yuvRowToRgba(lum: usize, cu: usize, cv: usize, count: i32, tables: usize, clipped: usize, out: usize, across: i32): void {
  const step = <usize>(<isize>across << 2)
  let x = 0
  for (; x + 4 <= count; x += 4) {
    const u0 = <usize>load<u8>(cu) << 2
    const v0 = <usize>load<u8>(cv) << 2
    const u1 = <usize>load<u8>(cu, 1) << 2
    const v1 = <usize>load<u8>(cv, 1) << 2
    cu += 2
    cv += 2
    const luma = i32x4(lumaAt(tables, lum), lumaAt(tables, lum + 1), lumaAt(tables, lum + 2), lumaAt(tables, lum + 3))
    lum += 4
    const r0 = load<i32>(tables + v0, 1024)
    const r1 = load<i32>(tables + v1, 1024)
    const g0 = load<i32>(tables + u0, 2048) + load<i32>(tables + v0, 3072)
    const g1 = load<i32>(tables + u1, 2048) + load<i32>(tables + v1, 3072)
    const b0 = load<i32>(tables + u0, 4096)
    const b1 = load<i32>(tables + u1, 4096)
    const r = levels4(luma, i32x4(r0, r0, r1, r1))
    const g = levels4(luma, i32x4(g0, g0, g1, g1))
    const b = levels4(luma, i32x4(b0, b0, b1, b1))
    // Narrowing cuts: to 16 bits, and to bytes 0..255.
    const rg = i16x8.narrow_i32x4_s(r, g)
    const ba = i16x8.narrow_i32x4_s(b, i32x4.splat(255))
    const bytes = i8x16.narrow_i16x8_u(rg, ba)
    const words = i8x16.shuffle(bytes, bytes, 0, 4, 8, 12, 1, 5, 9, 13, 2, 6, 10, 14, 3, 7, 11, 15)
    if (across === 1) v128.store(out, words)
    else {
      store<i32>(out, i32x4.extract_lane(words, 0))
      store<i32>(out + step, i32x4.extract_lane(words, 1))
      store<i32>(out + 2 * step, i32x4.extract_lane(words, 2))
      store<i32>(out + 3 * step, i32x4.extract_lane(words, 3))
    }
    out += 4 * step
  }
  for (; x < count; x += 2) {
    const u = <usize>load<u8>(cu++) << 2
    const v = <usize>load<u8>(cv++) << 2
    const dr = load<i32>(tables + v, 1024)
    const dg = load<i32>(tables + u, 2048) + load<i32>(tables + v, 3072)
    const db = load<i32>(tables + u, 4096)
    for (let k = 0; k < 2 && x + k < count; k++) {
      const l = lumaAt(tables, lum++) + (384 << 16)
      const r = <u32>load<u8>(clipped + <usize>((l + dr) >> 16))
      const g = <u32>load<u8>(clipped + <usize>((l + dg) >> 16))
      const b = <u32>load<u8>(clipped + <usize>((l + db) >> 16))
      store<u32>(out, 0xff000000 | (b << 16) | (g << 8) | r)
      out += step
    }
  }
}

/** Light of a code in 16.16, through 1024 numbers by clipped level. */
// @ts-ignore: decorator
@inline
function lightAt(linear: usize, code: i32): f32 {
  return load<f32>(linear + <usize>((code >> 14) & ~3))
}
/** Light of the two by two pixels of one chroma sample. */
// @ts-ignore: decorator
@inline
function lightOf(linear: usize, l0: i32, l1: i32, l2: i32, l3: i32, chroma: i32): f32 {
  return lightAt(linear, l0 + chroma) + lightAt(linear, l1 + chroma) + lightAt(linear, l2 + chroma) + lightAt(linear, l3 + chroma)
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
      let top = lum + 2 * column * cells + 2 * j * lumStride
      let chroma = column * cells + j * chromaStride
      for (let i = 0; i < cells; i++) {
        const u = <usize>load<u8>(cu + chroma) << 2
        const v = <usize>load<u8>(cv + chroma) << 2
        const l0 = lumaAt(tables, top)
        const l1 = lumaAt(tables, top + 1)
        const l2 = lumaAt(tables, top + lumStride)
        const l3 = lumaAt(tables, top + lumStride + 1)
        r += lightOf(linear, l0, l1, l2, l3, load<i32>(tables + v, 1024) + (384 << 16))
        g += lightOf(linear, l0, l1, l2, l3, load<i32>(tables + u, 2048) + load<i32>(tables + v, 3072) + (384 << 16))
        b += lightOf(linear, l0, l1, l2, l3, load<i32>(tables + u, 4096) + (384 << 16))
        top += 2
        chroma++
      }
    }
    const er = <u32>load<u8>(encode + <usize>whole(r * share))
    const eg = <u32>load<u8>(encode + <usize>whole(g * share))
    const eb = <u32>load<u8>(encode + <usize>whole(b * share))
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
  const rounded = f32x4.floor(f32x4.add(f32x4.mul(cut, f32x4.splat(16384)), f32x4.splat(0.5)))
  // With 2^23 added the bits of a float count ones.
  return v128.and(f32x4.add(rounded, f32x4.splat(8388608)), i32x4.splat(0x7fff))
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
