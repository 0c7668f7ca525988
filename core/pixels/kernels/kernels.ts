import type { Rect } from '../../geometry/rect.ts'
import { phi } from '../filters/gaussian.ts'
import { binary } from './binary.generated.ts'
import { encode8BitTable, encodeSteps } from '../colour/transfer.ts'
import {
  clippedLinear,
  clippedWorking,
  floatsToI420,
  packedTables,
  toVideo,
  yuvToFloats,
  yuvToReducedRgba,
  yuvToRgba,
  placement,
  clipped,
  type Yuv,
} from '../buffers/yuv.ts'

/**
 * The inner loops of the pixel work. There are two of a kind: plain TypeScript, which runs everywhere and says what
 * is meant, and WebAssembly with SIMD (kernels/index.ts), several times as fast, for arrays of one shared memory.
 * Lines of light are RGB, pictures RGBA; places and counts are in numbers, widths in pixels.
 */
export interface Kernels {
  /** Numbers start..end of the lines at `a` and `b`, mixed by `weight` of the second, into `out`. */
  mixLines(
    data: Float32Array,
    a: number,
    b: number,
    weight: number,
    out: Float32Array,
    start: number,
    end: number,
  ): void
  /**
   * Enlarges RGB cells from..end by 2. The first written pair lies between the cell at `from` and the next one; its
   * left pixel goes to `out[shift]`. Left pixels are 3/4 the left cell, right ones 3/4 the right. `out` has room
   * for 12 numbers more than `width` pixels.
   */
  enlargeLine(line: Float32Array, from: number, end: number, out: Float32Array, shift: number, width: number): void
  /** The same from an even cell on, added to `pairs` pairs of pixels from number `to` of `out`. */
  addEnlargedLine(line: Float32Array, from: number, out: Float32Array, to: number, pairs: number): void
  /** to += from. */
  addNumbers(from: Float32Array, fromAt: number, to: Float32Array, toAt: number, count: number): void
  /** to += from, and from = 0. */
  moveNumbers(from: Float32Array, fromAt: number, to: Float32Array, toAt: number, count: number): void
  /** out[outAt + i] = sum of weights[|k|] * from[fromAt + i + k * step] for k from -reach to reach, where weights has reach + 1 numbers. */
  weighRow(
    from: Float32Array,
    fromAt: number,
    step: number,
    weights: Float32Array,
    out: Float32Array,
    outAt: number,
    count: number,
  ): void
  /** A line of light times 1 - hidden * share. */
  hideLine(line: Float32Array, at: number, hidden: Float32Array, hiddenAt: number, share: number, width: number): void
  /** A line of light onto a picture: Add, or Screen (light cut at 1, a picture beyond 1 left alone). */
  addLine(line: Float32Array, at: number, data: Float32Array, to: number, width: number): void
  screenLine(line: Float32Array, at: number, data: Float32Array, to: number, width: number): void
  /** Core and narrow halos of a rod along a row; `x`, `y` of the first pixel from the heel. See {@link NearLight}. */
  nearRow(near: Float32Array, at: number, width: number, x: number, y: number, light: NearLight): void
  /** A wide halo along a row of cells, from two tables of `steps` and `2 * steps` spans read at v and u. */
  farRow(
    data: Float32Array,
    at: number,
    width: number,
    v: number,
    vStep: number,
    u: number,
    uStep: number,
    far: FarLight,
  ): void
  /** RGBA cells from four rows: (a + d) / 8 + 3 (b + c) / 8, `count` numbers (a multiple of 4) from places a to d. */
  foldRows(
    data: Float32Array,
    a: number,
    b: number,
    c: number,
    d: number,
    out: Float32Array,
    to: number,
    count: number,
  ): void
  /** The same along a row: cell i from the four pixels from number `at + 8 i` on. */
  foldPixels(line: Float32Array, at: number, out: Float32Array, to: number, count: number): void
  /** Pairs of RGBA pixels between neighbouring cells: 3/4 of the one and 1/4 of the other, and the other way round. */
  spreadPixels(line: Float32Array, at: number, out: Float32Array, to: number, pairs: number): void
  /** Bilinear samples of an RGBA picture at `count` places (x, y in pixels of the source, pixel centres at +0.5). */
  sampleRow(
    source: Float32Array,
    width: number,
    height: number,
    places: Float32Array,
    edge: Edge,
    out: Float32Array,
    to: number,
    count: number,
  ): void
  /** The same at places on a line, from (x, y) on by (dx, dy). */
  sampleLine(
    source: Float32Array,
    width: number,
    height: number,
    line: Line,
    edge: Edge,
    out: Float32Array,
    to: number,
    count: number,
  ): void
  /** The same at places between nodes (x, y pairs) `step` pixels apart, from `offset` pixels after the first on. */
  sampleMesh(
    source: Float32Array,
    width: number,
    height: number,
    nodes: Float32Array,
    step: number,
    offset: number,
    edge: Edge,
    out: Float32Array,
    to: number,
    count: number,
  ): void
  /** to += (from - to) * share; `count` a multiple of 4. */
  mixInto(from: Float32Array, fromAt: number, to: Float32Array, toAt: number, count: number, share: number): void
  /** to += from * tint, per RGBA pixel. */
  addTinted(
    from: Float32Array,
    fromAt: number,
    to: Float32Array,
    toAt: number,
    count: number,
    tint: readonly [number, number, number, number],
  ): void
  /** RGBA pixels laid on with Normal or Add, each at `share` times its mask. */
  layRow(
    over: boolean,
    from: Float32Array,
    fromAt: number,
    to: Float32Array,
    toAt: number,
    count: number,
    share: number,
    mask: Float32Array | null,
    maskAt: number,
  ): void
  /** to += from * share. */
  addScaled(from: Float32Array, fromAt: number, to: Float32Array, toAt: number, count: number, share: number): void
  /** Running sums of RGBA pixels: out[i + 1] = out[i] + line[i] from 0 on. */
  sumPixels(line: Float32Array, at: number, out: Float32Array, to: number, count: number): void
  /** out[i] += (sums[i + span] - sums[i]) * share, per RGBA pixel. */
  addSpans(
    sums: Float32Array,
    at: number,
    span: number,
    out: Float32Array,
    to: number,
    count: number,
    share: number,
  ): void
  yuvToRgba(yuv: Yuv, out: Uint32Array): void
  yuvToReducedRgba(yuv: Yuv, factor: 2 | 4, out: Uint32Array): void
  yuvToFloats(yuv: Yuv, region: Rect, working: Float32Array, data: Float32Array): void
  floatsToI420(
    data: Float32Array,
    region: Rect,
    table: Uint8Array,
    width: number,
    height: number,
    out: Uint8Array,
  ): void
  /** Opaque encoded words to RGBA floats through 256 working values, and back through a table of the encoder. */
  wordsToFloats(
    words: Uint32Array,
    from: number,
    count: number,
    working: Float32Array,
    data: Float32Array,
    to: number,
  ): void
  floatsToWords(
    data: Float32Array,
    from: number,
    count: number,
    table: Uint8Array,
    words: Uint32Array,
    to: number,
  ): void
}

