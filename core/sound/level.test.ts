import { describe, expect, it } from 'vitest'
import { FrameLevels, silence } from './level.ts'

const rate = 48_000
const sine = (amplitude: number, seconds: number) =>
  Float32Array.from({ length: seconds * rate }, (_, i) => amplitude * Math.sin((2 * Math.PI * 1000 * i) / rate))

describe('levels of a sound by frame', () => {
  const times = Array.from({ length: 24 }, (_, i) => i / 24)
  it('a sine over all of the scale is at -3.01 dB, a tenth of it 20 dB lower (from the definition of RMS)', () => {
    const levels = new FrameLevels(times)
    levels.add(sine(1, 0.5), 0, rate)
    levels.add(sine(0.1, 0.5), 0.5, rate)
    const found = levels.levels()
    for (let frame = 0; frame < 12; frame++) expect(found[frame]).toBeCloseTo(-3.01, 1)
    for (let frame = 12; frame < 24; frame++) expect(found[frame]).toBeCloseTo(-23.01, 1)
  })
  it('is the mean of all channels, wherever the pieces begin, and silence where there is nothing', () => {
    const levels = new FrameLevels(times)
    const left = sine(1, 0.25)
    for (let at = 0; at < left.length; at += 1000) levels.add(left.subarray(at, at + 1000), 0.25 + at / rate, rate)
    levels.add(new Float32Array(left.length), 0.25, rate)
    const found = levels.levels()
    expect(found[5]).toBe(silence)
    expect(found[6]).toBeCloseTo(-6.02, 1)
    expect(found[11]).toBeCloseTo(-6.02, 1)
    expect(found[12]).toBe(silence)
  })
})
