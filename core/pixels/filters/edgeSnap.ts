/**
 * The place on a strong edge of a picture nearest to (x, y): within `reach` pixels, near ones first, to a fraction of
 * a pixel across the edge. `luma(x, y)` gives the brightness (0..255) of the pixel at whole coordinates. Places are in
 * the picture's pixels with centres at +0.5. Null where nothing stands out from the noise.
 */
export function snapToEdge(
  luma: (x: number, y: number) => number,
  x: number,
  y: number,
  reach: number,
): { x: number; y: number; strength: number } | null {
  const [cx, cy] = [Math.floor(x), Math.floor(y)]
  const whole = Math.ceil(reach)
  let best: { px: number; py: number; gx: number; gy: number; score: number } | null = null
  for (let py = cy - whole; py <= cy + whole; py++)
    for (let px = cx - whole; px <= cx + whole; px++) {
      const away = Math.hypot(px + 0.5 - x, py + 0.5 - y)
      if (away > reach) continue
      const [gx, gy] = gradient(luma, px, py)
      const score = Math.hypot(gx, gy) * (1 - (0.6 * away) / reach)
      if (!best || score > best.score) best = { px, py, gx, gy, score }
    }
  if (!best) return null
  const strength = Math.hypot(best.gx, best.gy)
  if (strength < weakest) return null
  // The top of the parabola through the strengths one pixel before and after, along the gradient.
  const [ux, uy] = [best.gx / strength, best.gy / strength]
  const at = (s: number) => Math.hypot(...smoothGradient(luma, best!.px + ux * s, best!.py + uy * s))
  const [before, here, after] = [at(-1), at(0), at(1)]
  const down = before - 2 * here + after
  const off = down < -1e-6 ? Math.max(-0.5, Math.min(0.5, (0.5 * (before - after)) / down)) : 0
  return { x: best.px + 0.5 + ux * off, y: best.py + 0.5 + uy * off, strength }
}

/** Brightness steps a pixel that count as an edge: above what grain makes. */
const weakest = 6

/** Sobel's gradient, in levels a pixel. */
export function gradient(luma: (x: number, y: number) => number, x: number, y: number): [number, number] {
  const row = (dy: number) => luma(x + 1, y + dy) - luma(x - 1, y + dy)
  const column = (dx: number) => luma(x + dx, y + 1) - luma(x + dx, y - 1)
  return [(row(-1) + 2 * row(0) + row(1)) / 8, (column(-1) + 2 * column(0) + column(1)) / 8]
}

function smoothGradient(luma: (x: number, y: number) => number, x: number, y: number): [number, number] {
  const [ix, iy] = [Math.floor(x), Math.floor(y)]
  const [u, v] = [x - ix, y - iy]
  const out: [number, number] = [0, 0]
  for (const [dx, dy, weight] of [
    [0, 0, (1 - u) * (1 - v)],
    [1, 0, u * (1 - v)],
    [0, 1, (1 - u) * v],
    [1, 1, u * v],
  ] as const) {
    const [gx, gy] = gradient(luma, ix + dx, iy + dy)
    out[0] += gx * weight
    out[1] += gy * weight
  }
  return out
}