/** Places on a line, a step apart. */
export interface Line {
  x: number
  y: number
  dx: number
  dy: number
}

/** What is seen past the edge of a picture: its last pixels, the picture again, its mirror image, or nothing. */
export const edges = ['stretched', 'repeated', 'mirrored', 'nothing'] as const
export type Edge = (typeof edges)[number]

/** The pixel of a row of `n` that stands for the one at `i`; -1 for none. */
export function withinEdge(i: number, n: number, edge: Edge): number {
  if (i >= 0 && i < n) return i
  if (edge === 'nothing') return -1
  if (edge === 'stretched') return i < 0 ? 0 : n - 1
  const size = edge === 'repeated' ? n : 2 * n
  const at = ((i % size) + size) % size
  return at < n ? at : 2 * n - 1 - at
}

/** A rod's own light; lengths in pixels. `halos`: per halo its sigma and its light R, G, B at the peak of `across`. */
export interface NearLight {
  ux: number
  uy: number
  length: number
  half: number
  taper: number
  round: number
  edge: number
  core: readonly [number, number, number]
  halos: Float32Array
}
export interface FarLight {
  across: Float32Array
  along: Float32Array
  steps: number
  light: readonly [number, number, number]
}

export const plainKernels: Kernels = {
  mixLines(data, a, b, weight, out, start, end) {
    for (let i = start; i < end; i++) {
      const top = data[a + i]!
      out[i] = top + (data[b + i]! - top) * weight
    }
  },
  enlargeLine(line, from, end, out, shift, width) {
    const pairs = pairsOf(from, end, width)
    for (let i = 0, at = from, to = shift; i < pairs; i++, at += 3, to += 6) {
      for (let c = 0; c < 3; c++) {
        const left = line[at + c]!
        const difference = line[at + c + 3]! - left
        out[to + c] = left + 0.25 * difference
        out[to + c + 3] = left + 0.75 * difference
      }
    }
  },
  addEnlargedLine(line, from, out, to, pairs) {
    for (let i = 0; i < pairs; i++, from += 3, to += 6) {
      for (let c = 0; c < 3; c++) {
        const left = line[from + c]!
        const difference = line[from + c + 3]! - left
        out[to + c]! += left + 0.25 * difference
        out[to + c + 3]! += left + 0.75 * difference
      }
    }
  },
  addNumbers(from, fromAt, to, toAt, count) {
    for (let i = 0; i < count; i++) to[toAt + i]! += from[fromAt + i]!
  },
  moveNumbers(from, fromAt, to, toAt, count) {
    for (let i = 0; i < count; i++) to[toAt + i]! += from[fromAt + i]!
    from.fill(0, fromAt, fromAt + count)
  },
  weighRow(from, fromAt, step, weights, out, outAt, count) {
    for (let i = 0; i < count; i++) {
      const at = fromAt + i
      let sum = weights[0]! * from[at]!
      for (let k = 1; k < weights.length; k++) sum += weights[k]! * (from[at - k * step]! + from[at + k * step]!)
      out[outAt + i] = sum
    }
  },
  hideLine(line, at, hidden, hiddenAt, share, width) {
    for (let x = 0; x < width; x++, at += 3) {
      const h = hidden[hiddenAt + x]!
      if (h === 0) continue
      const left = 1 - h * share
      line[at]! *= left
      line[at + 1]! *= left
      line[at + 2]! *= left
    }
  },
  addLine(line, at, data, to, width) {
    for (let x = 0; x < width; x++, at += 3, to += 4) {
      data[to]! += line[at]!
      data[to + 1]! += line[at + 1]!
      data[to + 2]! += line[at + 2]!
    }
  },
  screenLine(line, at, data, to, width) {
    for (let x = 0; x < width; x++, at += 3, to += 4) {
      for (let c = 0; c < 3; c++) {
        const behind = data[to + c]!
        const light = line[at + c]!
        if (behind < 1) data[to + c] = behind + (light > 1 ? 1 : light) * (1 - behind)
      }
    }
  },
  nearRow(near, at, width, x, y, { ux, uy, length, half, taper, round, edge, core: [cr, cg, cb], halos }) {
    for (let column = 0; column < width; column++, x++, at += 3) {
      const u = x * ux + y * uy
      const v = Math.abs(y * ux - x * uy)
      const along = u < 0 ? 0 : u > length ? length : u
      const h = half * (1 - (taper * along) / length)
      const beyond = u - along
      const rounded = Math.sqrt(beyond * beyond + v * v) - h
      const distance = beyond > 0 ? round * rounded + (1 - round) * Math.max(v - h, beyond) : rounded
      const core = phi(-distance / edge)
      let r = core * cr
      let g = core * cg
      let b = core * cb
      for (let k = 0; k < halos.length; k += 4) {
        const sigma = halos[k]!
        if (v > h + 4 * sigma) continue
        const across = phi((v + h) / sigma) - phi((v - h) / sigma)
        const reach = 4 * sigma
        const lengthwise = u > reach && u < length - reach ? 1 : phi(u / sigma) - phi((u - length) / sigma)
        const amount = across * lengthwise
        r += amount * halos[k + 1]!
        g += amount * halos[k + 2]!
        b += amount * halos[k + 3]!
      }
      near[at]! += r
      near[at + 1]! += g
      near[at + 2]! += b
    }
  },
  farRow(data, at, width, v, vStep, u, uStep, { across, along, steps, light: [r, g, b] }) {
    for (let i = 0; i < width; i++, at += 3) {
      const vi = Math.abs(v + vStep * i)
      const ui = u + uStep * i
      if (vi >= steps || ui < 0 || ui >= 2 * steps) continue
      const vn = vi | 0
      const un = ui | 0
      const amount =
        (across[vn]! + (across[vn + 1]! - across[vn]!) * (vi - vn)) *
        (along[un]! + (along[un + 1]! - along[un]!) * (ui - un))
      data[at]! += amount * r
      data[at + 1]! += amount * g
      data[at + 2]! += amount * b
    }
  },
  foldRows(data, a, b, c, d, out, to, count) {
    for (let i = 0; i < count; i++)
      out[to + i] = 0.125 * (data[a + i]! + data[d + i]!) + 0.375 * (data[b + i]! + data[c + i]!)
  },
  foldPixels(line, at, out, to, count) {
    for (let i = 0; i < count; i++, at += 8, to += 4)
      for (let c = at; c < at + 4; c++)
        out[to + c - at] = 0.125 * (line[c]! + line[c + 12]!) + 0.375 * (line[c + 4]! + line[c + 8]!)
  },
  spreadPixels(line, at, out, to, pairs) {
    for (let i = 0; i < pairs; i++, at += 4, to += 8)
      for (let c = 0; c < 4; c++) {
        const a = line[at + c]!
        const b = line[at + c + 4]!
        const d = (b - a) * 0.25
        out[to + c] = a + d
        out[to + c + 4] = b - d
      }
  },
  sampleRow(source, width, height, places, edge, out, to, count) {
    for (let i = 0; i < count; i++, to += 4)
      sampleInto(source, width, height, places[2 * i]!, places[2 * i + 1]!, edge, out, to)
  },
  sampleLine(source, width, height, { x, y, dx, dy }, edge, out, to, count) {
    for (let i = 0; i < count; i++, to += 4)
      sampleInto(source, width, height, Math.fround(x + dx * i), Math.fround(y + dy * i), edge, out, to)
  },
  sampleMesh(source, width, height, nodes, step, offset, edge, out, to, count) {
    for (let i = 0; i < count; i++, to += 4) {
      const at = 2 * Math.floor((offset + i) / step)
      const u = ((offset + i) % step) / step
      const x = nodes[at]! + (nodes[at + 2]! - nodes[at]!) * u
      const y = nodes[at + 1]! + (nodes[at + 3]! - nodes[at + 1]!) * u
      sampleInto(source, width, height, x, y, edge, out, to)
    }
  },
  mixInto(from, fromAt, to, toAt, count, share) {
    for (let i = 0; i < count; i++) to[toAt + i]! += (from[fromAt + i]! - to[toAt + i]!) * share
  },
  addTinted(from, fromAt, to, toAt, count, tint) {
    for (let i = 0; i < 4 * count; i++) to[toAt + i]! += from[fromAt + i]! * tint[i & 3]!
  },
  layRow(over, from, fromAt, to, toAt, count, share, mask, maskAt) {
    for (let i = 0; i < count; i++, fromAt += 4, toAt += 4) {
      const s = mask ? share * mask[maskAt + i]! : share
      if (s === 0) continue
      const left = over ? 1 - from[fromAt + 3]! * s : 1
      for (let c = 0; c < 4; c++) to[toAt + c] = to[toAt + c]! * left + from[fromAt + c]! * s
      if (!over && to[toAt + 3]! > 1) to[toAt + 3] = 1
    }
  },
  addScaled(from, fromAt, to, toAt, count, share) {
    for (let i = 0; i < count; i++) to[toAt + i]! += from[fromAt + i]! * share
  },
  sumPixels(line, at, out, to, count) {
    out.fill(0, to, to + 4)
    for (let i = 0; i < 4 * count; i++) out[to + 4 + i] = out[to + i]! + line[at + i]!
  },
  addSpans(sums, at, span, out, to, count, share) {
    for (let i = 0; i < 4 * count; i++) out[to + i]! += (sums[at + 4 * span + i]! - sums[at + i]!) * share
  },
  yuvToRgba,
  yuvToReducedRgba,
  yuvToFloats,
  floatsToI420,
  wordsToFloats(words, from, count, working, data, to) {
    for (let i = 0; i < count; i++, to += 4) {
      const word = words[from + i]!
      data[to] = working[word & 255]!
      data[to + 1] = working[(word >> 8) & 255]!
      data[to + 2] = working[(word >> 16) & 255]!
      data[to + 3] = 1
    }
  },
  floatsToWords(data, from, count, table, words, to) {
    const level = (v: number) => table[v >= 1 ? encodeSteps : v > 0 ? (v * encodeSteps + 0.5) | 0 : 0]!
    for (let i = 0; i < count; i++, from += 4)
      words[to + i] =
        (0xff000000 | (level(data[from + 2]!) << 16) | (level(data[from + 1]!) << 8) | level(data[from]!)) >>> 0
  },
}

