const float = new Float32Array(1)
const bits = new Uint32Array(float.buffer)

/**
 * A number as the bits of a half float (IEEE 754-2008, binary16), rounded to the nearest, ties to even; what is larger than 65504 becomes
 * 65504: no light is endless.
 */
export function halfBits(value: number): number {
  float[0] = Math.max(-65504, Math.min(65504, value))
  const word = bits[0]!
  const sign = (word >>> 16) & 0x8000
  const exponent = ((word >>> 23) & 255) - 127
  if (exponent < -25) return sign
  const mantissa = word & 0x7fffff
  // Below 2^-14 a half has no leading one of its own.
  const from = exponent < -14 ? mantissa | 0x800000 : mantissa
  const shift = exponent < -14 ? 13 - 14 - exponent : 13
  const base = exponent < -14 ? 0 : (exponent + 15) << 10
  const kept = from >>> shift
  const rest = from - kept * 2 ** shift
  const middle = 2 ** (shift - 1)
  const up = rest > middle || (rest === middle && kept & 1) ? 1 : 0
  // A mantissa that overflows rises into the exponent, as it should.
  return sign | (base + kept + up)
}
