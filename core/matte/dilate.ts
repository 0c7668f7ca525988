import type { Rect } from '../geometry/rect.ts'

/**
 * Moves the edge of what polygons cover by `grow` pixels in place: outwards with round corners, inwards below 0 (the
 * set of places at least that far inside). `cover` is what `polygons` enclose together over `region`, with room for the
 * growth. Each pixel near the edge gets the exact distance from its centre to the edge.
 */
export function dilate(cover: Float32Array, region: Rect, polygons: readonly number[][], grow: number): void {
  const { width, height } = region
  const reach = Math.abs(grow) + 1
  const distances = new Float32Array(width * height).fill(Infinity)
  for (const polygon of polygons) {
    const n = polygon.length
    for (let i = 0; i < n; i += 2) {
      const j = (i + 2) % n
      const [ax, ay] = [polygon[i]! - region.x, polygon[i + 1]! - region.y]
      const [dx, dy] = [polygon[j]! - region.x - ax, polygon[j + 1]! - region.y - ay]
      const size = dx * dx + dy * dy
      const left = Math.max(0, Math.floor(Math.min(ax, ax + dx) - reach))
      const right = Math.min(width - 1, Math.ceil(Math.max(ax, ax + dx) + reach))
      const top = Math.max(0, Math.floor(Math.min(ay, ay + dy) - reach))
      const bottom = Math.min(height - 1, Math.ceil(Math.max(ay, ay + dy) + reach))
      for (let y = top; y <= bottom; y++)
        for (let x = left; x <= right; x++) {
          const [px, py] = [x + 0.5 - ax, y + 0.5 - ay]
          const u = size ? Math.max(0, Math.min(1, (px * dx + py * dy) / size)) : 0
          const away = (px - u * dx) ** 2 + (py - u * dy) ** 2
          if (away < distances[y * width + x]!) distances[y * width + x] = away
        }
    }
  }
  for (let i = 0; i < cover.length; i++) {
    const inside = cover[i]! >= 0.5
    if (distances[i] === Infinity) {
      cover[i] = inside ? 1 : 0
      continue
    }
    const signed = Math.sqrt(distances[i]!) * (inside ? -1 : 1)
    cover[i] = Math.max(0, Math.min(1, grow - signed + 0.5))
  }
}
