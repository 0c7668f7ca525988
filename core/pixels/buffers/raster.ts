import { say } from '../../say.ts'
import { deflateSync, inflateSync } from 'fflate'
import { type Rect, unite } from '../../geometry/rect.ts'
import { Refusal } from '../../refusal.ts'

/** Both are everywhere where this runs, but in no library of types that leaves the page out. */
const { atob, btoa } = globalThis as unknown as Record<'atob' | 'btoa', (text: string) => string>

/** A matte made of pixels: 0..255 each, over a box of whole plate pixels. */
export interface Raster extends Rect {
  data: Uint8Array
}

/** A raster as records keep it: rows as differences from the row above, deflated, in base 64. */
export interface PackedRaster extends Rect {
  data: string
}

/** The matte cut to what of it is not 0; null where nothing is. */
export function rasterOf(data: Uint8Array, box: Rect): Raster | null {
  const { width, height } = box
  let [x0, y0, x1, y1] = [width, height, -1, -1]
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      if (data[y * width + x]) {
        if (x < x0) x0 = x
        if (x > x1) x1 = x
        if (y < y0) y0 = y
        y1 = y
      }
  if (x1 < 0) return null
  const cut = { x: box.x + x0, y: box.y + y0, width: x1 - x0 + 1, height: y1 - y0 + 1 }
  const out = new Uint8Array(cut.width * cut.height)
  for (let y = 0; y < cut.height; y++) {
    const at = (y0 + y) * width + x0
    out.set(data.subarray(at, at + cut.width), y * cut.width)
  }
  return { ...cut, data: out }
}

export function packed({ x, y, width, height, data }: Raster): PackedRaster {
  const rows = data.slice()
  for (let i = rows.length - 1; i >= width; i--) rows[i]! -= rows[i - width]!
  const bytes = deflateSync(rows, { level: 6 })
  let text = ''
  for (let at = 0; at < bytes.length; at += 4096) text += String.fromCharCode(...bytes.subarray(at, at + 4096))
  return { x, y, width, height, data: btoa(text) }
}

const unpacked = new WeakMap<PackedRaster, Raster>()

/** Throws a sentence where the bytes do not make the picture that the box promises. Records are frozen: made once each. */
export function rasterFrom(from: PackedRaster): Raster {
  const known = unpacked.get(from)
  if (known) return known
  const { x, y, width, height } = from
  let data: Uint8Array
  try {
    data = inflateSync(
      Uint8Array.from(atob(from.data), (letter) => letter.charCodeAt(0)),
      { out: new Uint8Array(width * height + 1) },
    )
  } catch {
    throw new Refusal(say`A painted matte could not be read; paint its frame again.`)
  }
  if (data.length !== width * height) throw new Refusal(say`A painted matte does not have the size of its box.`)
  for (let i = width; i < data.length; i++) data[i]! += data[i - width]!
  const raster = { x, y, width, height, data }
  unpacked.set(from, raster)
  return raster
}

/**
 * The oval of the same area, place and spread: centre and the ends of both half-axes, six numbers in plate pixels. A filled
 * ellipse has along each half-axis a a spread (second moment) of a²/4.
 */
export function ovalOf({ x, y, width, height, data }: Raster): number[] {
  let [m, sx, sy] = [0, 0, 0]
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      const v = data[j * width + i]!
      m += v
      sx += v * (i + 0.5)
      sy += v * (j + 0.5)
    }
  const [cx, cy] = [sx / m, sy / m]
  let [xx, xy, yy] = [0, 0, 0]
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      const v = data[j * width + i]!
      const [dx, dy] = [i + 0.5 - cx, j + 0.5 - cy]
      xx += v * dx * dx
      xy += v * dx * dy
      yy += v * dy * dy
    }
  // Half of the difference and the half-sum of both spreads, and the way of the longer one.
  const turn = 0.5 * Math.atan2(2 * xy, xx - yy)
  const [mean, apart] = [(xx + yy) / 2 / m, Math.hypot((xx - yy) / 2, xy) / m]
  const long = 2 * Math.sqrt(mean + apart)
  const short = 2 * Math.sqrt(Math.max(1e-3, mean - apart))
  // Spread and area together: the axes in the proportion of the spreads, as large as what is covered.
  const size = Math.sqrt(m / 255 / (Math.PI * long * short))
  const [a, b] = [Math.max(0.5, long * size), Math.max(0.5, short * size)]
  const [px, py] = [x + cx, y + cy]
  const [c, s] = [Math.cos(turn), Math.sin(turn)]
  const round = (v: number) => Math.round(v * 1000) / 1000
  return [px, py, px + a * c, py + a * s, px - b * s, py + b * c].map(round)
}

/** How much a matte covers the pixel at a place in plate pixels, 0 to 1. */
export function coverAt({ x, y, width, height, data }: Raster, px: number, py: number): number {
  const [i, j] = [Math.floor(px - x), Math.floor(py - y)]
  return i < 0 || j < 0 || i >= width || j >= height ? 0 : data[j * width + i]! / 255
}

/** Intersection over union of two mattes, 0 to 1. */
export function overlapOfRasters(a: Raster, b: Raster): number {
  const box = unite(a, b)
  let [both, either] = [0, 0]
  for (let y = box.y; y < box.y + box.height; y++)
    for (let x = box.x; x < box.x + box.width; x++) {
      const [p, q] = [coverAt(a, x + 0.5, y + 0.5), coverAt(b, x + 0.5, y + 0.5)]
      both += Math.min(p, q)
      either += Math.max(p, q)
    }
  return either ? both / either : 0
}

/** Two mattes of the same frame laid together: `share` of the second. */
export function mixed(a: Raster, b: Raster, share: number): Raster {
  const box = unite(a, b)
  const data = new Uint8Array(box.width * box.height)
  for (let y = 0, i = 0; y < box.height; y++)
    for (let x = 0; x < box.width; x++, i++) {
      const [px, py] = [box.x + x + 0.5, box.y + y + 0.5]
      data[i] = Math.round(255 * ((1 - share) * coverAt(a, px, py) + share * coverAt(b, px, py)))
    }
  return { ...box, data }
}

/** Pixels that it covers, each by its share. */
export const areaOfRaster = ({ data }: Raster): number => data.reduce((sum, v) => sum + v / 255, 0)
