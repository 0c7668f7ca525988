import { describe, expect, it } from 'vitest'
import { frameOfStill, reducedLight, reducedRgba, stillOfLight } from './still.ts'
import { yuvToRgba } from './yuv.ts'

const levels = (word: number) => [word & 255, (word >>> 8) & 255, (word >>> 16) & 255, word >>> 24]
/** A picture of 2 x 2 pixels reduced to one. */
function one(pixels: number[][], opaque: boolean): number[] {
  const out = new Uint32Array(1)
  reducedRgba(Uint8Array.from(pixels.flat()), 2, 2, 2, opaque, out)
  return levels(out[0]!)
}

describe('a picture with alpha', () => {
  it('is itself where it is not reduced, its colours kept under low alpha', () => {
    const rgba = Uint8Array.from([250, 3, 90, 1, 10, 20, 30, 255])
    const out = new Uint32Array(2)
    reducedRgba(rgba, 2, 1, 1, false, out)
    expect([...out].flatMap(levels)).toEqual([...rgba])
  })
  it('is reduced in linear light, by what is there: half of white and black is level 188 (sRGB, IEC 61966-2-1)', () => {
    const [white, black] = [
      [255, 255, 255, 255],
      [0, 0, 0, 255],
    ]
    expect(one([white!, black!, black!, white!], false)).toEqual([188, 188, 188, 255])
    // What is not there has no say in the colour, only in how much is there.
    expect(
      one(
        [
          [255, 80, 0, 255],
          [0, 0, 0, 0],
          [0, 0, 0, 0],
          [255, 80, 0, 255],
        ],
        false,
      ),
    ).toEqual([255, 80, 0, 128])
    // As a plate it lies on black: half the light of full red is level 188.
    expect(
      one(
        [
          [255, 0, 0, 255],
          [0, 0, 0, 0],
          [0, 0, 0, 0],
          [255, 0, 0, 255],
        ],
        true,
      ),
    ).toEqual([188, 0, 0, 255])
  })
  it('of an odd size is rounded up, its last pixels the mean of what is left', () => {
    const out = new Uint32Array(2)
    reducedRgba(Uint8Array.from([0, 0, 0, 255, 0, 0, 0, 255, 200, 100, 50, 255]), 3, 1, 2, false, out)
    expect(levels(out[1]!)).toEqual([200, 100, 50, 255])
  })
  it('is read by who knows video only as if it lay on black', () => {
    const size = 4
    const rgba = Uint8Array.from({ length: 4 * size * size }, (_, i) => [255, 255, 255, 128][i % 4]!)
    const frame = frameOfStill({ rgba, width: size, height: size })
    const seen = new Uint32Array(size * size)
    yuvToRgba(frame, seen)
    // 128 of 255 of white light is level 188; two levels for the way through 8 bits of luma and chroma.
    for (const word of seen)
      for (const level of levels(word).slice(0, 3)) expect(Math.abs(level - 188)).toBeLessThanOrEqual(2)
    expect(frame.rgba).toEqual(rgba)
  })
})

describe('a picture of light', () => {
  it('has codes of what is there, and no less than no light', () => {
    const { rgba, light } = stillOfLight(Float32Array.from([0.25, 4, -1, 0.5, NaN, Infinity, 0, 1, 3, 0, 0, 0]), 3, 1)
    // Half of white is level 188 (sRGB, IEC 61966-2-1); what is brighter than white is white there, and itself in its light.
    expect([...rgba]).toEqual([188, 255, 0, 128, 0, 255, 0, 255, 0, 0, 0, 0])
    expect([...light!]).toEqual([0.25, 4, 0, 0.5, 0, 65504, 0, 1, 3, 0, 0, 0])
  })
  it('is reduced as it is, brighter than white too', () => {
    const [out, words] = [new Float32Array(8), new Uint32Array(2)]
    const light = Float32Array.from([8, 0, 0, 1, 0, 0, 0, 0, 0.5, 0.5, 0.5, 1].flatMap((v) => v))
    reducedLight(light, 3, 1, 2, false, out, words)
    expect([...out]).toEqual([4, 0, 0, 0.5, 0.5, 0.5, 0.5, 1])
    expect([...words].map(levels)).toEqual([
      [255, 0, 0, 128],
      [188, 188, 188, 255],
    ])
    reducedLight(light, 3, 1, 2, true, out, words)
    expect([out[0], out[3]]).toEqual([4, 1])
  })
  it('keeps its light as a frame', () => {
    const still = stillOfLight(
      Float32Array.from({ length: 16 }, () => 2),
      2,
      2,
    )
    expect(frameOfStill(still).light).toEqual(still.light)
  })
})
