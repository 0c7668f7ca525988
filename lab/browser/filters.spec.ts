import { Biquad, type FilterKind, StereoBiquad } from '#core/sound/signal/biquad.ts'
import { decibelsOf } from '#core/sound/signal/stereo.ts'
import { expect, test } from './fixtures.ts'

const rate = 48_000
/** Kind, frequency, quality, gain in decibels. */
const filters: [FilterKind, number, number, number][] = [
  ['lowpass', 1200, 0.7071, 0],
  ['lowpass', 300, 6, 0],
  ['highpass', 3000, 1.2, 0],
  ['bandpass', 900, 14, 0],
  ['peaking', 2500, 2, 9],
  ['lowshelf', 400, Math.SQRT1_2, -7],
  ['highshelf', 6000, Math.SQRT1_2, 5],
]

test('filters do what those of the browser do', async ({ page }) => {
  const frequencies = Float32Array.from({ length: 60 }, (_, k) => 30 * 2 ** (k / 6.5)).filter((f) => f < 22_000)
  const noise = Float32Array.from({ length: 4800 }, (_, i) => Math.sin(i * i * 0.37))
  for (const [kind, frequency, q, gain] of filters) {
    const theirs = await page.evaluate(
      async ({ type, given, at, samples, rate }) => {
        const context = new OfflineAudioContext(1, samples.length, rate)
        const buffer = new AudioBuffer({ length: samples.length, sampleRate: rate })
        buffer.copyToChannel(Float32Array.from(samples), 0)
        const source = new AudioBufferSourceNode(context, { buffer })
        const filter = new BiquadFilterNode(context, { type, ...given })
        const size = new Float32Array(at.length)
        filter.getFrequencyResponse(Float32Array.from(at), size, new Float32Array(at.length))
        source.connect(filter).connect(context.destination)
        source.start()
        const out = (await context.startRendering()).getChannelData(0)
        return { size: [...size], out: [...out] }
      },
      {
        type: kind,
        // The browser takes the quality of these two in decibels.
        given: { frequency, gain, Q: kind === 'lowpass' || kind === 'highpass' ? decibelsOf(q) : q },
        ...{ at: [...frequencies], samples: [...noise], rate },
      },
    )
    const ours = new Biquad().set(kind, frequency, q, gain)
    for (const [i, at] of frequencies.entries())
      expect(Math.abs(decibelsOf(ours.response(at)) - decibelsOf(theirs.size[i]!)), `${kind} at ${at}`).toBeLessThan(
        0.01,
      )
    // The samples themselves, of one channel and of both at once.
    const [one, both] = [noise.slice(), { left: noise.slice(), right: noise.map((v) => -v) }]
    ours.run(one)
    new StereoBiquad().set(kind, frequency, q, gain).runBoth(both)
    const apart = (samples: Float32Array) => Math.max(...samples.map((v, i) => Math.abs(v - theirs.out[i]!)))
    expect(apart(one), kind).toBeLessThan(2e-5)
    expect(both.left).toEqual(one)
    expect(apart(both.right.map((v) => -v))).toBeLessThan(2e-5)
  }
})
