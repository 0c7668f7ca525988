import { describe, expect, it } from 'vitest'
import type { Settings } from '../../parameters/parameters.ts'
import { defaultsOf } from '../../parameters/values.ts'
import { soundKinds } from '../catalogue.ts'
import { blockSize, decibelsOf, soundRate, stereo, type Stereo } from '../signal/stereo.ts'
import { soundOf } from '../sounds.ts'
import type { VoiceKind, VoiceSound } from '../voice.ts'

type Voice = VoiceKind & VoiceSound<Settings>

const kinds: VoiceKind[] = Object.values(soundKinds)
const voices = kinds.filter((kind) => kind.group !== 'Files').map((kind): Voice => ({ ...kind, ...soundOf(kind.kind) }))
const voice = (name: string) => voices.find((one) => one.kind === name)!
const struck = voices.filter((voice) => voice.stroke)
const running = voices.filter((voice) => voice.through)

function stroke(voice: Voice, settings: Settings = {}, context = { seed: 3, pitch: 1, strength: 1 }) {
  return voice.stroke!({ ...defaultsOf(voice.parameters), ...settings }, context)
}
/** Seconds of a voice that runs; `pitch` a factor of frequency by the second. */
function run(voice: Voice, seconds: number, settings: Settings = {}, pitch = (_: number) => 1, seed = 3): Stereo {
  const out = stereo(Math.ceil((seconds * soundRate) / blockSize) * blockSize)
  const fill = voice.through!(seed)
  const all = { ...defaultsOf(voice.parameters), ...settings }
  for (let at = 0; at < out.left.length; at += blockSize) fill(out, at, at + blockSize, all, pitch(at / soundRate))
  return out
}
const rms = (samples: Float32Array) => Math.sqrt(samples.reduce((sum, v) => sum + v * v, 0) / samples.length)
const most = (samples: Float32Array) => samples.reduce((top, v) => Math.max(top, Math.abs(v)), 0)

/** Shares of the energy in octaves from 31 Hz up, by a plain Fourier sum over a stretch (Goertzel at third octaves). */
function octaves(samples: Float32Array): number[] {
  const bands = Array.from({ length: 10 }, (_, k) => {
    let sum = 0
    for (const third of [-1, 0, 1]) {
      const w = (2 * Math.PI * 31.25 * 2 ** (k + third / 3)) / soundRate
      let [re, im] = [0, 0]
      for (let i = 0; i < samples.length; i++) {
        const window = 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / samples.length)
        re += window * samples[i]! * Math.cos(w * i)
        im += window * samples[i]! * Math.sin(w * i)
      }
      sum += (re * re + im * im) * 2 ** k
    }
    return sum
  })
  const total = bands.reduce((a, b) => a + b)
  return bands.map((band) => band / total)
}
const unlike = (a: number[], b: number[]) => a.reduce((sum, v, i) => sum + Math.abs(v - b[i]!), 0)

it('there are twelve at least, each with a sentence that names only what it has', () => {
  expect(voices.length).toBeGreaterThanOrEqual(12)
  for (const { sentence, parameters } of kinds)
    for (const [, name] of sentence.matchAll(/\{(\w+)\}/g))
      expect(['target', 'when', 'takes', ...parameters.map((p) => p.name)]).toContain(name)
})

describe.each(struck)('$title', (voice) => {
  it('is loud enough, not too loud, begins and ends without a click, and is no bare sine', () => {
    const { sound, lead } = stroke(voice)
    for (const side of [sound.left, sound.right]) {
      expect(side.every(Number.isFinite)).toBe(true)
      expect(most(side)).toBeGreaterThan(0.3)
      expect(most(side)).toBeLessThan(1)
      expect(Math.abs(side[0]!)).toBeLessThan(0.1)
      expect(Math.abs(side.at(-1)!)).toBeLessThan(1e-4)
    }
    expect(lead * soundRate).toBeLessThan(sound.left.length)
    // A body and a tail: some of it is still there in its last two thirds, quieter than its loudest tenth.
    const third = Math.round(sound.left.length / 3)
    const tail = rms(sound.left.subarray(third))
    expect(decibelsOf(tail)).toBeGreaterThan(-80)
    // Energy in two octaves at least.
    expect(octaves(sound.left).filter((share) => share > 0.01).length).toBeGreaterThanOrEqual(2)
    expect(rms(sound.left.map((v, i) => v - sound.right[i]!))).toBeGreaterThan(0.002)
  })
  it('has the same bytes from the same seed, and others from another', () => {
    const context = { seed: 8, pitch: 1.2, strength: 0.6 }
    expect(stroke(voice, {}, context)).toEqual(stroke(voice, {}, context))
    const other = stroke(voice, {}, { ...context, seed: 9 }).sound.left
    const first = stroke(voice, {}, context).sound.left
    expect(rms(first.map((v, i) => v - (other[i] ?? 0)))).toBeGreaterThan(0.1 * rms(first))
  })
  it('holds at the ends of its numbers', () => {
    for (const end of ['min', 'max'] as const) {
      const numbers = voice.parameters.flatMap((p) => (p.type === 'number' ? [[p.name, p[end]] as const] : []))
      const { sound } = stroke(voice, Object.fromEntries(numbers), {
        seed: 1,
        pitch: end === 'min' ? 0.25 : 4,
        strength: 0,
      })
      expect(sound.left.every(Number.isFinite)).toBe(true)
      expect(most(sound.left)).toBeLessThan(1)
    }
  })
})

