import type { FrameClock } from './clock.ts'
import type { Settings } from '../parameters/parameters.ts'
import type { VoiceSound, Way } from './voice.ts'

/** A number over the time of a shot: one value, or one at every step between frames, straight in between. */
export interface NumberTrack {
  values: Float32Array
  /** Values to a frame; 0 where it stands still. */
  perFrame: number
}
/** The number at a frame, a real number; held at the ends. */
export function numberOf({ values, perFrame }: NumberTrack, frame: number): number {
  if (!perFrame) return values[0]!
  const at = Math.min(values.length - 1, Math.max(0, frame * perFrame))
  const i = Math.floor(at)
  const low = values[i]!
  return i + 1 < values.length ? low + (values[i + 1]! - low) * (at - i) : low
}

/** A sound that was brought in, at {@link soundRate}. Its first sample is the file's second 0. */
export interface Recording {
  /** Samples that it lasts; 0 while it is not known, or where it can not be had. */
  readonly length: number
  /** Writes `count` samples from `from` on; silence where there are none, or none yet. */
  read(from: number, count: number, left: Float32Array, right: Float32Array): void
  /** What of other recordings it reads for samples between two of its own; missing where it is read from a file itself. */
  sources?(from: number, to: number): { take: Recording; from: number; to: number }[]
}

/** A moment at which a lane sounds. */
export interface Beat {
  frame: number
  /** How strong its motion is, 0 to 1. */
  strength: number
  /** Decibels that a hand gave it. */
  gain: number
  /** Whose turn it is among the takes, and the chance of a voice. */
  take: number
  seed: number
}

/** A sound of a shot as the mix hears it: numbers only. */
export interface Lane {
  id: string
  /** Its kind, and how that sounds; what is read from files has no sound of its own. */
  kind: string
  voice: VoiceSound<Settings>
  way: Way
  clock: FrameClock
  /** Samples between which it is there; what has begun at a moment rings on. */
  from: number
  to: number
  /** Samples of its fading in and out. */
  fadeIn: number
  fadeOut: number
  /** Still settings and, under the same names, the numbers as they stand at their beginning. */
  settings: Record<string, unknown>
  /** Every number, by its name. */
  numbers: Record<string, NumberTrack>
  beats: readonly Beat[]
  takes: readonly Recording[]
  /** Sample of the first take at which a lane that is there through begins. */
  begin: number
  /** Whether it begins again when it is over. */
  loops: boolean
  /** Decibels of the shot that it is of. */
  gain: number
  /** Changes when anything of it does. */
  signature: string
}

/** Decibels by which a moment is quieter than the strongest. */
export const softer = (range: number, strength: number): number => -range * (1 - Math.min(1, Math.max(0, strength)))
