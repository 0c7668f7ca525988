import { encode8BitTable, encodeSteps, linearOf8Bit } from './transfer.ts'

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
}

/** Luma weights: ITU-R BT.709-6 and BT.601-7; green's weight is what remains. */
const weights = { bt709: [0.2126, 0.0722], bt601: [0.299, 0.114] } as const

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
  const [kr, kb] = weights[matrix]
  const kg = 1 - kr - kb
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
 * Where coded sample (x, y) of a rotated picture goes in the upright one: index = start + x * across + y * down,
 * in pixels of a row length `width` (upright).
 */
function placement(yuv: Yuv): { start: number; across: number; down: number } {
  const { width: w, height: h } = yuv
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
 * The upright picture as opaque sRGB-encoded RGBA bytes, exact to one level. Chroma is taken from the nearest
 * sample, which keeps edges as the encoder saw them. `out` holds 4 bytes a pixel, viewed as 32-bit words.
 */
export function yuvToRgba(yuv: Yuv, out: Uint32Array): void {
  const { y: ty, rv, gu, gv, bu } = tablesOf(yuv.matrix, yuv.range)
  const { data, width, height, planes } = yuv
  const { start, across, down } = placement(yuv)
  for (let row = 0; row < height; row++) {
    let lum = planes[0]!.offset + row * planes[0]!.stride
    const u = planes[1]!.offset + (row >> 1) * planes[1]!.stride
    const v = planes[2]!.offset + (row >> 1) * planes[2]!.stride
    let to = start + row * down
    for (let x = 0; x < width; x += 2) {
      const cu = data[u + (x >> 1)]!
      const cv = data[v + (x >> 1)]!
      const dr = rv[cv]!
      const dg = gu[cu]! + gv[cv]!
      const db = bu[cu]!
      const pair = x + 1 < width ? 2 : 1
      for (let k = 0; k < pair; k++) {
        const l = ty[data[lum++]!]!
        let r = (l + dr) >> 16
        let g = (l + dg) >> 16
        let b = (l + db) >> 16
        // One test for the usual case that nothing clips.
        if ((r | g | b) & ~255) {
          r = r < 0 ? 0 : r > 255 ? 255 : r
          g = g < 0 ? 0 : g > 255 ? 255 : g
          b = b < 0 ? 0 : b > 255 ? 255 : b
        }
        out[to] = 0xff000000 | (b << 16) | (g << 8) | r
        to += across
      }
    }
  }
}

const level = (linear: number): number => encode8BitTable[(linear * encodeSteps + 0.5) | 0]!

/** RGBA bytes (as words) reduced by 2 or 4 per axis by the mean in linear light; the last row and column repeat. */
export function reduceRgba(source: Uint32Array, width: number, height: number, factor: 2 | 4, out: Uint32Array): void {
  const w = Math.ceil(width / factor)
  const h = Math.ceil(height / factor)
  const share = 1 / (factor * factor)
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      let [r, g, b] = [0, 0, 0]
      for (let j = 0; j < factor; j++) {
        const row = Math.min(height - 1, y * factor + j) * width
        for (let i = 0; i < factor; i++) {
          const pixel = source[row + Math.min(width - 1, x * factor + i)]!
          r += linearOf8Bit[pixel & 255]!
          g += linearOf8Bit[(pixel >> 8) & 255]!
          b += linearOf8Bit[(pixel >> 16) & 255]!
        }
      }
      out[y * w + x] = 0xff000000 | (level(b * share) << 16) | (level(g * share) << 8) | level(r * share)
    }
  }
}

/**
 * Encoded RGBA bytes (alpha ignored) to tightly packed I420 in BT.709 limited range, chroma as the mean of
 * four. Width and height must be even. The inverse of what a player does with the file.
 */
export function rgbaToI420(rgba: Uint8Array | Uint8ClampedArray, width: number, height: number, out: Uint8Array): void {
  const [kr, kb] = weights.bt709
  const kg = 1 - kr - kb
  const one = 65536
  const yr = Math.round(((kr * 219) / 255) * one)
  const yg = Math.round(((kg * 219) / 255) * one)
  const yb = Math.round(((kb * 219) / 255) * one)
  const cu = 224 / 255 / (2 * (1 - kb)) / 4
  const cv = 224 / 255 / (2 * (1 - kr)) / 4
  const [ur, ug, ub] = [-kr * cu, -kg * cu, (1 - kb) * cu].map((w) => Math.round(w * one)) as [number, number, number]
  const [vr, vg, vb] = [(1 - kr) * cv, -kg * cv, -kb * cv].map((w) => Math.round(w * one)) as [number, number, number]
  const chromaWidth = width >> 1
  const uStart = width * height
  const vStart = uStart + chromaWidth * (height >> 1)
  const half = one / 2
  for (let y = 0; y < height; y += 2) {
    for (let x = 0; x < width; x += 2) {
      let [r4, g4, b4] = [0, 0, 0]
      for (let j = 0; j < 2; j++) {
        for (let i = 0; i < 2; i++) {
          const at = (y + j) * width + x + i
          const r = rgba[4 * at]!
          const g = rgba[4 * at + 1]!
          const b = rgba[4 * at + 2]!
          r4 += r
          g4 += g
          b4 += b
          out[at] = 16 + ((r * yr + g * yg + b * yb + half) >> 16)
        }
      }
      const to = (y >> 1) * chromaWidth + (x >> 1)
      out[uStart + to] = 128 + ((r4 * ur + g4 * ug + b4 * ub + half) >> 16)
      out[vStart + to] = 128 + ((r4 * vr + g4 * vg + b4 * vb + half) >> 16)
    }
  }
}
