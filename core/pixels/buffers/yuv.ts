import type { Rect } from '../../geometry/rect.ts'
import { lumaWeights } from '../colour/luminance.ts'
import { encode8BitTable, encodeSteps, linearOf8Bit } from '../colour/transfer.ts'
import type { RgbaArea } from './picture.ts'

/** Planar 4:2:0 picture, 8 bits: luma at full size, chroma at half, rounded up. */
export interface Yuv {
  data: Uint8Array
  /** Size of the coded picture in pixels, before rotation. */
  width: number
  height: number
  /** Byte offset and stride of the three planes. */
  planes: { offset: number; stride: number }[]
  matrix: 'bt709' | 'bt601'
  range: 'limited' | 'full'
  /** Clockwise degrees that make the picture upright. */
  rotation: 0 | 90 | 180 | 270
  /** Names what is in it: frames of one name are the same, and what was made of one need not be made of the next. */
  name?: string
  /** Pixels of the clip in one of these, along a side, where the frame was made smaller as it was read; else 1. */
  reduced?: 2 | 4
  /** The pixels themselves where the frame is a picture file: RGBA bytes with straight alpha, for who can use them. */
  rgba?: Uint8Array
  /** Its linear light, RGBA premultiplied by alpha, where the picture file holds more than those bytes do. */
  light?: Float32Array
}

/** A tightly packed 4:2:0 picture of an even size to be written: luma, then both chroma planes. */
export interface I420 {
  data: Uint8Array
  width: number
  height: number
}

/** Bytes and planes of a tightly packed I420 picture. */
export function i420Layout(width: number, height: number): { bytes: number; planes: Yuv['planes'] } {
  const cw = (width + 1) >> 1
  const ch = (height + 1) >> 1
  return {
    bytes: width * height + 2 * cw * ch,
    planes: [
      { offset: 0, stride: width },
      { offset: width * height, stride: cw },
      { offset: width * height + cw * ch, stride: cw },
    ],
  }
}

/**
 * Luma and the pairs of chroma that hardware decodes to (NV12: the second plane holds a U and a V for every two by two pixels) as the three
 * planes of `out`, tightly packed.
 */
export function splitNv12(
  raw: Uint8Array,
  [luma, chroma]: [luma: Yuv['planes'][number], chroma: Yuv['planes'][number]],
  out: Pick<Yuv, 'data' | 'width' | 'height' | 'planes'>,
): void {
  const { data, width, height, planes } = out
  const [, u, v] = planes
  for (let y = 0; y < height; y++) {
    const from = luma.offset + y * luma.stride
    data.set(raw.subarray(from, from + width), y * width)
  }
  const [w, h] = [(width + 1) >> 1, (height + 1) >> 1]
  for (let y = 0; y < h; y++) {
    const toU = u!.offset + y * u!.stride
    const toV = v!.offset + y * v!.stride
    for (let x = 0, from = chroma.offset + y * chroma.stride; x < w; x++, from += 2) {
      data[toU + x] = raw[from]!
      data[toV + x] = raw[from + 1]!
    }
  }
}

/**
 * A picture made smaller by 2 or 4 along each side, rounded up: every code is the mean of those that it stands for, the last row and column
 * repeat. `room` makes its bytes. What the frame holds beside its codes, as alpha, stays with the whole one.
 */
