// Inner loops of the pixel work as WebAssembly with SIMD, in AssemblyScript (https://www.assemblyscript.org).
// Each does what its namesake in core/image/kernels.ts does in plain TypeScript, which stays as fallback and as the
// tests' oracle. Pointers are byte addresses in the one memory that holds every buffer; counts are in elements.

/** Share of a Gaussian below x standard deviations from a table of 1026 floats over -4..4. */
// @ts-ignore: decorator
@inline
function phi(table: usize, x: f32): f32 {
  if (x <= -4) return 0
  if (x >= 4) return 1
  const at = (x + 4) * 128
  const i = <i32>at
  const p = table + (<usize>i << 2)
  const low = load<f32>(p)
  return low + (load<f32>(p, 4) - low) * (at - <f32>i)
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
    const light = v128.and(f32x4.min(v128.load(line), one), keep)
    const room = f32x4.max(f32x4.sub(one, behind), none)
    v128.store(data, f32x4.add(behind, f32x4.mul(light, room)))
    line += 12
    data += 16
  }
}

/** halos: per halo sigma and its light R, G, B with the peak in it. */
export function nearRow(
  near: usize, count: i32, x: f32, y: f32, ux: f32, uy: f32, length: f32, half: f32, taper: f32, round: f32, edge: f32,
  cr: f32, cg: f32, cb: f32, halos: usize, haloCount: i32, table: usize,
): void {
  const thin = taper / length
  for (let i = 0; i < count; i++) {
    const u = x * ux + y * uy
    const v = abs<f32>(y * ux - x * uy)
    const along = u < 0 ? <f32>0 : u > length ? length : u
    const h = half * (1 - thin * along)
    const beyond = u - along
    const rounded = sqrt<f32>(beyond * beyond + v * v) - h
    let distance = rounded
    if (beyond > 0) {
      const cut = max<f32>(v - h, beyond)
      distance = round * rounded + (1 - round) * cut
    }
    const core = phi(table, -distance / edge)
    let r = core * cr
    let g = core * cg
    let b = core * cb
    for (let k = 0; k < haloCount; k++) {
      const halo = halos + (<usize>k << 4)
      const sigma = load<f32>(halo)
      if (v > h + sigma * 4) continue
      const across = phi(table, (v + h) / sigma) - phi(table, (v - h) / sigma)
      const reach: f32 = sigma * 4
      const lengthwise = u > reach && u < length - reach ? <f32>1 : phi(table, u / sigma) - phi(table, (u - length) / sigma)
      const amount = across * lengthwise
      r += amount * load<f32>(halo, 4)
      g += amount * load<f32>(halo, 8)
      b += amount * load<f32>(halo, 12)
    }
    store<f32>(near, load<f32>(near) + r)
    store<f32>(near, load<f32>(near, 4) + g, 4)
    store<f32>(near, load<f32>(near, 8) + b, 8)
    near += 12
    x += 1
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

// @ts-ignore: decorator
@inline
function steps(p: usize): v128 {
  return i32x4.trunc_sat_f32x4_s(
    f32x4.add(f32x4.mul(f32x4.min(f32x4.max(v128.load(p), f32x4.splat(0)), f32x4.splat(1)), f32x4.splat(16384)), f32x4.splat(0.5)),
  )
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