function sampleInto(
  source: Float32Array,
  width: number,
  height: number,
  px: number,
  py: number,
  edge: Edge,
  out: Float32Array,
  to: number,
): void {
  const at = (x: number, y: number, c: number) => {
    const column = withinEdge(x, width, edge)
    const row = withinEdge(y, height, edge)
    return column < 0 || row < 0 ? 0 : source[4 * (row * width + column) + c]!
  }
  const x = px - 0.5
  const y = py - 0.5
  const [x0, y0] = [Math.floor(x), Math.floor(y)]
  const [u, v] = [x - x0, y - y0]
  for (let c = 0; c < 4; c++) {
    const a = at(x0, y0, c)
    const top = a + (at(x0 + 1, y0, c) - a) * u
    const b = at(x0, y0 + 1, c)
    const low = b + (at(x0 + 1, y0 + 1, c) - b) * u
    out[to + c] = top + (low - top) * v
  }
}

const pairsOf = (from: number, end: number, width: number) =>
  Math.min((width >> 1) + 1, Math.floor((end - from) / 3) - 1)

/** The compiled functions: byte addresses and counts. */
type Compiled = Record<
  | 'mixLines'
  | 'enlargeLine'
  | 'addEnlargedLine'
  | 'addNumbers'
  | 'moveNumbers'
  | 'hideLine'
  | 'addLine'
  | 'screenLine'
  | 'nearRow'
  | 'farRow'
  | 'weighRow'
  | 'foldRows'
  | 'foldPixels'
  | 'spreadPixels'
  | 'sampleRow'
  | 'sampleLine'
  | 'sampleMesh'
  | 'mixInto'
  | 'addTinted'
  | 'layRow'
  | 'addScaled'
  | 'sumPixels'
  | 'addSpans'
  | 'yuvRowToRgba'
  | 'yuvRowsToReduced'
  | 'yuvRowToFloats'
  | 'floatRowsToI420'
  | 'wordsToFloats'
  | 'floatsToWords',
  (...numbers: number[]) => void
