import { said } from '../say.ts'
import type { Rect } from '../geometry/rect.ts'
import type { Contact } from '../motion/contacts.ts'
import { named, type ParameterTable, type SettingsOf } from '../parameters/builders.ts'
import type { Parameter, Settings } from '../parameters/parameters.ts'
import { type Piece, sentencePieces } from '../parameters/sentence.ts'
import { settingsAt } from '../parameters/values.ts'
import type { Rgba, RgbaArea } from '../pixels/buffers/picture.ts'
import type { Scratch, Slot } from '../pixels/buffers/scratch.ts'
import type { BlendName } from '../pixels/colour/blend.ts'
import type { Span } from '../pixels/kernels/interface.ts'
import type { Between } from '../records/types.ts'
import type { TracedPart } from '../shapes/traced.ts'

/*
 * An effect kind is a folder: its description (what the list, the card, the panel, the lanes and the validation are made
 * from) and its renderer, and a line in the catalogue for each. docs/effects-by-hand.md walks through one.
 */

/** What a kind says of itself, as everybody reads it. */
export interface EffectKind<T extends ParameterTable = ParameterTable> {
  kind: string
  title: string
  /** One sentence for the list of effects. */
  summary: string
  group: 'Light' | 'Colour' | 'Blur' | 'Distortion' | 'Breakup' | 'Arrangement'
  /** Kinds of parts it can ride on, or null where it rides on nobody. */
  rides: readonly string[] | null
  /** Whether it works without anybody to ride on, too: about the middle of the picture. */
  alone: boolean
  /** What the region does: it bounds where the effect is seen, it is what the effect comes from, or there is none. */
  region: 'bounds' | 'source' | 'none'
  /**
   * 'own': lays its light on by itself, with Add or Screen and holdouts. 'layer': draws onto an empty layer that is
   * then blended in. 'picture': changes a copy of the picture, which is then blended in.
   */
  makes: 'own' | 'layer' | 'picture'
  /** Blending of a new card. */
  blend: BlendName
  /** Which side of a performer a new card is about, where the shot has one; the whole picture where missing. */
  usual?: 'inside' | 'outside'
  /**
   * Whether it moves a picture, which its shutter then smears (see shutterSettings): as its settings and whom it rides on do, or also while
   * those stand still.
   */
  moves?: 'byItsSettings' | 'byItself'
  parameters: readonly Parameter[]
  /** The same by what somebody wants of them; one group without a title where there are few. */
  wishes: readonly ParameterGroup[]
  /** The parameters under their names, for who wants them typed. */
  table: T
  sentence(settings: Settings): SentencePiece[]
  /** What is wrong with the settings and what follows from it, in a sentence; '' where all is well. */
  trouble(settings: Settings): string
}

/** Settings that serve one wish, as 'How it burns'. */
export interface ParameterGroup {
  title: string
  parameters: readonly Parameter[]
}

/** A piece of the sentence on an effect's card. */
export type SentencePiece = Piece<CardField>

/** What a sentence names beside settings; 'next': the next shot and over how many frames this one is joined to it. */
const cardFields = ['target', 'region', 'behind', 'blend', 'opacity', 'range', 'next'] as const
export type CardField = (typeof cardFields)[number]

type Described<T extends ParameterTable> = Omit<
  EffectKind<T>,
  'kind' | 'parameters' | 'wishes' | 'table' | 'sentence' | 'trouble'
> & {
  parameters: T
  /** Names of the parameters under what somebody wants of them: each once, where there are many. */
  wishes?: Record<string, readonly (keyof T & string)[]>
  /** The card's sentence: settings and {@link CardField}s in braces, as in 'Lens of {strength} about {target}'. */
  sentence: string | ((settings: SettingsOf<T>) => string)
  trouble?(settings: SettingsOf<T>): string
}