describe.each(running)('$title', (voice) => {
  it('goes on evenly, within full scale, wide, and the same from the same seed', () => {
    const sound = run(voice, 4)
    expect([...sound.left, ...sound.right].every(Number.isFinite)).toBe(true)
    expect(most(sound.left)).toBeLessThan(1.6)
    const half = sound.left.length / 2
    expect(decibelsOf(rms(sound.left.subarray(half)))).toBeGreaterThan(-45)
    expect(Math.abs(decibelsOf(rms(sound.left.subarray(0, half)) / rms(sound.left.subarray(half))))).toBeLessThan(8)
    expect(rms(sound.left.map((v, i) => v - sound.right[i]!))).toBeGreaterThan(0.05 * rms(sound.left))
    expect(
      octaves(sound.left.subarray(half, half + 65536)).filter((share) => share > 0.001).length,
    ).toBeGreaterThanOrEqual(2)
    expect(run(voice, 0.5)).toEqual(run(voice, 0.5))
    expect(run(voice, 0.5, {}, undefined, 4)).not.toEqual(run(voice, 0.5))
  })
  it('holds at the ends of its numbers', () => {
    for (const end of ['min', 'max'] as const) {
      const numbers = voice.parameters.flatMap((p) => (p.type === 'number' ? [[p.name, p[end]] as const] : []))
      const sound = run(voice, 0.5, Object.fromEntries(numbers), () => (end === 'min' ? 0.25 : 4))
      expect(most(sound.left)).toBeLessThan(8)
      expect(sound.left.every(Number.isFinite)).toBe(true)
    }
  })
})

describe('bodies', () => {
  it('of the hum, and of the crack, sound unlike each other', () => {
    const hums = ['reed', 'wire', 'furnace'].map((body) =>
      octaves(run(voice('hum'), 1, { body }).left.subarray(8192, 8192 + 32768)),
    )
    const cracks = ['wood', 'spark', 'steel'].map((body) =>
      octaves(stroke(voice('crack'), { body }).sound.left.subarray(0, 24000)),
    )
    for (const three of [hums, cracks])
      for (const [a, b] of [
        [0, 1],
        [0, 2],
        [1, 2],
      ] as const)
        expect(unlike(three[a]!, three[b]!)).toBeGreaterThan(0.25)
  })
})

describe('the hum', () => {
  /** Hertz by the first high place of the correlation of a stretch with itself. */
  function pitchOf(samples: Float32Array, low: number, high: number): number {
    let [best, at] = [-Infinity, 0]
    const scores: number[] = []
    for (let lag = Math.floor(soundRate / high); lag <= Math.ceil(soundRate / low); lag++) {
      let sum = 0
      for (let i = 0; i + lag < samples.length; i++) sum += samples[i]! * samples[i + lag]!
      scores[lag] = sum / (samples.length - lag)
      if (scores[lag]! > best) [best, at] = [scores[lag]!, lag]
    }
    const [a, b, c] = [scores[at - 1] ?? best, best, scores[at + 1] ?? best]
    return soundRate / (at + (0.5 * (a - c)) / (a - 2 * b + c || 1))
  }
  const plain = { body: 'wire', note: 120, beating: 0, unrest: 0, warmth: 0.3 }
  it('stands on its note, an octave higher with 12 semitones', () => {
    // The third voice is an octave below: it is what all of it repeats with.
    const still = run(voice('hum'), 1, plain).left.subarray(12_000, 24_000)
    expect(pitchOf(still, 50, 75)).toBeCloseTo(60, 0)
    const high = run(voice('hum'), 1, plain, () => 2).left.subarray(12_000, 24_000)
    expect(pitchOf(high, 100, 150)).toBeCloseTo(120, 0)
  })
  it('bends with what drives it', () => {
    const bent = run(voice('hum'), 2, plain, (time) => 1 + 0.4 * time).left
    for (const time of [0.5, 1, 1.6]) {
      const at = Math.round(time * soundRate)
      const measured = pitchOf(bent.subarray(at - 2000, at + 2000), 50, 120)
      expect(measured / (60 * (1 + 0.4 * time))).toBeCloseTo(1, 1)
    }
  })
})
