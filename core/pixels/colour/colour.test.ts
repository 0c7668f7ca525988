import { describe, expect, it } from 'vitest'
import { hexOf, meanColour } from './hex.ts'
import { colourOfLight } from './temperature.ts'
import { linearColour } from './transfer.ts'

const channels = (hex: string) => [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16)) as [number, number, number]

describe('colour of light', () => {
  it('of D65 is white, nearly', () => {
    // CIE 15: illuminant D65 is daylight of 6504 K; a level is what rounding leaves.
    for (const v of channels(colourOfLight(6504))) expect(v).toBeGreaterThanOrEqual(253)
  })
  it('of a candle is orange, of a lamp paler, of a blue sky blue', () => {
    const [candle, lamp, sky] = [1900, 2856, 12000].map((k) => channels(colourOfLight(k)))
    expect(candle![0]).toBe(255)
    expect(candle![2]).toBeLessThan(60)
    expect(lamp![1]).toBeGreaterThan(candle![1])
    expect(lamp![2]).toBeGreaterThan(candle![2])
    expect(sky![2]).toBe(255)
    expect(sky![0]).toBeLessThan(220)
  })
  it('of illuminant A has the chromaticity that CIE 15 gives it', () => {
    // x 0.44758, y 0.40745 (CIE 15, table of standard illuminants), within what eight bits and the fit of Kim leave.
    const [r, g, b] = linearColour(colourOfLight(2856))
    const [X, Y, Z] = [
      0.4123908 * r + 0.3575843 * g + 0.1804808 * b,
      0.212639 * r + 0.7151687 * g + 0.0721923 * b,
      0.0193308 * r + 0.1191948 * g + 0.9505322 * b,
    ]
    expect(X / (X + Y + Z)).toBeCloseTo(0.44758, 2)
    expect(Y / (X + Y + Z)).toBeCloseTo(0.40745, 2)
  })
})

describe('mean colour of an area', () => {
  /** Left half black, right half white, 8 by 4. */
  const picture = {
    pixels: Uint8ClampedArray.from({ length: 8 * 4 * 4 }, (_, i) => ((i >> 2) % 8 < 4 && i % 4 < 3 ? 0 : 255)),
    ...{ width: 8, height: 4 },
  }
  it('is the pixel itself for no reach', () => {
    expect(meanColour(picture, [3.9, 2], 0)).toBe('#000000')
    expect(meanColour(picture, [4.1, 2], 0)).toBe('#ffffff')
  })
  it('is a mean of light, not of numbers', () => {
    // Three columns of white beside two of black: 0.6 of the light is 203 in sRGB (IEC 61966-2-1).
    expect(meanColour(picture, [4.5, 2], 2)).toBe(hexOf([0.6, 0.6, 0.6]))
    expect(channels(meanColour(picture, [4.5, 2], 2))[0]).toBe(203)
  })
  it('takes what there is at an edge, and the nearest outside', () => {
    expect(meanColour(picture, [0, 0], 2)).toBe('#000000')
    expect(meanColour(picture, [99, -5], 1)).toBe('#ffffff')
  })
})
