/** A number in 0..1 that depends on the whole numbers given and on nothing else (integer hash, no table). */
export function hashed(a: number, b: number, c = 0): number {
  let h = (a * 0x27d4eb2d + b * 0x165667b1 + c * 0x9e3779b1) | 0
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d)
  h = Math.imul(h ^ (h >>> 12), 0x297a2d39)
  return ((h ^ (h >>> 15)) >>> 0) / 4294967296
}

const smooth = (u: number) => u * u * (3 - 2 * u)

/** Smooth noise along a line, 0..1, with a new chance at every whole number. */
export function noise1(x: number, seed: number): number {
  const i = Math.floor(x)
  const a = hashed(i, seed, 11)
  return a + (hashed(i + 1, seed, 11) - a) * smooth(x - i)
}

/** Smooth noise over the plane, 0..1, with a new chance at every whole place. */
export function noise2(x: number, y: number, seed: number): number {
  const [i, j] = [Math.floor(x), Math.floor(y)]
  const [u, v] = [smooth(x - i), smooth(y - j)]
  const a = hashed(i, j, seed)
  const b = hashed(i + 1, j, seed)
  const c = hashed(i, j + 1, seed)
  const d = hashed(i + 1, j + 1, seed)
  const top = a + (b - a) * u
  return top + (c + (d - c) * u - top) * v
}

/** Noise of `octaves` layers, each half as large and half as strong as the one before; 0..1. */
export function clouds(x: number, y: number, seed: number, octaves = 3): number {
  let [sum, total, weight, size] = [0, 0, 1, 1]
  for (let k = 0; k < octaves; k++, weight /= 2, size *= 2) {
    sum += weight * noise2(x * size, y * size, seed + 101 * k)
    total += weight
  }
  return sum / total
}
