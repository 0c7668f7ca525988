/** sRGB transfer (IEC 61966-2-1): encoded 0..1 to linear light 0..1. */
export const toLinear = (v: number): number => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4)

/** Inverse of {@link toLinear}. */
export const toEncoded = (v: number): number => (v <= 0.0031308 ? v * 12.92 : 1.055 * v ** (1 / 2.4) - 0.055)

/** Linear light of each encoded 8-bit level. */
export const linearOf8Bit = Float32Array.from({ length: 256 }, (_, i) => toLinear(i / 255))

/** Entries of the way back: with fewer, dark tones come out a level wrong. */
export const encodeSteps = 16384
const encodeTable = Uint8Array.from({ length: encodeSteps + 1 }, (_, i) => Math.round(toEncoded(i / encodeSteps) * 255))
export const encode8BitTable = encodeTable

/** Encoded 8-bit level of linear light; clipped to 0..255. */
export function to8Bit(linear: number): number {
  return encodeTable[linear >= 1 ? encodeSteps : linear > 0 ? (linear * encodeSteps + 0.5) | 0 : 0]!
}

/** '#rrggbb' to linear light. Anything else is black. */
export function linearColour(hex: string): [number, number, number] {
  const value = /^#[0-9a-f]{6}$/i.test(hex) ? parseInt(hex.slice(1), 16) : 0
  return [linearOf8Bit[value >> 16]!, linearOf8Bit[(value >> 8) & 255]!, linearOf8Bit[value & 255]!]
}

const fineSteps = 4096
const fineEncoded = Float32Array.from({ length: fineSteps + 2 }, (_, i) => toEncoded((i / fineSteps) ** 2))
const fineLinear = Float32Array.from({ length: fineSteps + 2 }, (_, i) => toLinear(i / fineSteps))

/** {@link toEncoded} from a table over the square root, within 2e-6 from 0 to 1; beyond that and below 0 exact. */
export function quickEncoded(v: number): number {
  if (v >= 1) return toEncoded(v)
  if (v <= 0) return v * 12.92
  const at = Math.sqrt(v) * fineSteps
  const i = at | 0
  return fineEncoded[i]! + (fineEncoded[i + 1]! - fineEncoded[i]!) * (at - i)
}

/** {@link toLinear} from a table, within 2e-7 from 0 to 1; beyond that and below 0 exact. */
export function quickLinear(v: number): number {
  if (v >= 1) return toLinear(v)
  if (v <= 0) return v / 12.92
  const at = v * fineSteps
  const i = at | 0
  return fineLinear[i]! + (fineLinear[i + 1]! - fineLinear[i]!) * (at - i)
}
