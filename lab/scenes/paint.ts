import { type ClosedPath, flatten } from '#core/geometry/path.ts'
import { boundsOf, intersect, type Rect } from '#core/geometry/rect.ts'
import { coverPolygon } from '#core/matte/coverage.ts'
import { hashed } from '#core/pixels/filters/noise.ts'
import { smoothNodes } from '#core/shapes/kinds/outline.ts'

export type Rgb = [number, number, number]
/** Premultiplied linear RGBA floats. */
export interface Canvas {
  data: Float32Array
  width: number
  height: number
}

export const canvas = (width: number, height: number): Canvas => ({
  data: new Float32Array(width * height * 4),
  width,
  height,
})

/** What is made at its first use and kept: a scene's world is not drawn by who asks for its truth only. */
export function once<T>(make: () => T): () => T {
  let made: T | undefined
  return () => (made ??= make())
}

export const mix = (a: number, b: number, u: number): number => a + (b - a) * u
export const clamp = (v: number, low = 0, high = 1): number => Math.min(high, Math.max(low, v))
export const smooth = (low: number, high: number, v: number): number => {
  const u = clamp((v - low) / (high - low))
  return u * u * (3 - 2 * u)
}

/** Value noise in 0..1 with cells of one unit. */
export function noise(x: number, y: number, seed: number): number {
  const [ix, iy] = [Math.floor(x), Math.floor(y)]
  const [u, v] = [smooth(0, 1, x - ix), smooth(0, 1, y - iy)]
  return mix(
    mix(hashed(ix, iy, seed), hashed(ix + 1, iy, seed), u),
    mix(hashed(ix, iy + 1, seed), hashed(ix + 1, iy + 1, seed), u),
    v,
  )
}

/** Several octaves of noise, 0..1. */
export function cloud(x: number, y: number, seed: number, octaves = 4): number {
  let [sum, weight, total] = [0, 1, 0]
  for (let i = 0; i < octaves; i++) {
    sum += weight * noise(x * 2 ** i, y * 2 ** i, seed + i)
    total += weight
    weight *= 0.5
  }
  return sum / total
}

const cover = { buffer: new Float32Array(0) }

/** Fills a polygon, shaded per pixel, over what is there. */
export function fill(target: Canvas, points: number[], shade: (x: number, y: number) => Rgb, opacity = 1): void {
  const frame: Rect = { x: 0, y: 0, width: target.width, height: target.height }
  const region = intersect(boundsOf(points, 1), frame)
  const size = region.width * region.height
  if (size <= 0) return
  if (cover.buffer.length < size) cover.buffer = new Float32Array(size)
  coverPolygon(points, region, cover.buffer)
  for (let y = 0; y < region.height; y++) {
    for (let x = 0; x < region.width; x++) {
      const a = cover.buffer[y * region.width + x]! * opacity
      if (a <= 0) continue
      const at = 4 * ((region.y + y) * target.width + region.x + x)
      const colour = shade(region.x + x + 0.5, region.y + y + 0.5)
      for (let c = 0; c < 3; c++) target.data[at + c] = target.data[at + c]! * (1 - a) + colour[c]! * a
      target.data[at + 3] = target.data[at + 3]! * (1 - a) + a
    }
  }
}

/** Smooth closed outline through places: per node the node and the handles before and after it, six numbers a node. */
export const nodesThrough = (places: number[]): number[] => smoothNodes(places).filter((_, i) => i % 8 < 6)
/** Six numbers a node as the truth has them to eight as an outline has: its edge fades as the part's does. */
export const outlineNodes = (nodes: number[]) =>
  Array.from({ length: nodes.length / 6 }, (_, i) => [
    ...nodes.slice(6 * i, 6 * i + 6),
    ...nodes.slice(6 * i, 6 * i + 2),
  ]).flat()