export function reducedI420(yuv: Yuv, factor: 2 | 4, room: (bytes: number) => Uint8Array): Yuv {
  const [width, height] = [Math.ceil(yuv.width / factor), Math.ceil(yuv.height / factor)]
  const { bytes, planes } = i420Layout(width, height)
  const out = room(bytes)
  const { data, matrix, range, rotation } = yuv
  planes.forEach(({ offset: to, stride: w }, plane) => {
    const { offset, stride } = yuv.planes[plane]!
    const [fromWidth, fromHeight] = plane ? [(yuv.width + 1) >> 1, (yuv.height + 1) >> 1] : [yuv.width, yuv.height]
    const h = plane ? (height + 1) >> 1 : height
    const aligned = (data.byteOffset | offset | stride) % 4 === 0
    // Two or one of what comes out are made of whole words of the plane; the rest code by code.
    const whole = aligned ? { x: (fromWidth >> 2) * (4 / factor), y: Math.floor(fromHeight / factor) } : { x: 0, y: 0 }
    if (aligned) {
      const words = new Uint32Array(data.buffer, data.byteOffset + offset, (stride * fromHeight) >> 2)
      for (let y = 0; y < whole.y; y++)
        reducedRow(words, (y * factor * stride) >> 2, stride >> 2, factor, out, to + y * w, whole.x)
    }
    for (let y = 0; y < h; y++)
      for (let x = y < whole.y ? whole.x : 0; x < w; x++) {
        let sum = (factor * factor) >> 1
        for (let j = 0; j < factor; j++)
          for (let i = 0; i < factor; i++) {
            const [column, row] = [Math.min(fromWidth - 1, x * factor + i), Math.min(fromHeight - 1, y * factor + j)]
            sum += data[offset + row * stride + column]!
          }
        out[to + y * w + x] = sum / (factor * factor)
      }
  })
  const reduced = ((yuv.reduced ?? 1) * factor) as 2 | 4
  return { data: out, width, height, planes, matrix, range, rotation, reduced }
}

/**
 * `count` codes of a row that is made smaller, from `factor` rows of `stride` words: four codes are added at a time, two in each half of
 * a word, which is eight times as fast as one by one.
 */
function reducedRow(
  words: Uint32Array,
  at: number,
  stride: number,
  factor: 2 | 4,
  out: Uint8Array,
  to: number,
  count: number,
): void {
  const low = 0x00ff00ff
  if (factor === 2)
    for (let x = 0; x < count; x += 2, at++) {
      const a = words[at]!
      const b = words[at + stride]!
      const sums = (a & low) + ((a >>> 8) & low) + (b & low) + ((b >>> 8) & low) + 0x00020002
      out[to + x] = (sums & 0xffff) >> 2
      out[to + x + 1] = sums >>> 18
    }
  else
    for (let x = 0; x < count; x++, at++) {
      let sums = 0
      for (let j = 0, from = at; j < 4; j++, from += stride) {
        const word = words[from]!
        sums += (word & low) + ((word >>> 8) & low)
      }
      out[to + x] = ((sums & 0xffff) + (sums >>> 16) + 8) >> 4
    }
}

/** Contributions of each 8-bit code to the encoded R, G, B in levels, 16 fractional bits. */
interface Tables {
  y: Int32Array
  rv: Int32Array
  gu: Int32Array
  gv: Int32Array
  bu: Int32Array
}
const tableCache = new Map<string, Tables>()

function tablesOf(matrix: Yuv['matrix'], range: Yuv['range']): Tables {
  const name = matrix + range
  const known = tableCache.get(name)
  if (known) return known
  const [kr, kg, kb] = lumaWeights[matrix]
  const [yScale, cScale, floor] = range === 'limited' ? [255 / 219, 255 / 224, 16] : [1, 1, 0]
  const table = (of: (code: number) => number) => Int32Array.from({ length: 256 }, (_, i) => Math.round(of(i) * 65536))
  const tables = {
    y: table((code) => (code - floor) * yScale + 0.5),
    rv: table((code) => (code - 128) * cScale * 2 * (1 - kr)),
    gu: table((code) => ((code - 128) * cScale * -2 * kb * (1 - kb)) / kg),
    gv: table((code) => ((code - 128) * cScale * -2 * kr * (1 - kr)) / kg),
    bu: table((code) => (code - 128) * cScale * 2 * (1 - kb)),
  }
  tableCache.set(name, tables)
  return tables
}

/** Size of the upright picture. */
export function uprightSize(yuv: Pick<Yuv, 'width' | 'height' | 'rotation'>): { width: number; height: number } {
  return yuv.rotation % 180 ? { width: yuv.height, height: yuv.width } : { width: yuv.width, height: yuv.height }
}

/**
 * Where sample (x, y) of a coded picture of w x h goes in the upright one: index = start + x * across + y * down,
 * in pixels of a row length `width` (upright).
 */
export function placement(yuv: Yuv, w: number, h: number): { start: number; across: number; down: number } {
  switch (yuv.rotation) {
    case 90:
      return { start: h - 1, across: h, down: -1 }
    case 180:
      return { start: w * h - 1, across: -1, down: -w }
    case 270:
      return { start: (w - 1) * h, across: -h, down: 1 }
    default:
      return { start: 0, across: 1, down: w }
  }
}

