import type { Scratch } from './scratch.ts'

/**
 * Squared distance in pixels from every pixel centre to the nearest one whose `mask` is `value`, exact: along each column by
 * two passes, then along each row by the lower envelope of parabolas (Felzenszwalb and Huttenlocher, Distance
 * Transforms of Sampled Functions, 2012). 1e12 where there is none. In the scratch's buffer `name`.
 */
export function squaredDistance(
  mask: Uint8Array,
  value: 0 | 1,
  width: number,
  height: number,
  scratch: Scratch,
  name: string,
): Float32Array {
  const out = scratch.floats(name, width * height)
  // Down and up the columns, all of them together row by row: how many pixels to the nearest above or below.
  for (let i = 0; i < width; i++) out[i] = mask[i] === value ? 0 : none
  for (let i = width; i < out.length; i++) out[i] = mask[i] === value ? 0 : out[i - width]! + 1
  for (let i = out.length - width - 1; i >= 0; i--) {
    const below = out[i + width]! + 1
    if (below < out[i]!) out[i] = below
  }
  const f = new Float64Array(width)
  const v = new Int32Array(width)
  const z = new Float64Array(width + 1)
  for (let y = 0; y < height; y++) {
    const row = y * width
    let k = -1
    for (let q = 0; q < width; q++) {
      const d = out[row + q]!
      f[q] = d * d
      if (d >= none) continue
      let s = -Infinity
      while (k >= 0) {
        const p = v[k]!
        s = (f[q]! + q * q - (f[p]! + p * p)) / (2 * q - 2 * p)
        if (s > z[k]!) break
        k--
      }
      if (k < 0) s = -Infinity
      k++
      v[k] = q
      z[k] = s
    }
    if (k < 0) {
      out.fill(1e12, row, row + width)
      continue
    }
    const last = k
    k = 0
    for (let q = 0; q < width; q++) {
      while (k < last && z[k + 1]! < q) k++
      const p = v[k]!
      out[row + q] = (q - p) * (q - p) + f[p]!
    }
  }
  return out
}
/** More pixels than any picture has. */
const none = 1e5

/**
 * Signed distance in pixels from the half-covered edge of a matte, below 0 inside. A pixel that the edge goes through
 * places it by its coverage, so that a soft edge does not snap to whole pixels.
 */
export function signedDistance(
  matte: Float32Array,
  width: number,
  height: number,
  scratch: Scratch,
  name: string,
): Float32Array {
  const mask = scratch.bytes(`${name} mask`, matte.length)
  for (let i = 0; i < mask.length; i++) mask[i] = matte[i]! >= 0.5 ? 1 : 0
  const outside = squaredDistance(mask, 1, width, height, scratch, name)
  const inside = squaredDistance(mask, 0, width, height, scratch, `${name} inside`)
  for (let i = 0; i < outside.length; i++) {
    const cover = matte[i]!
    const [a, b] = [outside[i]!, inside[i]!]
    if (cover > 0.004 && cover < 0.996) outside[i] = 0.5 - cover
    else outside[i] = cover >= 0.5 ? -(Math.sqrt(b) - 0.5) : Math.sqrt(a) - 0.5
  }
  return outside
}
