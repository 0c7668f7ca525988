import type { Rect } from '../geometry/rect.ts'
import { saidUnwanted, saidWanted } from './sides.ts'

/** A stroke as a hand drew it: places in plate pixels, `size` its whole width. */
export interface PaintStroke {
  frame: number
  wanted: boolean
  size: number
  points: readonly number[]
}

/** Marks the pixels of a grid that strokes lie on, the later ones over the earlier; those a stroke only touches are left. */
export function marked(strokes: readonly PaintStroke[], box: Rect, step: number): Uint8Array {
  const out = new Uint8Array(box.width * box.height)
  for (const { points, size, wanted } of strokes) {
    const radius = Math.max(size / 2, step / 2)
    for (let i = 0; i < points.length; i += 2) {
      const last = Math.max(0, i - 2)
      const [ax, ay, bx, by] = [points[last]!, points[last + 1]!, points[i]!, points[i + 1]!]
      const x0 = Math.max(box.x, Math.floor((Math.min(ax, bx) - radius) / step))
      const x1 = Math.min(box.x + box.width - 1, Math.floor((Math.max(ax, bx) + radius) / step))
      const y0 = Math.max(box.y, Math.floor((Math.min(ay, by) - radius) / step))
      const y1 = Math.min(box.y + box.height - 1, Math.floor((Math.max(ay, by) + radius) / step))
      for (let y = y0; y <= y1; y++)
        for (let x = x0; x <= x1; x++)
          if (apart(ax, ay, bx, by, (x + 0.5) * step, (y + 0.5) * step) <= radius)
            out[(y - box.y) * box.width + x - box.x] = wanted ? saidWanted : saidUnwanted
    }
  }
  return out
}

/** Distance of a place from the piece of a line between two others. */
export function apart(ax: number, ay: number, bx: number, by: number, x: number, y: number): number {
  const [dx, dy] = [bx - ax, by - ay]
  const length = dx * dx + dy * dy
  const t = length ? Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / length)) : 0
  return Math.hypot(x - ax - t * dx, y - ay - t * dy)
}