/**
 * Where the first sample of the upright picture lies in a coded plane, and where its step to the right and its step down
 * lead there. `width` and `height`: of the coded plane.
 */
export function uprightSteps(
  rotation: Yuv['rotation'],
  width: number,
  height: number,
  stride: number,
): { start: number; right: number; down: number } {
  switch (rotation) {
    case 90:
      return { start: (height - 1) * stride, right: -stride, down: 1 }
    case 180:
      return { start: (height - 1) * stride + width - 1, right: -1, down: -stride }
    case 270:
      return { start: width - 1, right: stride, down: -1 }
    default:
      return { start: 0, right: 1, down: stride }
  }
}

/** Levels that a pixel can come to before clipping lie in -offset .. 1023 - offset. */
const offset = 384
export const clipped = Uint8Array.from({ length: 1024 }, (_, i) => Math.max(0, Math.min(255, i - offset)))
export const clippedLinear = Float32Array.from({ length: 1024 }, (_, i) => linearOf8Bit[clipped[i]!]!)

/** Working values by unclipped level, from 256 by code; made once per table. */
export function clippedWorking(working: Float32Array): Float32Array {
  let table = workingCache.get(working)
  if (!table) workingCache.set(working, (table = Float32Array.from(clipped, (code) => working[code]!)))
  return table
}
const workingCache = new WeakMap<Float32Array, Float32Array>()

/** The five tables of a matrix and range in a row: y, rv, gu, gv, bu. */
export function packedTables(matrix: Yuv['matrix'], range: Yuv['range']): Int32Array {
  const name = `${matrix} ${range}`
  let packed = packedCache.get(name)
  if (!packed) {
    const { y, rv, gu, gv, bu } = tablesOf(matrix, range)
    packed = new Int32Array(5 * 256)
    ;[y, rv, gu, gv, bu].forEach((table, i) => packed!.set(table, 256 * i))
    packedCache.set(name, packed)
  }
  return packed
}
const packedCache = new Map<string, Int32Array>()

/**
 * The upright picture as opaque sRGB-encoded RGBA bytes, exact to one level. Chroma is taken from the nearest
 * sample, which keeps edges as the encoder saw them. `out` holds 4 bytes a pixel, viewed as 32-bit words.
 */
export function yuvToRgba(yuv: Yuv, out: Uint32Array): void {
  const { y: ty, rv, gu, gv, bu } = tablesOf(yuv.matrix, yuv.range)
  const { data, width, height, planes } = yuv
  const { start, across, down } = placement(yuv, width, height)
  for (let row = 0; row < height; row++) {
    let lum = planes[0]!.offset + row * planes[0]!.stride
    let u = planes[1]!.offset + (row >> 1) * planes[1]!.stride
    let v = planes[2]!.offset + (row >> 1) * planes[2]!.stride
    let to = start + row * down
    for (let x = 0; x < width; x += 2) {
      const cu = data[u++]!
      const cv = data[v++]!
      const dr = rv[cv]! + (offset << 16)
      const dg = gu[cu]! + gv[cv]! + (offset << 16)
      const db = bu[cu]! + (offset << 16)
      const l = ty[data[lum++]!]!
      out[to] =
        0xff000000 | (clipped[(l + db) >> 16]! << 16) | (clipped[(l + dg) >> 16]! << 8) | clipped[(l + dr) >> 16]!
      to += across
      if (x + 1 === width) break
      const m = ty[data[lum++]!]!
      out[to] =
        0xff000000 | (clipped[(m + db) >> 16]! << 16) | (clipped[(m + dg) >> 16]! << 8) | clipped[(m + dr) >> 16]!
      to += across
    }
  }
}

const level = (linear: number): number => encode8BitTable[(linear * encodeSteps + 0.5) | 0]!

/**
 * The upright picture reduced by 2 or 4 per axis, by the mean of light and not of codes; the last row and column
 * repeat. `out` holds ceil(width / factor) * ceil(height / factor) words.
 */