/** Describes a kind. `kind` is the name that records keep. Throws where its wishes do not name every parameter once. */
export function defineEffect<const T extends ParameterTable>(kind: string, given: Described<T>): EffectKind<T> {
  const parameters = named(given.parameters)
  const { trouble } = given
  /** Every card has frames of its own, whether its sentence says where they stand or not. */
  const sentence = (settings: Settings) => {
    const own = typeof given.sentence === 'string' ? given.sentence : given.sentence(still(settings))
    return said(own.includes('{range}') || own.includes('{next}') ? own : `${own} {range}`)
  }
  const still = (settings: Settings) => settingsAt(parameters, settings, 0) as SettingsOf<T>
  return {
    ...given,
    ...{ title: said(given.title, 'effect'), summary: said(given.summary) },
    ...{ kind, parameters, wishes: groupsOf(kind, parameters, given.wishes), table: given.parameters },
    sentence: (settings) => piecesOf(sentence(settings)),
    trouble: (settings) => trouble?.(still(settings)) ?? '',
  }
}

function groupsOf(
  kind: string,
  parameters: readonly Parameter[],
  wishes: Record<string, readonly string[]> = { '': parameters.map((one) => one.name) },
): ParameterGroup[] {
  const names = Object.values(wishes).flat()
  const wrong = parameters.filter((one) => names.filter((name) => name === one.name).length !== 1)
  if (wrong.length || names.length !== parameters.length)
    throw new Error(`The wishes of ${kind} are to name every parameter once: ${wrong.map((one) => one.name).join()}.`)
  const named = (name: string) => parameters.find((one) => one.name === name)!
  return Object.entries(wishes).map(([title, of]) => ({ title: said(title), parameters: of.map(named) }))
}

const piecesOf = (template: string): SentencePiece[] => sentencePieces(template, cardFields)

/** What an effect gets to know of the frame that it works on. */
export interface EffectContext<S = Settings> {
  /** As they are at the frame: every number and colour stands still. */
  settings: S
  blend: BlendName
  /** 0..1, fading in and out included. */
  opacity: number
  /** Id of the cast member it rides on, '' for nobody. */
  target: string
  /** The parts of the cast member it rides on, of the kinds it can ride on. */
  parts: readonly TracedPart[]
  frame: number
  /** Frames since the effect began: since its range does, else since the shot does. */
  since: number
  /** Size of the picture worked on over full size: 1, 0.5 or 0.25. */
  scale: number
  /** Size of the whole picture at `scale`, in pixels. */
  size: { width: number; height: number }
  /** '#rrggbb' to the working values (linear light, or encoded where the project blends display-referred). */
  colour(hex: string): [number, number, number]
  /** How working values stand for light. */
  light: 'linear' | 'display'
  /** Coverage 0..1 of the effect's region over `rect`; with `time`, as it is then. In the scratch's buffer of `slot`. */
  region(rect: Rect, slot: Slot, time?: number): Float32Array
  /** Whether the region is the whole picture: it names nobody. */
  everywhere: boolean
  /** Pixels (at `scale`) within which the region lies, or did at `time`; everywhere for the whole picture, empty for nothing. */
  regionBounds(time?: number): Rect
  /** The parts of a member by its id; none where it is gone. */
  member(id: string): readonly TracedPart[]
  /** Where two members meet in the whole shot. */
  contacts(one: string, other: string): readonly Contact[]
  /** The shot's cards of a kind on the same member, as they are at the frame. */
  cardsThere(kind: string): readonly { settings: Settings; opacity: number }[]
  /** Size of such a picture in pixels; null where it is missing. */
  sizeOf(need: PictureNeed): { width: number; height: number } | null
  rateOf: RateOf
  /** Whether the next shot runs already. */
  joined: boolean
  /** Another picture that {@link Renderer.needs} asked for, as working values; null where it is missing. */
  picture(need: PictureNeed): Rgba | null
  /**
   * Shows the part of it over a region of the picture that is worked on, row by row from the first on: no copy of the whole is
   * made for that, where nobody is taken out of it. False where it is missing.
   */
  eachRow(need: PictureNeed, region: Rect, show: (row: Span, y: number) => void): boolean
  scratch: Scratch
}

