import type { Plane } from '../buffers/picture.ts'
import { type Scratch, Slot } from '../buffers/scratch.ts'

/** 0 or 1 a pixel. */
export interface Mask {
  data: Uint8Array
  width: number
  height: number
}

/** More pixels than any picture has. */
const none = 1e5

/**
 * Squared distance in pixels from every pixel centre to the nearest one whose `mask` is `value`, exact: along each column by
 * two passes, then along each row by the lower envelope of parabolas (Felzenszwalb and Huttenlocher, Distance
 * Transforms of Sampled Functions, 2012). 1e12 where there is none. In the scratch's buffer of `slot`; `nearest` takes the index
 * of that one, -1 for none. Where it is more than `far` pixels the answer may be any that is more.
 */
export function squaredDistance(
  { data: mask, width, height }: Mask,
  value: 0 | 1,
  scratch: Scratch,
  slot: Slot,
  nearest: Int32Array | null = null,
  far = none,
): Float32Array {
  const reach = Math.min(none, far + 1)
  const out = scratch.floats(slot, width * height)
  // Per pixel the row of the nearest one in its column, as a float like everything in the scratch.
  const rows = scratch.floats(slot.part('rows'), width * height)
  // Down and up the columns, all of them together row by row: how many pixels to the nearest above or below.
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const here = mask[i] === value
      out[i] = here ? 0 : y ? out[i - width]! + 1 : none
      rows[i] = here || !y ? y : rows[i - width]!
    }
  for (let i = out.length - width - 1; i >= 0; i--) {
    const below = out[i + width]! + 1
    if (below < out[i]!) {
      out[i] = below
      rows[i] = rows[i + width]!
    }
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
      // Between others of its row that are such pixels too, it is the nearest one to nobody but itself.
      if (d >= reach || (d === 0 && q > 0 && q < width - 1 && f[q - 1] === 0 && out[row + q + 1] === 0)) continue
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
      nearest?.fill(-1, row, row + width)
      continue
    }
    const last = k
    k = 0
    const above = nearest ? rows.slice(row, row + width) : rows
    for (let q = 0; q < width; q++) {
      if (f[q] === 0) {
        if (nearest) nearest[row + q] = row + q
        continue
      }
      while (k < last && z[k + 1]! < q) k++
      const p = v[k]!
      out[row + q] = (q - p) * (q - p) + f[p]!
      if (nearest) nearest[row + q] = above[p]! * width + p
    }
  }
  return out
}

/**
 * Signed distance in pixels from the half-covered edge of a matte, below 0 inside. The nearest pixel on the other side of
 * the edge says by its own coverage where the edge runs through it. Of what is more than `far` pixels off only the side counts.
 */
export function signedDistance(plane: Plane, scratch: Scratch, slot: Slot, far = none): Float32Array {
  const { data: matte, width, height } = plane
  const mask = scratch.bytes(slot.part('mask'), matte.length)
  for (let i = 0; i < mask.length; i++) mask[i] = matte[i]! >= 0.5 ? 1 : 0
  const words = scratch.words(slot.part('nearest'), matte.length)
  const nearest = new Int32Array(words.buffer, words.byteOffset, words.length)
  const inside = squaredDistance({ data: mask, width, height }, 0, scratch, slot.part('inside'), nearest, far + 1)
  for (let i = 0; i < inside.length; i++) {
    const at = nearest[i]!
    inside[i] = at < 0 ? -1e6 : -Math.sqrt(inside[i]!) + 0.5 - matte[at]!
  }
  const out = squaredDistance({ data: mask, width, height }, 1, scratch, slot, nearest, far + 1)
  for (let i = 0; i < out.length; i++) {
    const cover = matte[i]!
    const at = nearest[i]!
    if (cover > 0.004 && cover < 0.996) out[i] = 0.5 - cover
    else if (mask[i]) out[i] = inside[i]!
    else out[i] = at < 0 ? 1e6 : Math.sqrt(out[i]!) + 0.5 - matte[at]!
  }
  return out
}