export function yuvToReducedRgba(yuv: Yuv, factor: 2 | 4, out: Uint32Array): void {
  const { y: ty, rv, gu, gv, bu } = tablesOf(yuv.matrix, yuv.range)
  const { data, width, height, planes } = yuv
  const [w, h] = [Math.ceil(width / factor), Math.ceil(height / factor)]
  const { start, across, down } = placement(yuv, w, h)
  const share = 1 / (factor * factor)
  const cells = factor / 2
  const [lastX, lastY] = [width - 1, height - 1]
  for (let row = 0; row < h; row++) {
    let to = start + row * down
    for (let column = 0; column < w; column++, to += across) {
      let r = 0
      let g = 0
      let b = 0
      // A chroma sample covers two by two pixels: its part of the sum is looked up once for the four.
      for (let j = 0; j < cells; j++) {
        const y0 = row * factor + 2 * j
        const cy = y0 > lastY ? lastY >> 1 : y0 >> 1
        const top = planes[0]!.offset + (y0 > lastY ? lastY : y0) * planes[0]!.stride
        const bottom = planes[0]!.offset + (y0 + 1 > lastY ? lastY : y0 + 1) * planes[0]!.stride
        for (let i = 0; i < cells; i++) {
          const x0 = column * factor + 2 * i > lastX ? lastX : column * factor + 2 * i
          const x1 = x0 + 1 > lastX ? lastX : x0 + 1
          const cu = data[planes[1]!.offset + cy * planes[1]!.stride + (x0 >> 1)]!
          const cv = data[planes[2]!.offset + cy * planes[2]!.stride + (x0 >> 1)]!
          const dr = rv[cv]! + (offset << 16)
          const dg = gu[cu]! + gv[cv]! + (offset << 16)
          const db = bu[cu]! + (offset << 16)
          const l0 = ty[data[top + x0]!]!
          const l1 = ty[data[top + x1]!]!
          const l2 = ty[data[bottom + x0]!]!
          const l3 = ty[data[bottom + x1]!]!
          r +=
            clippedLinear[(l0 + dr) >> 16]! +
            clippedLinear[(l1 + dr) >> 16]! +
            clippedLinear[(l2 + dr) >> 16]! +
            clippedLinear[(l3 + dr) >> 16]!
          g +=
            clippedLinear[(l0 + dg) >> 16]! +
            clippedLinear[(l1 + dg) >> 16]! +
            clippedLinear[(l2 + dg) >> 16]! +
            clippedLinear[(l3 + dg) >> 16]!
          b +=
            clippedLinear[(l0 + db) >> 16]! +
            clippedLinear[(l1 + db) >> 16]! +
            clippedLinear[(l2 + db) >> 16]! +
            clippedLinear[(l3 + db) >> 16]!
        }
      }
      out[to] = 0xff000000 | (level(b * share) << 16) | (level(g * share) << 8) | level(r * share)
    }
  }
}

/**
 * The pixels of `region` (within the picture, rotation 0) as RGBA floats: each encoded level through `working`, 256
 * entries. `data` holds region.width * region.height * 4 numbers.
 */
export function yuvToFloats(yuv: Yuv, region: Rect, working: Float32Array, data: Float32Array): void {
  const { y: ty, rv, gu, gv, bu } = tablesOf(yuv.matrix, yuv.range)
  const { data: codes, planes } = yuv
  const table = clippedWorking(working)
  let to = 0
  for (let row = region.y; row < region.y + region.height; row++) {
    const lum = planes[0]!.offset + row * planes[0]!.stride
    const u = planes[1]!.offset + (row >> 1) * planes[1]!.stride
    const v = planes[2]!.offset + (row >> 1) * planes[2]!.stride
    for (let x = region.x; x < region.x + region.width; x++, to += 4) {
      const cu = codes[u + (x >> 1)]!
      const cv = codes[v + (x >> 1)]!
      const l = ty[codes[lum + x]!]! + (offset << 16)
      data[to] = table[(l + rv[cv]!) >> 16]!
      data[to + 1] = table[(l + gu[cu]! + gv[cv]!) >> 16]!
      data[to + 2] = table[(l + bu[cu]!) >> 16]!
      data[to + 3] = 1
    }
  }
}

