import { said } from '../say.ts'
import { named, number, type ParameterTable, seedNumber, type SettingsOf, still } from '../parameters/builders.ts'
import type { Parameter } from '../parameters/parameters.ts'
import { type Piece, sentencePieces } from '../parameters/sentence.ts'
import type { Stereo } from './signal/stereo.ts'

/*
 * A voice is a file: its description (what the list, the card, the panel, the lanes and the validation are made from) and how it
 * sounds, and a line in the catalogue and in the list of sounds for each. Who only describes carries no synthesis.
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
export interface VoiceKind<T extends ParameterTable = ParameterTable> {
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
  /** Its own under their names, for who wants them typed. */
  table: T
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

/** How a kind sounds, its settings typed. */
export type SoundOf<K> = K extends VoiceKind<infer T> ? VoiceSound<SettingsOf<T>> : never

type Described<T extends ParameterTable> = Omit<VoiceKind<T>, 'kind' | 'parameters' | 'table'> & { parameters: T }

const textsOf = ({ title, summary, sentence }: Pick<VoiceKind, 'title' | 'summary' | 'sentence'>) => ({
  ...{ title: said(title, 'sound'), summary: said(summary), sentence: said(sentence) },
})

/** Describes a voice. `kind` is the name that records keep. */
export const defineVoice = <const T extends ParameterTable>(kind: string, given: Described<T>): VoiceKind<T> => ({
  ...given,
  ...textsOf(given),
  kind,
  parameters: named({ ...given.parameters, ...common }),
  table: given.parameters,
})

/** Describes what is heard of a file: it is read, not made. Of what every sound has it has what it names. */
export const defineRecording = <const T extends ParameterTable>(kind: string, given: Described<T>): VoiceKind<T> => ({
  ...given,
  ...textsOf(given),
  kind,
  parameters: named(given.parameters),
  table: given.parameters,
})

/** What a sentence names beside settings: whom it is of, when it is heard, and the files that take turns. */
const soundFields = ['target', 'when', 'takes'] as const
/** The pieces of a kind's sentence. */
export const pieces = ({ sentence }: Pick<VoiceKind, 'sentence'>): Piece<(typeof soundFields)[number]>[] =>
  sentencePieces(sentence, soundFields)
