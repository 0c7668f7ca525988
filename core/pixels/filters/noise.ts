import type { Rect } from '../../geometry/rect.ts'

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

/** {@link clouds} for who asks place after place: the chances of a cell are drawn once, as long as the next place lies in it. */
export function cloudsFrom(seed: number, octaves: number): (x: number, y: number) => number {
  let total = 0
  for (let k = 0; k < octaves; k++) total += 2 ** -k
  // Of each layer its last cell, and the chances at the cell's corners.
  const cells = Int32Array.from({ length: 2 * octaves }, () => 2 ** 31 - 1)
  const chances = new Float64Array(4 * octaves)
  return (x, y) => {
    let sum = 0
    for (let k = 0, size = 1; k < octaves; k++, size *= 2) {
      const i = Math.floor(x * size)
      const j = Math.floor(y * size)
      if (cells[2 * k] !== i || cells[2 * k + 1] !== j) {
        cells[2 * k] = i
        cells[2 * k + 1] = j
        for (let c = 0; c < 4; c++) chances[4 * k + c] = hashed(i + (c & 1), j + (c >> 1), seed + 101 * k)
      }
      const u = smooth(x * size - i)
      const v = smooth(y * size - j)
      const top = chances[4 * k]! + (chances[4 * k + 1]! - chances[4 * k]!) * u
      const low = chances[4 * k + 2]! + (chances[4 * k + 3]! - chances[4 * k + 2]!) * u
      sum += (top + (low - top) * v) / size
    }
    return sum / total
  }
}

/**
 * {@link clouds} over a region of pixels, `size` pixels to a step of its coarsest layer, drifted by (dx, dy) steps: the
 * chances of each layer are drawn once a lattice place, not once a pixel. Written into `out`, one number a pixel.
 */
export function cloudField(
  out: Float32Array,
  region: Rect,
  { size, seed, octaves, dx = 0, dy = 0 }: { size: number; seed: number; octaves: number; dx?: number; dy?: number },
): void {
  out.fill(0)
  let total = 0
  for (let k = 0; k < octaves; k++) total += 2 ** -k
  for (let k = 0; k < octaves; k++) {
    const finer = 2 ** k
    const [stepX, stepY] = [finer / size, finer / size]
    const [x0, y0] = [(region.x + 0.5) * stepX + dx * finer, (region.y + 0.5) * stepY + dy * finer]
    const left = Math.floor(x0)
    const columns = Math.floor(x0 + (region.width - 1) * stepX) - left + 2
    const weight = 1 / finer / total
    const lines = [new Float32Array(columns), new Float32Array(columns)] as [Float32Array, Float32Array]
    const draw = (line: Float32Array, row: number) => {
      for (let i = 0; i < columns; i++) line[i] = hashed(left + i, row, seed + 101 * k)
    }
    const mixed = new Float32Array(columns)
    // Where a column lies between the lattice's places is the same on every row.
    const places = new Int32Array(region.width)
    const shares = new Float64Array(region.width)
    for (let x = 0; x < region.width; x++) {
      const u = x0 + x * stepX - left
      places[x] = u
      shares[x] = smooth(u - places[x]!)
    }
    let drawn = NaN
    for (let y = 0, at = 0; y < region.height; y++) {
      const v = y0 + y * stepY
      const row = Math.floor(v)
      if (row !== drawn) {
        if (row === drawn + 1) lines.reverse()
        else draw(lines[0], row)
        draw(lines[1], row + 1)
        drawn = row
      }
      const share = smooth(v - row)
      const [above, below] = lines
      for (let i = 0; i < columns; i++) mixed[i] = (above[i]! + (below[i]! - above[i]!) * share) * weight
      for (let x = 0; x < region.width; x++, at++) {
        const i = places[x]!
        const a = mixed[i]!
        out[at]! += a + (mixed[i + 1]! - a) * shares[x]!
      }
    }
  }
}
