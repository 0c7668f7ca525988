import { boundsOf, intersect, isEmpty, noRect, type Rect } from '../geometry/rect.ts'
import { uprightSize, type Yuv, yuvToRgba } from '../pixels/buffers/yuv.ts'
import { motionOf } from '../records/plate.ts'
import type { Plate } from '../records/types.ts'
import { apart } from './strokes.ts'

/** A stroke over a clean plate that brings in what another frame shows. Frames are frames of the clip. */
export interface BroughtStroke {
  /** Frame that it was drawn on, and the one whose picture it brings. */
  frame: number
  source: number
  /** Places on the frame, and its whole width, in plate pixels. */
  points: readonly number[]
  size: number
}

/**
 * Lays what `shown` (the decoded source frame) shows over the still of a clean plate, in place, where the stroke is; its
 * edge is soft over a quarter of its width. Returns whether the plate knows both frames, else nothing is done.
 */
export function bringFrame(
  { words, width, height }: { words: Uint32Array; width: number; height: number },
  plate: Plate,
  { frame, source, points, size }: BroughtStroke,
  shown: Yuv,
): boolean {
  const [here, there] = [motionOf(plate, frame), motionOf(plate, source)]
  if (!here || !there) return false
  const upright = uprightSize(shown)
  const pixels = new Uint32Array(upright.width * upright.height)
  yuvToRgba(shown, pixels)
  // The stroke in the pixels of the still.
  const [a, b, tx, ty] = here
  const length = a * a + b * b
  const path = points.map((_, i) => {
    const [x, y] = [points[i & ~1]! - tx, points[i | 1]! - ty]
    return i & 1 ? (a * y - b * x) / length - plate.y : (a * x + b * y) / length - plate.x
  })
  const radius = size / 2 / Math.sqrt(length)
  const soft = Math.max(1, radius / 2)
  const [ma, mb, mx, my] = there
  const far = radius + soft
  const whole = { x: 0, y: 0, width, height }
  const box = wholePixels(intersect(boundsOf(path, far), whole))
  // Each piece of the stroke is asked near itself only: a long one has hundreds.
  const distances = new Float32Array(box.width * box.height).fill(Infinity)
  for (let i = 0; i < path.length; i += 2) {
    const last = Math.max(0, i - 2)
    const [ax, ay, bx, by] = [path[last]!, path[last + 1]!, path[i]!, path[i + 1]!]
    const near = wholePixels(intersect(boundsOf([ax, ay, bx, by], far), whole))
    for (let y = near.y; y < near.y + near.height; y++)
      for (let x = near.x; x < near.x + near.width; x++) {
        const at = (y - box.y) * box.width + x - box.x
        distances[at] = Math.min(distances[at]!, apart(ax, ay, bx, by, x + 0.5, y + 0.5))
      }
  }
  for (let y = box.y; y < box.y + box.height; y++)
    for (let x = box.x; x < box.x + box.width; x++) {
      const away = distances[(y - box.y) * box.width + x - box.x]!
      const share = Math.max(0, Math.min(1, (radius - away) / soft + 0.5))
      if (share === 0) continue
      const [px, py] = [x + 0.5 + plate.x, y + 0.5 + plate.y]
      const [sx, sy] = [ma * px - mb * py + mx - 0.5, mb * px + ma * py + my - 0.5]
      if (!(sx >= 0 && sy >= 0 && sx <= upright.width - 1 && sy <= upright.height - 1)) continue
      words[y * width + x] = mixed(words[y * width + x]!, sampled(pixels, upright.width, upright.height, sx, sy), share)
    }
  return true
}

/** All pixels that a rectangle touches; none of an empty one. */
function wholePixels(rect: Rect): Rect {
  if (isEmpty(rect)) return noRect
  const [x, y] = [Math.floor(rect.x), Math.floor(rect.y)]
  return { x, y, width: Math.ceil(rect.x + rect.width) - x, height: Math.ceil(rect.y + rect.height) - y }
}

/** An opaque picture's colour between its pixels: red, green and blue. */
function sampled(pixels: Uint32Array, width: number, height: number, x: number, y: number): [number, number, number] {
  const [ix, iy] = [Math.min(width - 2, x | 0), Math.min(height - 2, y | 0)]
  const [s, t] = [x - ix, y - iy]
  const at = iy * width + ix
  return [0, 8, 16].map((shift) => {
    const of = (i: number) => (pixels[i]! >>> shift) & 255
    const top = of(at) + s * (of(at + 1) - of(at))
    return top + t * (of(at + width) + s * (of(at + width + 1) - of(at + width)) - top)
  }) as [number, number, number]
}

/** A word on the way to a colour; what was clear has it in full. */
function mixed(word: number, colour: readonly number[], share: number): number {
  const known = word >>> 24 !== 0
  return colour.reduce((out, to, c) => {
    const was = (word >>> (8 * c)) & 255
    return (out | (Math.round(known ? was + (to - was) * share : to) << (8 * c))) >>> 0
  }, 0xff000000)
}
