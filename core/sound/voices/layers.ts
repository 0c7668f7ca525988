import { type FilterKind, StereoBiquad } from '../signal/biquad.ts'
import { falling } from '../signal/envelope.ts'
import { Chances } from '../signal/random.ts'
import { soundRate, stereo, type Stereo } from '../signal/stereo.ts'
import { at as waveAt, wave } from './waves.ts'

const sine = /* @__PURE__ */ wave((n) => Number(n === 1), 1, Math.SQRT1_2)

/* Layers that strokes are made of. Each is added to what is there; times in seconds, frequencies in hertz. */

/** A frequency that rings: how loud, and within how many seconds it has gone (60 dB). */
export interface Mode {
  frequency: number
  gain: number
  decay: number
}

/** Ringing of a struck body from `at` on, each mode a little aside by chance, wider the higher. */
export function addModes(
  { left, right }: Stereo,
  at: number,
  modes: readonly Mode[],
  seed: number,
  spread = 0.02,
): void {
  const chances = new Chances(seed)
  const start = Math.round(at * soundRate)
  for (const { frequency, gain, decay } of modes) {
    const step = (2 * Math.PI * frequency * (1 + spread * chances.noise())) / soundRate
    if (step > 2.8) continue
    const [phase, side] = [2 * Math.PI * chances.next(), 0.5 * chances.noise()]
    const end = Math.min(left.length, start + Math.round(decay * soundRate))
    const down = falling(1 / soundRate, decay)
    // A point that goes round and in: its height is the wave.
    const [across, up] = [down * Math.cos(step), down * Math.sin(step)]
    let [x, y] = [gain * Math.cos(phase), gain * Math.sin(phase)]
    const [toLeft, toRight] = [1 - side, 1 + side]
    for (let i = start; i < end; i++) {
      // A millisecond to begin: a wave that sets in with a step would click.
      const v = i - start < 48 ? (y * (i - start)) / 48 : y
      left[i]! += v * toLeft
      right[i]! += v * toRight
      const before = x
      x = x * across - y * up
      y = before * up + y * across
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
  const chances = new Chances(seed)
  const both = new StereoBiquad()
  const start = Math.round(at * soundRate)
  const count = Math.round(length * soundRate)
  // Of two noises one is the same on both sides and the other is turned round on one: of equal loudness, `middle`^2 alike.
  const same = Math.sqrt((1 + middle * middle) / 2)
  const apart = Math.sqrt((1 - middle * middle) / 2)
  const { left: one, right: other } = noise
  let gain = level(0)
  for (let from = 0; from < count && start + from < out.left.length; from += stretch) {
    const some = Math.min(stretch, count - from, out.left.length - start - from)
    both.set(filter, frequency(from / count), q)
    chances.fill(noise, some)
    for (let i = 0; i < some; i++) {
      const a = same * one[i]!
      const b = apart * other[i]!
      one[i] = a + b
      other[i] = a - b
    }
    both.runBoth(noise, 0, some)
    const step = (level(Math.min(1, (from + stretch) / count)) - gain) / stretch
    for (let i = Math.max(0, -start - from); i < some; i++) {
      out.left[start + from + i]! += (gain + i * step) * one[i]!
      out.right[start + from + i]! += (gain + i * step) * other[i]!
    }
    gain += stretch * step
  }
}
/** Samples from one reading of what moves in a noise to the next. */
const stretch = 64
const noise = stereo(stretch)

/** A deep body: a sine that falls from one frequency to another, 60 dB down after `decay` seconds. */
export function addDrop(
  { left, right }: Stereo,
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
  // Nothing is left of it at twice its decay (-120 dB).
  const end = Math.min(left.length, start + Math.round(2 * decay * soundRate))
  const [steeper, down] = [falling(1 / soundRate, fall), falling(1 / soundRate, decay)]
  let [phase, above, level] = [0, (from - to) / soundRate, gain]
  for (let i = start; i < end; i++) {
    phase += to / soundRate + above
    phase -= Math.floor(phase)
    const v = level * Math.min(1, ((i - start) * 400) / soundRate) * waveAt(sine, phase)
    left[i]! += v
    right[i]! += v
    above *= steeper
    level *= down
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
  for (const side of [out.left, out.right])
    for (let i = 0; i < side.length; i++) {
      const size = Math.abs(side[i]!)
      if (size > most) most = size
    }
  const fade = Math.min(out.left.length, Math.round(0.03 * soundRate))
  const into = drive / most
  const height = 0.6 / bent(drive)
  for (const side of [out.left, out.right]) {
    for (let i = 0; i < side.length; i++) side[i] = height * bent(into * side[i]!)
    for (let i = 0; i < begin; i++) side[i]! *= i / begin
    for (let i = 0; i < fade; i++) side[side.length - 1 - i]! *= i / fade
  }
  return out
}

/** Hyperbolic tangent, by its continued fraction to x^7: within 2e-5 of it up to 3, and quicker. */
function bent(x: number): number {
  const x2 = x * x
  return (x * (135_135 + x2 * (17_325 + x2 * (378 + x2)))) / (135_135 + x2 * (62_370 + x2 * (3150 + 28 * x2)))
}

/** 0 at both ends, 1 at `top` of the way; rounded. */
export const hill = (u: number, top = 0.5): number => {
  const v = u < top ? u / top : (1 - u) / (1 - top)
  return v * v * (3 - 2 * v)
}
