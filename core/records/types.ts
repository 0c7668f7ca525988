import type { Curve } from '../parameters/curves.ts'
import type { Drive } from '../parameters/drives.ts'
import type { Settings } from '../parameters/parameters.ts'
import type { BlendName } from '../pixels/colour/blend.ts'
import { limits } from './limits.ts'

/*
 * A project is a flat set of these records. What each field may hold is checked by records/schemas.ts. Kinds of parts and
 * of effects are names here: what they mean is known by the registries above, never by the records.
 */

export interface Project {
  type: 'project'
  id: string
  name: string
  /** ISO time. */
  created: string
  /** Whether light is blended in linear light or on the encoded values. */
  light: 'linear' | 'display'
}

/** How the pictures of stills and sequences are coded: as they came in, by themselves or zipped. */
export const pictureCodecs = ['png', 'jpeg', 'exr'] as const
export type PictureCodec = (typeof pictureCodecs)[number]
/** How a medium's picture is coded; 'sound' where it has none. */
export type MediaCodec = 'avc' | 'vp8' | 'vp9' | 'av1' | 'sound' | PictureCodec

export interface Media {
  type: 'media'
  id: string
  name: string
  /** SHA-256 of the file, 64 hexadecimal digits. */
  hash: string
  /** How a video is coded, or what its pictures are: a still is a sequence of one. */
  codec: MediaCodec
  /** How its sound is coded; '' without sound. */
  audio: string
  /** Size of the upright picture in pixels, rotation applied; 0 without a picture. */
  width: number
  height: number
  /** Clockwise turn in degrees that makes the coded picture upright: 0, 90, 180 or 270. */
  rotation: number
  /** 0 without a picture. */
  frames: number
  /** Frames a second: the mean over the clip; 1 without a picture. */
  rate: number
  variableRate: boolean
  seconds: number
  bytes: number
  matrix: 'bt709' | 'bt601'
  range: 'limited' | 'full'
  /** False where the file names no colour matrix and the size decided. */
  tagged: boolean
}

/** How frames between two of the clip come about: the earlier one again, both over each other, or both moved towards each other. */
export type Between = 'repeated' | 'blended' | 'moved'

/** Frames of a shot that run through its clip at one speed. */
export interface TimePiece {
  /** Place in the clip of its first frame: a real number, in frames of the clip. */
  from: number
  /** Frames of the clip to one of the shot: 0 stands still, below 0 runs backwards. */
  step: number
  /** Frames of the shot that it lasts. */
  length: number
  between: Between
}

export interface Shot {
  type: 'shot'
  id: string
  media: string
  name: string
  order: number
  /** First frame of the clip and the one after the last. */
  in: number
  out: number
  /** Over how many of its last frames the next shot runs already; 0 for a cut. */
  join: number
  /** Decibels by which all of its sound is louder; 0 where missing. */
  level?: number | undefined
  /** How its frames run through the clip, from the first to the last; missing or null where they run as they were filmed. */
  timing?: TimePiece[] | null | undefined
}

export type MemberKind = 'prop' | 'eye' | 'hand' | 'performer' | 'other'

export interface Member {
  type: 'member'
  id: string
  shot: string
  name: string
  kind: MemberKind
  /** Index into the cast colours, 0 to 7. */
  colour: number
  order: number
}

export type Tween = 'straight' | 'arc' | 'eased' | 'held'
export type Role = 'add' | 'cut' | 'limit'

export interface Part {
  type: 'part'
  id: string
  member: string
  name: string
  /** A name of shapes/registry.ts. */
  kind: string
  order: number
  tween: Tween
  /** Whether the shape stays before its first and after its last key. */
  hold: boolean
  /** What the part does to its member's matte, in the order of the parts. */
  role: Role
  /** Not drawn in the editor; it counts in mattes and effects all the same. */
  hidden: boolean
  /** Seen but not to be moved. */
  locked: boolean
  /**
   * What the part rides on: the id of another part or of a member, and the shapes of what carries it when the riding
   * began. Its keys are kept as if those had never moved since. Null where it rides on nothing.
   */
  ride: { on: string; from: { part: string; points: number[] }[] } | null
  settings: Settings
}

