import { inverseOf, mapped, type Projective } from '#core/geometry/projective.ts'
import { hashed } from '#core/pixels/filters/noise.ts'
import type { FollowPicture } from '#core/tracking/frame.ts'

/** A texture without end, made of waves of many directions: its brightness at any place is exact, so no warp blurs it. */
export function texture(seed: number, waves = 40): (x: number, y: number) => number {
  const all = Array.from({ length: waves }, (_, i) => {
    const [a, b, c] = [hashed(i, seed, 1), hashed(i, seed, 2), hashed(i, seed, 3)]
    const size = 0.03 + 0.45 * b * b
    return { fx: size * Math.cos(2 * Math.PI * a), fy: size * Math.sin(2 * Math.PI * a), phase: 2 * Math.PI * c }
  })
  return (x, y) => {
    let sum = 0
    for (const { fx, fy, phase } of all) sum += Math.sin(fx * x + fy * y + phase)
    return 128 + (60 * sum) / Math.sqrt(waves / 2) / 1.6
  }
}

/** A grey picture of a texture that a map has moved, with grain of so many levels. */
export function pictureOf(
  width: number,
  height: number,
  bright: (x: number, y: number) => number,
  map: Projective = [1, 0, 0, 0, 1, 0, 0, 0, 1],
  grain = 0,
  seed = 1,
): FollowPicture {
  const luma = new Uint8Array(width * height)
  const back = inverseOf(map)!
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const value = bright(...mapped(back, x + 0.5, y + 0.5))
      const noise = grain ? grain * 1.7 * (hashed(x, y, seed) + hashed(x, y, seed + 1) - 1) : 0
      luma[y * width + x] = Math.max(0, Math.min(255, Math.round(value + noise)))
    }
  const [cw, ch] = [(width + 1) >> 1, (height + 1) >> 1]
  const flat = () => new Uint8Array(cw * ch).fill(128)
  return { width, height, luma, chromaWidth: cw, chromaHeight: ch, u: flat(), v: flat(), reduced: [] }
}
