import type { Scratch } from './scratch.ts'

const far = 1e12

/**
 * Squared distance in pixels from every pixel centre to the nearest one that `is`, exact, by the lower envelope of
 * parabolas (Felzenszwalb and Huttenlocher, Distance Transforms of Sampled Functions, 2012). Very large where there
 * is none. In the scratch's buffer `name`.
 */
export function squaredDistance(
  is: (index: number) => boolean,
  width: number,
  height: number,
  scratch: Scratch,
  name: string,
): Float32Array {
  const out = scratch.floats(name, width * height)
  for (let i = 0; i < out.length; i++) out[i] = is(i) ? 0 : far
  const line = new Float64Array(Math.max(width, height))
  const envelope = { v: new Int32Array(line.length), z: new Float64Array(line.length + 1) }
  for (let x = 0; x < width; x++) {
    for (let y = 0; y < height; y++) line[y] = out[y * width + x]!
    transform(line, height, envelope, (y, value) => void (out[y * width + x] = value))
  }
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) line[x] = out[y * width + x]!
    transform(line, width, envelope, (x, value) => void (out[y * width + x] = value))
  }
  return out
}

function transform(
  f: Float64Array,
  n: number,
  { v, z }: { v: Int32Array; z: Float64Array },
  put: (at: number, value: number) => void,
): void {
  let k = 0
  v[0] = 0
  z[0] = -Infinity
  z[1] = Infinity
  for (let q = 1; q < n; q++) {
    let s: number
    do {
      const p = v[k]!
      s = (f[q]! + q * q - (f[p]! + p * p)) / (2 * q - 2 * p)
    } while (s <= z[k]! && --k >= 0)
    k++
    v[k] = q
    z[k] = s
    z[k + 1] = Infinity
  }
  k = 0
  for (let q = 0; q < n; q++) {
    while (z[k + 1]! < q) k++
    const p = v[k]!
    put(q, Math.min(far, (q - p) ** 2 + f[p]!))
  }
}

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
  const outside = squaredDistance((i) => matte[i]! >= 0.5, width, height, scratch, name)
  const inside = squaredDistance((i) => matte[i]! < 0.5, width, height, scratch, `${name} inside`)
  for (let i = 0; i < outside.length; i++) {
    const cover = matte[i]!
    const [a, b] = [outside[i]!, inside[i]!]
    if (cover > 0.004 && cover < 0.996) outside[i] = 0.5 - cover
    else outside[i] = cover >= 0.5 ? -(Math.sqrt(b) - 0.5) : Math.sqrt(a) - 0.5
  }
  return outside
}
