/** A number in 0..1 that depends on the whole numbers given and on nothing else (integer hash, no table). */
export function hashed(a: number, b: number, c = 0): number {
  let h = (a * 0x27d4eb2d + b * 0x165667b1 + c * 0x9e3779b1) | 0
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d)
  h = Math.imul(h ^ (h >>> 12), 0x297a2d39)
  return ((h ^ (h >>> 15)) >>> 0) / 4294967296
}