export const polygonOf = (nodes: number[]): number[] => flatten(pathOf(nodes), 0.1)
function pathOf(nodes: number[]): ClosedPath {
  const out = nodes.slice(0, 2)
  for (let i = 0; i < nodes.length; i += 6) {
    const j = (i + 6) % nodes.length
    out.push(...nodes.slice(i + 4, i + 6), ...nodes.slice(j + 2, j + 4), ...nodes.slice(j, j + 2))
  }
  return out
}

/** A limb: a tapered bar with round ends, as places for a smooth outline. */
export function limb(x0: number, y0: number, x1: number, y1: number, w0: number, w1: number): number[] {
  const a = Math.atan2(y1 - y0, x1 - x0)
  const at = (x: number, y: number, w: number, turn: number) => [x + Math.cos(a + turn) * w, y + Math.sin(a + turn) * w]
  const h = Math.PI / 2
  return [
    ...[...at(x0, y0, w0, h), ...at(x0, y0, w0, h * 1.6), ...at(x0, y0, w0, h * 2.4), ...at(x0, y0, w0, -h)],
    ...[...at(x1, y1, w1, -h), ...at(x1, y1, w1, -h * 0.4), ...at(x1, y1, w1, h * 0.4), ...at(x1, y1, w1, h)],
  ]
}

/** Out of focus: three box blurs of `radius` pixels in each direction, nearly a Gaussian. */
export function defocused(image: Canvas, radius: number): Canvas {
  const { width, height } = image
  const line = new Float32Array(Math.max(width, height) * 4)
  const pass = (count: number, length: number, stride: number, step: number) => {
    for (let n = 0; n < count; n++)
      for (let c = 0; c < 4; c++) {
        for (let i = 0; i < length; i++) line[i] = image.data[n * stride + i * step + c]!
        const at = (i: number) => line[Math.max(0, Math.min(length - 1, i))]!
        let sum = 0
        for (let i = -radius; i <= radius; i++) sum += at(i)
        for (let i = 0; i < length; i++) {
          image.data[n * stride + i * step + c] = sum / (2 * radius + 1)
          sum += at(i + radius + 1) - at(i - radius)
        }
      }
  }
  for (let i = 0; i < 3; i++) {
    pass(height, width, 4 * width, 4)
    pass(width, height, 4, 4 * width)
  }
  return image
}

/** Points moved by a turn about (cx, cy) and a shift. */
export function placed(points: number[], x: number, y: number, turn = 0, size = 1): number[] {
  const [c, s] = [Math.cos(turn) * size, Math.sin(turn) * size]
  return points.map((_, i) =>
    i % 2 ? y + s * points[i - 1]! + c * points[i]! : x + c * points[i]! - s * points[i + 1]!,
  )
}

/** A value through keys [time, value], easing in and out of each. */
export function through(keys: [number, number][], t: number): number {
  const next = keys.findIndex(([time]) => time > t)
  if (next === 0) return keys[0]![1]
  if (next < 0) return keys.at(-1)![1]
  const [t0, v0] = keys[next - 1]!
  const [t1, v1] = keys[next]!
  // Slopes of the neighbours (a Catmull-Rom curve in time), so that the motion runs on through a key.
  const slope = (i: number) => {
    const [a, b] = [keys[Math.max(0, i - 1)]!, keys[Math.min(keys.length - 1, i + 1)]!]
    const turns = i > 0 && i < keys.length - 1 && (keys[i]![1] - a[1]) * (b[1] - keys[i]![1]) <= 0
    return turns || a === b ? 0 : (b[1] - a[1]) / (b[0] - a[0])
  }
  const d = t1 - t0
  const u = (t - t0) / d
  const [m0, m1] = [slope(next - 1) * d, slope(next) * d]
  return (
    (2 * u ** 3 - 3 * u ** 2 + 1) * v0 +
    (u ** 3 - 2 * u ** 2 + u) * m0 +
    (3 * u ** 2 - 2 * u ** 3) * v1 +
    (u ** 3 - u ** 2) * m1
  )
}