>
interface WebAssemblyApi {
  Memory: new (size: { initial: number }) => { buffer: ArrayBuffer }
  Module: new (bytes: Uint8Array) => object
  Instance: new (module: object, imports: object) => { exports: unknown }
}
/** Where kernels find their arrays: everything they are given must lie in `buffer`. */
export interface KernelEngine {
  buffer: ArrayBuffer
  /** First byte that is free. */
  start: number
  kernels: Kernels
}

/** Room that a 4096 x 2304 picture needs for all its buffers; untouched pages of it cost nothing. */
const engineBytes = 1536 * 1024 ** 2
const page = 65536

/** Starts the compiled kernels with a memory of their own; null where this machine can not (the plain ones serve). */
export function startKernels(bytes = engineBytes): KernelEngine | null {
  const { WebAssembly, atob } = globalThis as unknown as { WebAssembly?: WebAssemblyApi; atob(text: string): string }
  if (!WebAssembly) return null
  try {
    const memory = new WebAssembly.Memory({ initial: Math.ceil(bytes / page) })
    const module = new WebAssembly.Module(Uint8Array.from(atob(binary), (character) => character.charCodeAt(0)))
    const env = { memory, abort: () => {} }
    const { exports } = new WebAssembly.Instance(module, { env })
    return compiledKernels(memory.buffer, exports as Compiled)
  } catch {
    return null
  }
}

