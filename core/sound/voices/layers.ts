import { Biquad, type FilterKind } from '../signal/biquad.ts'
import { falling } from '../signal/envelope.ts'
import { Chances } from '../signal/random.ts'
import { soundRate, stereo, type Stereo } from '../signal/stereo.ts'

/* Layers that strokes are made of. Each is added to what is there; times in seconds, frequencies in hertz. */

/** A frequency that rings: how loud, and within how many seconds it has gone (60 dB). */
export interface Mode {
  frequency: number
  gain: number
  decay: number
}

/** Ringing of a struck body from `at` on, each mode a little aside by chance, wider the higher. */
export function addModes(out: Stereo, at: number, modes: readonly Mode[], seed: number, spread = 0.02): void {
  const chances = new Chances(seed)
  const start = Math.round(at * soundRate)
  for (const { frequency, gain, decay } of modes) {
    const step = (2 * Math.PI * frequency * (1 + spread * chances.noise())) / soundRate
    if (step > 2.8) continue
    const [phase, side] = [2 * Math.PI * chances.next(), 0.5 * chances.noise()]
    const end = Math.min(out.left.length, start + Math.round(decay * soundRate))
    const down = falling(1 / soundRate, decay)
    let level = gain
    for (let i = start; i < end; i++, level *= down) {
      const t = i - start
      // A millisecond to begin: a wave that sets in with a step would click.
      const v = level * Math.min(1, t / 48) * Math.sin(phase + step * t)
      out.left[i]! += v * (1 - side)
      out.right[i]! += v * (1 + side)
    }
  }
}

/** Noise of `length` seconds from `at` on, through a filter that may move; `level` and `frequency` at a share 0..1 of its time. */
export interface NoiseLayer {
  at: number
  length: number
  filter: FilterKind
  frequency: (u: number) => number
  q: number
  level: (u: number) => number
  /** How much of it is the same on both sides, 0 to 1. */
  middle?: number
}
export function addNoise(
  out: Stereo,
  { at, length, filter, frequency, q, level, middle = 0.5 }: NoiseLayer,
  seed: number,
): void {
  const chances = [new Chances(seed), new Chances(seed + 7919), new Chances(seed + 104_729)] as const
  const filters = [new Biquad(), new Biquad()] as const
  const [start, count] = [Math.round(at * soundRate), Math.round(length * soundRate)]
  const side = Math.sqrt(1 - middle * middle)
  let gain = 0
  for (let i = 0; i < count && start + i < out.left.length; i++) {
    if (i % 32 === 0) {
      const u = i / count
      gain = level(u)
      for (const one of filters) one.set(filter, frequency(u), q)
    }
    const both = chances[0].noise() * middle
    const l = filters[0].step(both + side * chances[1].noise())
    const r = filters[1].step(both + side * chances[2].noise())
    if (start + i < 0) continue
    out.left[start + i]! += gain * l
    out.right[start + i]! += gain * r
  }
}

/** A deep body: a sine that falls from one frequency to another, 60 dB down after `decay` seconds. */
export function addDrop(
  out: Stereo,
  {
    at,
    from,
    to,
    fall,
    decay,
    gain,
  }: { at: number; from: number; to: number; fall: number; decay: number; gain: number },
): void {
  const start = Math.round(at * soundRate)
  let phase = 0
  for (let i = start; i < out.left.length; i++) {
    const time = (i - start) / soundRate
    phase += (2 * Math.PI * (to + (from - to) * falling(time, fall))) / soundRate
    const v = gain * Math.min(1, time * 400) * falling(time, decay) * Math.sin(phase)
    out.left[i]! += v
    out.right[i]! += v
  }
}

/** The room around: a breath of noise that dies away, as loud as `gain` at first. */
export const addRoom = (out: Stereo, at: number, length: number, gain: number, frequency: number, seed: number): void =>
  addNoise(
    out,
    {
      ...{ at, length, filter: 'lowpass', q: 0.6, middle: 0.2 },
      frequency: (u) => frequency * (1 - 0.7 * u),
      level: (u) => gain * Math.min(1, u * 40) * falling(u, 1.7),
    },
    seed,
  )

/** Samples in which a stroke sets in: a third of a millisecond. */
const begin = 16

/** A stroke: its layers, bent softly as a loud thing is, brought to one height, and let out at the end without a step. */
export function strokeOf(seconds: number, write: (out: Stereo) => void, drive = 1.5): Stereo {
  const out = stereo(Math.ceil(seconds * soundRate))
  write(out)
  let most = 1e-9
  for (const side of [out.left, out.right]) for (const v of side) most = Math.max(most, Math.abs(v))
  const fade = Math.min(out.left.length, Math.round(0.03 * soundRate))
  for (const side of [out.left, out.right])
    for (let i = 0; i < side.length; i++) {
      const end = Math.min(1, i / begin, (side.length - 1 - i) / fade)
      side[i] = (0.6 * end * Math.tanh((drive * side[i]!) / most)) / Math.tanh(drive)
    }
  return out
}

/** 0 at both ends, 1 at `top` of the way; rounded. */
export const hill = (u: number, top = 0.5): number => {
  const v = u < top ? u / top : (1 - u) / (1 - top)
  return v * v * (3 - 2 * v)
}