/** Copies a picture to tightly packed I420 of an even size, cut at its right and bottom edge; nothing is converted. */
export function copyI420(yuv: Yuv, width: number, height: number, out: Uint8Array): void {
  let to = 0
  yuv.planes.forEach(({ offset: from, stride }, plane) => {
    const [w, h] = plane ? [width >> 1, height >> 1] : [width, height]
    for (let y = 0; y < h; y++, to += w) out.set(yuv.data.subarray(from + y * stride, from + y * stride + w), to)
  })
}

/** Weights of R, G, B (0..255) in limited-range BT.709 codes, 16 fractional bits; chroma as the mean of four. */
export const toVideo = (() => {
  const [kr, kg, kb] = lumaWeights.bt709
  const round = (list: number[]) => list.map((w) => Math.round(w * 65536)) as [number, number, number]
  const cu = 224 / 255 / (2 * (1 - kb)) / 4
  const cv = 224 / 255 / (2 * (1 - kr)) / 4
  return {
    y: round([kr, kg, kb].map((k) => (k * 219) / 255)),
    u: round([-kr * cu, -kg * cu, (1 - kb) * cu]),
    v: round([(1 - kr) * cv, -kg * cv, -kb * cv]),
  }
})()

/**
 * Writes encoded colours of `region` (even origin and size) into tightly packed I420 in BT.709
 * limited range. `numbers`: the region's RGBA, levels 0..255, or working values that `table` turns to levels.
 */
function writeI420(
  numbers: ArrayLike<number>,
  region: Rect,
  table: Uint8Array | null,
  { data: out, width, height }: I420,
): void {
  const [yr, yg, yb] = toVideo.y
  const [ur, ug, ub] = toVideo.u
  const [vr, vg, vb] = toVideo.v
  const chromaWidth = width >> 1
  const uStart = width * height
  const vStart = uStart + chromaWidth * (height >> 1)
  const half = 32768
  const read = (value: number) => (table ? table[value >= 1 ? encodeSteps : (value * encodeSteps + 0.5) | 0]! : value)
  for (let y = 0; y < region.height; y += 2) {
    for (let x = 0; x < region.width; x += 2) {
      let r4 = 0
      let g4 = 0
      let b4 = 0
      for (let k = 0; k < 4; k++) {
        const [dx, dy] = [k & 1, k >> 1]
        const from = 4 * ((y + dy) * region.width + x + dx)
        const r = read(numbers[from]!)
        const g = read(numbers[from + 1]!)
        const b = read(numbers[from + 2]!)
        r4 += r
        g4 += g
        b4 += b
        out[(region.y + y + dy) * width + region.x + x + dx] = 16 + ((r * yr + g * yg + b * yb + half) >> 16)
      }
      const to = ((region.y + y) >> 1) * chromaWidth + ((region.x + x) >> 1)
      out[uStart + to] = 128 + ((r4 * ur + g4 * ug + b4 * ub + half) >> 16)
      out[vStart + to] = 128 + ((r4 * vr + g4 * vg + b4 * vb + half) >> 16)
    }
  }
}

/**
 * Encoded RGBA bytes (alpha ignored) to tightly packed I420 in BT.709 limited range, chroma as the mean of four.
 * Width and height must be even. The inverse of what a player does with the file.
 */
export function rgbaToI420(rgba: Uint8Array | Uint8ClampedArray, width: number, height: number, out: Uint8Array): void {
  writeI420(rgba, { x: 0, y: 0, width, height }, null, { data: out, width, height })
}

/** Working floats of a region back into the I420 picture they came from; `table` turns them to encoded levels. */
export function floatsToI420({ data, region }: RgbaArea, table: Uint8Array, out: I420): void {
  writeI420(data, region, table, out)
}

/**
 * A frame with its plane of alpha (255 for what covers, in the frame's own data) as pixels of their own, straight as it was coded. `room`
 * makes their bytes.
 */
export function withAlpha(
  yuv: Yuv,
  { offset, stride }: Yuv['planes'][number],
  room: (bytes: number) => Uint8Array = (bytes) => new Uint8Array(bytes),
): Yuv {
  const { data, width, height } = yuv
  const rgba = room(4 * width * height)
  yuvToRgba(yuv, new Uint32Array(rgba.buffer))
  for (let y = 0, to = 3; y < height; y++)
    for (let x = 0; x < width; x++, to += 4) rgba[to] = data[offset + y * stride + x]!
  return { ...yuv, rgba }
}