type Numbers = Float32Array | Int32Array | Uint32Array | Uint8Array

function compiledKernels(buffer: ArrayBuffer, compiled: Compiled): KernelEngine {
  // The first page is the compiler's own; tables that never change follow, then everything else.
  let next = page
  const tables = new Map<Numbers, number>()
  /** Address of a table's copy in the memory. */
  const table = (source: Numbers): number => {
    let address = tables.get(source)
    if (address === undefined) {
      address = next
      new Uint8Array(buffer, address, source.byteLength).set(
        new Uint8Array(source.buffer, source.byteOffset, source.byteLength),
      )
      next = Math.ceil((next + source.byteLength) / 16) * 16
      tables.set(source, address)
    }
    return address
  }
  const constantBytes = 4 * page
  const place = (array: Numbers, index: number) => array.byteOffset + index * array.BYTES_PER_ELEMENT
  const encodeAddress = table(encode8BitTable)
  const clippedAddress = table(clipped)
  const linearAddress = table(clippedLinear)

  const kernels: Kernels = {
    mixLines: (data, a, b, weight, out, start, end) =>
      compiled.mixLines(place(data, a + start), place(data, b + start), weight, place(out, start), end - start),
    enlargeLine: (line, from, end, out, shift, width) =>
      compiled.enlargeLine(place(line, from), place(out, shift), pairsOf(from, end, width)),
    addEnlargedLine: (line, from, out, to, pairs) => compiled.addEnlargedLine(place(line, from), place(out, to), pairs),
    addNumbers: (from, fromAt, to, toAt, count) => compiled.addNumbers(place(from, fromAt), place(to, toAt), count),
    weighRow: (from, fromAt, step, weights, out, outAt, count) =>
      compiled.weighRow(place(from, fromAt), 4 * step, place(weights, 0), weights.length - 1, place(out, outAt), count),
    moveNumbers: (from, fromAt, to, toAt, count) => compiled.moveNumbers(place(from, fromAt), place(to, toAt), count),
    hideLine: (line, at, hidden, hiddenAt, share, width) =>
      compiled.hideLine(place(line, at), place(hidden, hiddenAt), share, width),
    addLine: (line, at, data, to, width) => compiled.addLine(place(line, at), place(data, to), width),
    screenLine: (line, at, data, to, width) => compiled.screenLine(place(line, at), place(data, to), width),
    // Written out: thousands of calls a frame, and a spread costs more than the row.
    nearRow(near, at, width, x, y, { ux, uy, length, half, taper, round, edge, core, halos }) {
      const [r, g, b] = core
      const rows = place(halos, 0)
      compiled.nearRow(
        place(near, at),
        width,
        x,
        y,
        ux,
        uy,
        length,
        half,
        taper,
        round,
        edge,
        r,
        g,
        b,
        rows,
        halos.length / 4,
      )
    },
    farRow(data, at, width, v, vStep, u, uStep, { across, along, steps, light }) {
      const [r, g, b] = light
      compiled.farRow(place(data, at), width, v, vStep, u, uStep, place(across, 0), place(along, 0), steps, r, g, b)
    },
    foldRows: (data, a, b, c, d, out, to, count) =>
      compiled.foldRows(place(data, a), place(data, b), place(data, c), place(data, d), place(out, to), count),
    foldPixels: (line, at, out, to, count) => compiled.foldPixels(place(line, at), place(out, to), count),
    spreadPixels: (line, at, out, to, pairs) => compiled.spreadPixels(place(line, at), place(out, to), pairs),
    sampleRow: (source, width, height, places, edge, out, to, count) =>
      compiled.sampleRow(
        ...[place(source, 0), width, height, place(places, 0), edges.indexOf(edge), place(out, to), count],
      ),
    sampleLine: (source, width, height, { x, y, dx, dy }, edge, out, to, count) =>
      compiled.sampleLine(place(source, 0), width, height, x, y, dx, dy, edges.indexOf(edge), place(out, to), count),
    sampleMesh(source, width, height, nodes, step, offset, edge, out, to, count) {
      const mesh = place(nodes, 2 * Math.floor(offset / step))
      compiled.sampleMesh(
        ...[place(source, 0), width, height, mesh, step, offset % step, edges.indexOf(edge), place(out, to), count],
      )
    },
    mixInto: (from, fromAt, to, toAt, count, share) =>
      compiled.mixInto(place(from, fromAt), place(to, toAt), count, share),
    addTinted: (from, fromAt, to, toAt, count, [r, g, b, a]) =>
      compiled.addTinted(place(from, fromAt), place(to, toAt), count, r, g, b, a),
    layRow: (over, from, fromAt, to, toAt, count, share, mask, maskAt) =>
      compiled.layRow(
        ...[place(from, fromAt), place(to, toAt), count, share, mask ? place(mask, maskAt) : 0, over ? 1 : 0],
      ),
    addScaled: (from, fromAt, to, toAt, count, share) =>
      compiled.addScaled(place(from, fromAt), place(to, toAt), count, share),
    sumPixels: (line, at, out, to, count) => compiled.sumPixels(place(line, at), place(out, to), count),
    addSpans: (sums, at, span, out, to, count, share) =>
      compiled.addSpans(place(sums, at), span, place(out, to), count, share),
    yuvToRgba(yuv, out) {
      const { start, across, down } = placement(yuv, yuv.width, yuv.height)
      const [y, u, v] = yuv.planes as [Yuv['planes'][0], Yuv['planes'][0], Yuv['planes'][0]]
      const codes = table(packedTables(yuv.matrix, yuv.range))
      for (let row = 0; row < yuv.height; row++)
        compiled.yuvRowToRgba(
          ...[place(yuv.data, y.offset + row * y.stride), place(yuv.data, u.offset + (row >> 1) * u.stride)],
          ...[place(yuv.data, v.offset + (row >> 1) * v.stride), yuv.width, codes, clippedAddress],
          ...[place(out, start + row * down), across],
        )
    },
    yuvToReducedRgba(yuv, factor, out) {
      // Edges that repeat are for the plain one.
      if (yuv.width % factor || yuv.height % factor) return yuvToReducedRgba(yuv, factor, out)
      const [w, h] = [yuv.width / factor, yuv.height / factor]
      const { start, across, down } = placement(yuv, w, h)
      const [y, u, v] = yuv.planes as [Yuv['planes'][0], Yuv['planes'][0], Yuv['planes'][0]]
      const codes = table(packedTables(yuv.matrix, yuv.range))
      const cells = factor / 2
      for (let row = 0; row < h; row++)
        compiled.yuvRowsToReduced(
          ...[
            place(yuv.data, y.offset + row * factor * y.stride),
            y.stride,
            place(yuv.data, u.offset + row * cells * u.stride),
          ],
          ...[
            place(yuv.data, v.offset + row * cells * v.stride),
            u.stride,
            w,
            cells,
            codes,
            linearAddress,
            encodeAddress,
          ],
          ...[place(out, start + row * down), across],
        )
    },
    yuvToFloats(yuv, region, working, data) {
      const [y, u, v] = yuv.planes as [Yuv['planes'][0], Yuv['planes'][0], Yuv['planes'][0]]
      const codes = table(packedTables(yuv.matrix, yuv.range))
      const levels = table(clippedWorking(working))
      for (let row = 0; row < region.height; row++) {
        const py = region.y + row
        compiled.yuvRowToFloats(
          ...[place(yuv.data, y.offset + py * y.stride), place(yuv.data, u.offset + (py >> 1) * u.stride)],
          ...[
            place(yuv.data, v.offset + (py >> 1) * v.stride),
            region.x,
            region.width,
            codes,
            levels,
            place(data, 4 * row * region.width),
          ],
        )
      }
    },
    floatsToI420(data, region, back, width, height, out) {
      const chromaWidth = width >> 1
      const uStart = width * height
      const vStart = uStart + chromaWidth * (height >> 1)
      for (let row = 0; row < region.height; row += 2) {
        const chroma = ((region.y + row) >> 1) * chromaWidth + (region.x >> 1)
        compiled.floatRowsToI420(
          ...[place(data, 4 * row * region.width), 16 * region.width, region.width, table(back)],
          ...[
            place(out, (region.y + row) * width + region.x),
            width,
            place(out, uStart + chroma),
            place(out, vStart + chroma),
          ],
          ...[...toVideo.y, ...toVideo.u, ...toVideo.v],
        )
      }
    },
    wordsToFloats: (words, from, count, working, data, to) =>
      compiled.wordsToFloats(place(words, from), count, table(working), place(data, to)),
    floatsToWords: (data, from, count, back, words, to) =>
      compiled.floatsToWords(place(data, from), count, table(back), place(words, to)),
  }
  return { buffer, start: page + constantBytes, kernels }
}