/** A matte as records keep it: see pixels/buffers/raster.ts. Whole plate pixels. */
export interface KeptMatte {
  x: number
  y: number
  width: number
  height: number
  /** Its pixels, or '#' and the name under which the server keeps them: they come when they are wanted. */
  data: string
}

export interface Key {
  type: 'key'
  /** `keyId(part, frame)`: one key per part and frame, whoever makes it. */
  id: string
  part: string
  /** Counted from the shot's in point; keys before it stay when the shot is cut shorter. */
  frame: number
  /** A flat list of plate pixels. */
  points: number[]
  /** Style of the in-betweens after this key; '' for the part's own. */
  tween: Tween | ''
  /** How sure it is, 0 to 1, where the shape came from following the picture; null or missing where a hand set it. */
  followed?: number | null | undefined
  /** The matte of a painted part on this frame. Null or missing on all others. */
  matte?: KeptMatte | null | undefined
}

/** A stroke of a painted part: what it lies on is wanted, or is not. */
export interface Stroke {
  type: 'stroke'
  id: string
  part: string
  frame: number
  /** Place in the order of the frame's strokes: a later one lies over an earlier. */
  order: number
  wanted: boolean
  /** Its whole width in plate pixels. */
  size: number
  points: number[]
}

/** First and last frame on which the part is not there. */
export interface Away {
  type: 'away'
  id: string
  part: string
  from: number
  to: number
}

export interface Mark {
  type: 'mark'
  id: string
  shot: string
  frame: number
  note: string
}

/**
 * The clean plate of a shot: a still that shows what is behind everybody who moves, and where it lies on every frame. It
 * serves where the cast is taken out of a frame.
 */
export interface Plate {
  type: 'plate'
  id: string
  shot: string
  /** Id of the still, whose alpha says what of it is known. */
  media: string
  /** Where its first pixel lies, in the plate pixels that its motions start from. */
  x: number
  y: number
  /** Frame of the clip that the first motion is of: cutting the shot anew changes nothing. */
  from: number
  /** Four numbers a frame, (a, b, tx, ty): (x, y) lies at (a x - b y + tx, b x + a y + ty); all 0 where that is not known. */
  motions: number[]
}

export type Side = 'inside' | 'outside' | 'edge'

/** Where an effect works: within, around or along the edge of members or single parts; everywhere where none is named. */
export interface Region {
  /** Ids of members and parts, taken together. */
  of: string[]
  side: Side
  /** Pixels by which the edge is moved outwards, or half the width of the band along it. */
  grow: number
  /** Softness of the region's edge in pixels. */
  soften: number
  /** Whether the outside is worked on as it was filmed, with whom it surrounds in it; else they are taken out of it before. */
  filmed?: boolean | undefined
}

/** Frames on which an effect is there, both inclusive, with its fading in and out in frames. */
export interface FrameRange {
  from: number
  to: number
  fadeIn: number
  fadeOut: number
}

/** What every effect has, whatever its kind: also what a card of a look keeps. */
export interface EffectCard {
  /** A name of effects/catalogue.ts. */
  kind: string
  on: boolean
  /** The cast member it rides on, or '' while none is chosen. */
  target: string
  region: Region
  /** Members and parts that cover it. */
  behind: string[]
  /** On which frames they do; on all where there is none. */
  behindRange?: FrameRange | null | undefined
  blend: BlendName
  opacity: number | Curve | Drive
  range: FrameRange | null
  /** Cards of the same group stand together and are switched together; '' for none. */
  group: string
  /** How much of its whole group is laid on, 0 to 1, the same on all of its cards; all of it where missing. */
  groupOpacity?: number | undefined
  settings: Settings
}

export interface Effect extends EffectCard {
  type: 'effect'
  id: string
  shot: string
  order: number
}

