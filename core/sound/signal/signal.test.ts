import { describe, expect, it } from 'vitest'
import { Biquad, type FilterKind } from './biquad.ts'
import { envelopeAt, falling } from './envelope.ts'
import { foldToStereo } from './fold.ts'
import { Limiter } from './limiter.ts'
import { equalPower, farther } from './place.ts'
import { Chances } from './random.ts'
import { decibelsOf, gainOf, ratioOf, soundRate, stereo } from './stereo.ts'
import { TruePeak } from './truePeak.ts'

describe('filters', () => {
  /** Gain of a filter by what it does to a sine, once it has settled. */
  function measured(filter: Biquad, frequency: number): number {
    const sine = Float32Array.from({ length: soundRate }, (_, i) => Math.sin((2 * Math.PI * frequency * i) / soundRate))
    filter.reset()
    filter.run(sine)
    const end = sine.subarray(soundRate / 2)
    return Math.sqrt((2 * end.reduce((sum, v) => sum + v * v, 0)) / end.length)
  }
  const cases: [FilterKind, number, number, number][] = [
    ['lowpass', 1000, Math.SQRT1_2, 0],
    ['highpass', 300, 2, 0],
    ['bandpass', 2000, 4, 0],
    ['peaking', 800, 1, 9],
    ['lowshelf', 200, Math.SQRT1_2, -6],
    ['highshelf', 5000, Math.SQRT1_2, 6],
  ]
  it.each(cases)('%s does to a sine what its formula says', (kind, frequency, q, gain) => {
    const filter = new Biquad().set(kind, frequency, q, gain)
    for (const at of [100, 400, 1000, 3000, 9000])
      expect(decibelsOf(measured(filter, at))).toBeCloseTo(decibelsOf(filter.response(at)), 2)
  })

  // R. Bristow-Johnson, Cookbook formulae for audio EQ biquad filter coefficients: the analog prototypes' values at the
  // named frequency, which the bilinear transform keeps.
  it('have the values of their prototypes at their frequency', () => {
    const at = (kind: FilterKind, q: number, gain = 0) => new Biquad().set(kind, 1000, q, gain).response(1000)
    expect(at('lowpass', Math.SQRT1_2)).toBeCloseTo(Math.SQRT1_2, 9)
    expect(at('highpass', 5)).toBeCloseTo(5, 9)
    expect(at('bandpass', 3)).toBeCloseTo(1, 9)
    expect(decibelsOf(at('peaking', 2, 7))).toBeCloseTo(7, 9)
    expect(decibelsOf(at('lowshelf', Math.SQRT1_2, 8))).toBeCloseTo(4, 9)
    expect(decibelsOf(at('highshelf', Math.SQRT1_2, -8))).toBeCloseTo(-4, 9)
    expect(decibelsOf(new Biquad().set('lowshelf', 1000, Math.SQRT1_2, 8).response(1))).toBeCloseTo(8, 3)
  })
})

describe('envelopes', () => {
  const shape = { attack: 0.1, decay: 0.2, sustain: 0.5, release: 0.4 }
  it('rise straight, fall exponentially to what is held, and go', () => {
    expect(envelopeAt(shape, -0.01, 1)).toBe(0)
    expect(envelopeAt(shape, 0.05, 1)).toBeCloseTo(0.5, 9)
    expect(envelopeAt(shape, 0.1, 1)).toBeCloseTo(1, 9)
    // A thousandth of the way is left after the decay, as after 60 dB of any reverberation (ISO 3382: RT60).
    expect(envelopeAt(shape, 0.3, 1)).toBeCloseTo(0.5 + 0.5e-3, 9)
    expect(envelopeAt(shape, 1.4, 1)).toBeCloseTo(0.5e-3, 6)
    // Let go while it still rises: it falls from where it was.
    expect(envelopeAt(shape, 0.05 + 0.4, 0.05)).toBeCloseTo(0.5e-3, 6)
  })
  it('fall by 60 dB in their time', () => {
    expect(decibelsOf(falling(2, 2))).toBeCloseTo(-60, 9)
    expect(falling(1, 0)).toBe(0)
  })
})

describe('place', () => {
  it('is of equal power, 3 dB down in the middle', () => {
    const [left, right] = equalPower(0)
    expect(decibelsOf(left)).toBeCloseTo(-3.0103, 3)
    expect(right).toBeCloseTo(left, 12)
    for (const place of [-1, -0.7, 0.2, 1]) {
      const [l, r] = equalPower(place)
      expect(l * l + r * r).toBeCloseTo(1, 12)
    }
    expect(equalPower(-1)[0]).toBeCloseTo(1, 12)
    expect(equalPower(9)[1]).toBeCloseTo(1, 12)
  })
  // The inverse distance law: 6 dB less at twice the way.
  it('is half as loud at twice the distance, and no louder than near by', () => {
    expect(decibelsOf(farther(8) / farther(4))).toBeCloseTo(-6.0206, 3)
    expect(farther(0)).toBe(1)
  })
})