/** The context of a kind, its settings typed. */
export type ContextOf<K> = K extends EffectKind<infer T> ? EffectContext<SettingsOf<T>> : never
/** The still settings of a kind. */
export type SettingsOfKind<K> = K extends EffectKind<infer T> ? SettingsOf<T> : never

/**
 * A frame of this clip (`media` '') counted within the shot, or of another one counted within its clip, or the next shot
 * as it is while this one is at `frame` (`media` 'next').
 */
export interface PictureNeed {
  media: string
  /** May lie beyond the clip. */
  frame: number
  /** Whether the clip begins again where it is over; else its last picture stays. */
  loop?: boolean
  /** Whether another clip is wanted at the scale that is worked at, not at its own size. */
  scaled?: boolean
  /** Of the shot's own frames: with what the cards before this one have made of it, not as it was filmed. */
  made?: boolean
  /** Of the shot's own frames: without those whom the card works behind; with `made` only. */
  without?: boolean
  /** How what lies between two frames of the clip comes about, where `frame` is no whole number. */
  between?: Between
}

/** The picture that an effect changes in place: premultiplied RGBA floats, row by row, over `region`. */
export interface WorkingImage extends RgbaArea {
  /** Coverage 0..1 of what hides the effect, over the same region; null where nothing does. Only for own light. */
  holdout: Float32Array | null
  /** For layers: the picture that they will be laid onto, as far as the effect looks. Not to be changed. */
  under?: RgbaArea
}

/** Frames of a clip, by its id, to a frame of the shot: 1 where both run at one rate. */
export type RateOf = (media: string) => number

/** How a kind is drawn. */
export interface Renderer<S = Settings> {
  /**
   * Pixels (at `scale`) that the effect may change at this frame; it may reach beyond the picture. Where missing: the whole
   * picture, but nothing while whom it rides on is away.
   */
  bounds?(context: EffectContext<S>): Rect
  /** How far from a pixel (at `scale`) it looks at the picture; Infinity for all of it. Not at all where missing. */
  sampleRadius?(context: EffectContext<S>): number
  /** Of what draws onto an empty layer: whether it looks at the picture beneath it, which else it is not given. Not where missing. */
  seesPicture?(context: EffectContext<S>): boolean
  /** Other pictures that the frame is made from. `settings` as they are at the frame, `length` of the shot. */
  needs?(settings: S, frame: number, length: number, rateOf: RateOf): PictureNeed[]
  /** Of what changes a picture: whether it draws every pixel anew from `under`, and so need not be given a copy to begin with. */
  redraws?: boolean
  draw(context: EffectContext<S>, image: WorkingImage): void
  /** How a graphics card draws the same within `bounds`; null where it can not. Where missing, the card is handed what was drawn. */
  shade?(context: EffectContext<S>, bounds: Rect): Shading | null
}

/**
 * What a graphics card computes for a pixel. `wgsl` declares `fn shade(place: vec2f, under: vec4f, hidden: f32) -> vec4f` with what it
 * calls: `place` the pixel's centre at the scale, `under` the working picture there, `hidden` how much of the effect is hidden, 0..1.
 * It gives own light with that already off it, else the layer or the changed pixel. {@link shadingPrelude} is declared before it.
 */
export interface Shading {
  wgsl: string
  /** What it reads as `numbers[i]`. */
  numbers: number[]
  /** Floating-point operations of a pixel, about: by them it is reckoned how long a card takes. */
  work: number
  /** Makes what it reads as `field(place)`: RGBA over the bounds. */
  field?: () => Float32Array
  /** Whether it looks elsewhere: `seen(place, border)` is the picture before, bilinearly; `border` an index of the border modes. */
  looks?: boolean
  /**
   * Side in pixels of the cells in which it computes what changes slowly: `wgsl` declares `fn coarse(place: vec2f) -> vec4f`, too, and
   * `coarse_at(place)` is that, bilinearly between the middles of cells.
   */
  cell?: number
}

/** A renderer of a kind, its settings typed by the kind's description. */
export const rendererOf = <T extends ParameterTable>(
  _kind: EffectKind<T>,
  renderer: Renderer<SettingsOf<T>>,
): Renderer<SettingsOf<T>> => renderer