/** What a hand did to a moment. */
export interface Bead {
  /** Frame at which the motion had it when the hand changed it; null where the hand added it. */
  at: number | null
  /** Frame to which the hand put it; null where it stays with the motion. */
  frame: number | null
  muted: boolean
  /** Decibels. */
  gain: number
}

/** A sound of a shot. */
export interface Sound {
  type: 'sound'
  id: string
  shot: string
  order: number
  /** A name of sound/catalogue.ts. */
  kind: string
  on: boolean
  /** Over its range, or at moments. */
  way: 'through' | 'moments'
  /** The cast member whose motion it rides on, or ''. */
  target: string
  /** A name of motion/moments.ts, and the second member where moments are between two. */
  source: string
  with: string
  /** What was done to its moments by hand, and those that were named. */
  beads: Bead[]
  range: FrameRange | null
  /** Ids of the clips that it is read from; several take turns. */
  takes: string[]
  settings: Settings
}

export interface KeptLook {
  type: 'look'
  id: string
  name: string
  /** What it is good for, in a few words. */
  about: string
  /** Kinds of parts that its subject needs one of; empty where it goes on anything, or on nobody. */
  needs: string[]
  cards: EffectCard[]
  /** A small picture of it as a data address, or ''. */
  preview: string
}

export type AnyRecord =
  Project | Media | Shot | Member | Part | Key | Stroke | Away | Mark | Plate | Effect | Sound | KeptLook
export type RecordType = AnyRecord['type']
export type RecordTypes = { [T in RecordType]: Extract<AnyRecord, { type: T }> }

/**
 * Every record type, parents before children (the order in which records can be written), with the field that names the
 * record it belongs to; null for those that belong to the project itself. The one list that all others are made from.
 */
export const parentField: { [T in RecordType]: { field: string; type: RecordType } | null } = {
  project: null,
  media: null,
  shot: { field: 'media', type: 'media' },
  member: { field: 'shot', type: 'shot' },
  part: { field: 'member', type: 'member' },
  key: { field: 'part', type: 'part' },
  stroke: { field: 'part', type: 'part' },
  away: { field: 'part', type: 'part' },
  mark: { field: 'shot', type: 'shot' },
  plate: { field: 'shot', type: 'shot' },
  effect: { field: 'shot', type: 'shot' },
  sound: { field: 'shot', type: 'shot' },
  look: null,
}
export const recordTypes = Object.keys(parentField) as RecordType[]

/** Id of the record that one belongs to; null where it belongs to the project itself. */
export const parentOf = (record: AnyRecord): string | null => {
  const parent = parentField[record.type]
  return parent ? (record as unknown as Record<string, string>)[parent.field]! : null
}

/** Name under which the server keeps the pixels of a key that came without them; null where they are in it. */
export function matteElsewhere(record: AnyRecord): string | null {
  const data = record.type === 'key' ? record.matte?.data : undefined
  return data?.startsWith('#') ? data.slice(1) : null
}
/** A key with the pixels of its matte. */
export const withPixels = (key: Key, data: string): Key => ({ ...key, matte: { ...key.matte!, data } })

export const keyId = (part: string, frame: number): string => `${part}@${frame}`

/** Whether a medium is a still or a sequence of pictures. */
export const isPictures = ({ codec }: Pick<Media, 'codec'>): boolean => pictureCodecs.some((one) => one === codec)

/** Whether a medium is sound without a picture. */
export const isSound = ({ codec }: Pick<Media, 'codec'>): boolean => codec === 'sound'

/** Whether a medium is one picture. */
export const isStill = (media: Pick<Media, 'codec' | 'frames'>): boolean => isPictures(media) && media.frames === 1

/** Number of frames of a medium that shots can be cut from: a still lasts as long as one likes. */
export const framesOf = (media: Pick<Media, 'codec' | 'frames'>): number =>
  isStill(media) ? limits.stillFrames : media.frames

/** Number of frames in a shot. */
export const shotLength = ({ in: first, out, timing }: Pick<Shot, 'in' | 'out' | 'timing'>): number =>
  timing ? timing.reduce((sum, piece) => sum + piece.length, 0) : out - first
