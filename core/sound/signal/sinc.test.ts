import { describe, expect, it } from 'vitest'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { ffmpeg } from '#lab/support/ffmpeg.ts'
import { resample, sincAt, sincReach } from './sinc.ts'
import { decibelsOf, soundRate } from './stereo.ts'

/** A sine that sweeps from 20 Hz to 20 kHz within a second. */
const sweepAt = (time: number) => 0.8 * Math.sin(2 * Math.PI * ((20 * (1000 ** time - 1)) / Math.log(1000)))
const sampled = (rate: number, count: number) => Float32Array.from({ length: count }, (_, i) => sweepAt(i / rate))
/** The largest difference away from the ends, in decibels of full scale. */
const apart = (a: Float32Array, b: Float32Array, rim = 400) => {
  let most = 0
  for (let i = rim; i < Math.min(a.length, b.length) - rim; i++) most = Math.max(most, Math.abs(a[i]! - b[i]!))
  return decibelsOf(most)
}

describe('resampling', () => {
  it('a sweep at 44.1 kHz becomes the same sweep at 48 kHz, below -90 dB; ffmpeg at its best agrees', () => {
    const out = new Float32Array(soundRate)
    resample(sampled(44_100, 44_100), 0, [44_100, soundRate], out)
    const truth = sampled(soundRate, soundRate)
    expect(apart(out, truth)).toBeLessThan(-90)

    const folder = mkdtempSync(join(tmpdir(), 'sweep-'))
    const [from, to] = [join(folder, 'in.f32'), join(folder, 'out.f32')]
    writeFileSync(from, new Uint8Array(sampled(44_100, 44_100).buffer))
    const raw = ['-f', 'f32le', '-ac', '1']
    const best =
      'aresample=48000:filter_size=256:phase_shift=14:linear_interp=0:exact_rational=1:cutoff=0.97:kaiser_beta=12'
    ffmpeg(['-ar', '44100', ...raw, '-i', from, '-af', best, '-ar', '48000', ...raw, to])
    const other = new Float32Array(new Uint8Array(readFileSync(to)).buffer)
    rmSync(folder, { recursive: true })
    expect(apart(out, other)).toBeLessThan(-90)
  })
  it('what the lower rate can not hold is gone, not folded back: below -90 dB', () => {
    const high = Float32Array.from({ length: 96_000 }, (_, i) => Math.sin((2 * Math.PI * 26_000 * i) / 96_000))
    const out = new Float32Array(soundRate)
    resample(high, 0, [96_000, soundRate], out)
    expect(apart(out, new Float32Array(soundRate))).toBeLessThan(-90)
  })
  it('pieces join to what comes of the whole', () => {
    const whole = sampled(44_100, 44_100)
    const rates = [44_100, soundRate] as const
    const all = new Float32Array(48_000)
    resample(whole, 0, rates, all)
    // A tenth of a second: 4410 samples become 4800.
    const reach = sincReach(rates[0] / rates[1])
    const piece = new Float32Array(4800)
    resample(whole.subarray(4410 * 3 - reach, 4410 * 4 + reach), reach, rates, piece)
    expect(apart(piece, all.subarray(14_400, 19_200), 0)).toBeLessThan(-140)
  })
})

describe('samples between samples', () => {
  it('lie on the wave', () => {
    const wave = (i: number) => Math.sin(0.61 * i + 0.3)
    const samples = Float32Array.from({ length: 400 }, (_, i) => wave(i))
    for (const at of [150.25, 200.5, 199.999, 233])
      expect(decibelsOf(Math.abs(sincAt(samples, at, 1) - wave(at)))).toBeLessThan(-90)
  })
  it('read faster, what would fold back is left out', () => {
    const samples = Float32Array.from({ length: 4000 }, (_, i) => Math.sin(2.2 * i))
    for (const at of [2000, 2000.4]) expect(decibelsOf(Math.abs(sincAt(samples, at, 2)))).toBeLessThan(-90)
    expect(sincAt(samples, -500, 1)).toBe(0)
  })
})
