import { named, number, type ParameterTable, seedNumber, type SettingsOf, still } from '../parameters/builders.ts'
import type { Parameter, Settings } from '../parameters/parameters.ts'
import type { Stereo } from './signal/stereo.ts'

/*
 * A voice is a file: its description (what the list, the card, the panel, the lanes and the validation are made from), how it
 * sounds, and a line in the catalogue.
 */

/** How a sound is there: over a range of frames, or once at every moment. */
export type Way = 'through' | 'moments'

/** What every sound has, whatever its voice. */
export const common = {
  level: number('Level', 'dB', [-60, 12, 0.5], 0, 'How loud it is.'),
  pitch: number('Pitch', 'semitones', [-24, 24, 0.1], 0, 'Higher or lower; 12 semitones are an octave.'),
  tone: number('Tone', 'kHz', [0.1, 20, 0.1], 20, 'What lies above is taken away: lower is duller.'),
  place: number('Place', '%', [-1, 1, 0.01], 0, 'From the left, -100 %, to the right, 100 %.'),
  distance: number('Distance', 'm', [1, 100, 0.5], 1, 'Farther away it is quieter and duller.'),
  strength: still('Strength', 'dB', [0, 40, 1], 12, 'How much quieter the weakest moment is than the strongest.'),
  seed: seedNumber,
} as const

/** What a voice says of itself. */
export interface VoiceKind {
  kind: string
  title: string
  /** One sentence for the list. */
  summary: string
  group: 'Light' | 'Props' | 'People' | 'Air' | 'Files'
  /** The first one is that of a new card. */
  ways: readonly Way[]
  /** Whose motion a new card takes as its moments. */
  moments: 'swings' | 'contacts' | 'landings' | 'comes' | 'goes' | 'frames'
  /** Its own parameters, then what every sound has. */
  parameters: readonly Parameter[]
  /** The card's sentence: settings and 'target', 'when' and 'takes' in braces. */
  sentence: string
}

/** One stroke of a voice as samples; `lead`: seconds of it that lie before its moment. */
export interface Stroke {
  sound: Stereo
  lead: number
}

/** What a stroke is made from beside its settings: chances, factor of frequency, and how strong its moment is, 0 to 1. */
export interface StrokeContext {
  seed: number
  pitch: number
  strength: number
}

/** Writes samples `from` up to `to`, one block after the other; `pitch` is a factor of frequency, numbers may have moved. */
export type Running<S> = (out: Stereo, from: number, to: number, settings: S, pitch: number) => void

/** How a voice sounds. Pure: the same numbers give the same samples. */
export interface VoiceSound<S> {
  stroke?(settings: S, context: StrokeContext): Stroke
  /** Begins to sound; what it needs is made here, nothing is allocated while it runs. */
  through?(seed: number): Running<S>
}

export interface Voice extends VoiceKind, VoiceSound<Settings> {}

/** Describes a voice. `kind` is the name that records keep. */
export function defineVoice<const T extends ParameterTable>(
  kind: string,
  given: Omit<VoiceKind, 'kind' | 'parameters' | 'ways'> & { parameters: T } & VoiceSound<SettingsOf<T>>,
): Voice {
  const ways: Way[] = [...(given.through ? ['through' as const] : []), ...(given.stroke ? ['moments' as const] : [])]
  return { ...given, kind, ways, parameters: named({ ...given.parameters, ...common }) } as unknown as Voice
}

/** Describes what is heard of a file: it is read, not made. */
export const defineRecording = (
  kind: string,
  given: Omit<VoiceKind, 'kind' | 'parameters'> & { parameters: ParameterTable },
): Voice => ({ ...given, kind, parameters: named(given.parameters) })