// ITU-R BS.775-3, annex 4, table 2: coefficients 1, 0.7071 and 0.7071 of left, centre and left surround.
describe('folding to stereo', () => {
  const impulse = (count: number, which: number) =>
    Array.from({ length: count }, (_, c) => Float32Array.of(+(c === which)))
  const fold = (count: number, which: number) => {
    const out = stereo(1)
    foldToStereo(impulse(count, which), out)
    return [out.left[0]!, out.right[0]!].map((v) => Math.round(v * 1e4) / 1e4)
  }
  it('takes 5.1 apart by the recommendation, without its low effects', () => {
    expect([0, 1, 2, 3, 4, 5].map((channel) => fold(6, channel))).toEqual([
      ...[
        [1, 0],
        [0, 1],
        [0.7071, 0.7071],
        [0, 0],
        [0.7071, 0],
        [0, 0.7071],
      ],
    ])
  })
  it('knows mono, stereo, three, four and five', () => {
    expect(fold(1, 0)).toEqual([1, 1])
    expect(fold(2, 1)).toEqual([0, 1])
    expect(fold(3, 2)).toEqual([0.7071, 0.7071])
    expect(fold(4, 3)).toEqual([0, 0.7071])
    expect(fold(5, 3)).toEqual([0.7071, 0])
  })
})

describe('the limiter', () => {
  const peakOf = (sound: { left: Float32Array; right: Float32Array }) => {
    const meters = [new TruePeak(), new TruePeak()]
    meters[0]!.take(sound.left)
    meters[1]!.take(sound.right)
    return Math.max(...meters.map((meter) => meter.most))
  }
  it('lets no true peak over -1 dB, whatever comes', () => {
    const chances = new Chances(4)
    for (const loud of [2, 10, 40]) {
      const sound = stereo(soundRate)
      for (let i = 0; i < soundRate; i++) {
        // Noise, clicks, and sines whose peaks lie between the samples.
        sound.left[i] = loud * (i % 9000 < 3000 ? chances.noise() : 0.2 * Math.sin((Math.PI / 2) * i + 0.8))
        sound.right[i] = i % 4801 === 7 ? loud : loud * 0.6 * Math.sin((2 * Math.PI * 11_000 * i) / soundRate)
      }
      new Limiter().run(sound)
      expect(decibelsOf(peakOf(sound))).toBeLessThan(-1)
      expect(decibelsOf(peakOf(sound))).toBeGreaterThan(-1.5)
    }
  })
  it('leaves what is quieter as it is, late by its delay', () => {
    const sound = stereo(4000)
    const quiet = Float32Array.from({ length: 4000 }, (_, i) => 0.5 * Math.sin(i / 9))
    sound.left.set(quiet)
    const limiter = new Limiter()
    limiter.run(sound)
    expect(limiter.reduction()).toBe(1)
    for (let i = 0; i < 3000; i++) expect(sound.left[i + Limiter.delay]).toBe(quiet[i])
  })
  it('comes back after a peak', () => {
    const sound = stereo(2 * soundRate)
    for (let i = 0; i < sound.left.length; i++) sound.left[i] = 0.5 * Math.sin(i / 5) + (i === 5000 ? 6 : 0)
    new Limiter().run(sound)
    const size = (from: number) => Math.max(...sound.left.subarray(from, from + 400).map(Math.abs))
    expect(size(5000 + Limiter.delay + 8)).toBeLessThan(0.2)
    expect(size(5000 + soundRate)).toBeGreaterThan(0.49)
  })
})

it('decibels, factors and semitones are what they are everywhere', () => {
  expect(gainOf(-6.0206)).toBeCloseTo(0.5, 5)
  expect(decibelsOf(0)).toBe(-Infinity)
  // Equal temperament (ISO 16: A at 440 Hz): C above it is three semitones higher.
  expect(440 * ratioOf(3)).toBeCloseTo(523.2511, 3)
})

it('chances come again from the same seed, are spread evenly, and differ from another seed', () => {
  const draw = (seed: number) => {
    const chances = new Chances(seed)
    return Array.from({ length: 4000 }, () => chances.noise())
  }
  expect(draw(1)).toEqual(draw(1))
  const [a, b] = [draw(1), draw(2)]
  const mean = (list: number[]) => list.reduce((x, y) => x + y) / list.length
  expect(Math.abs(mean(a))).toBeLessThan(0.05)
  expect(mean(a.map((v) => v * v))).toBeCloseTo(1 / 3, 1)
  expect(Math.abs(mean(a.map((v, i) => v * b[i]!)))).toBeLessThan(0.03)
})
