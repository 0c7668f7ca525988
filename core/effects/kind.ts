import type { Rect } from '../geometry/rect.ts'
import type { Scratch } from '../image/scratch.ts'
import type { Parameter, Settings } from '../model/parameters.ts'
import type { Role } from '../model/records.ts'

/** A traced part as an effect sees it: its settings and its shape at any time, in plate pixels. */
export interface TracedPart {
  id: string
  kind: string
  settings: Settings
  role: Role
  /** Null while the part is away or not traced. `time` in frames of the shot. */
  at(time: number): readonly number[] | null
}

/** What an effect gets to know and to change for one frame. */
export interface EffectContext {
  settings: Settings
  blend: 'add' | 'screen'
  /** 0..1 */
  opacity: number
  /** The parts of the cast member it rides on. */
  parts: readonly TracedPart[]
  frame: number
  /** Size of the picture worked on over full size: 1, 0.5 or 0.25. */
  scale: number
  /** '#rrggbb' to the working values (linear light, or encoded where the project blends display-referred). */
  colour(hex: string): [number, number, number]
  scratch: Scratch
}

/** The picture that an effect changes in place: premultiplied RGBA floats, row by row, over `region`. */
export interface WorkingImage {
  data: Float32Array
  region: Rect
  /** Coverage 0..1 of what hides the effect, over the same region; null where nothing does. */
  holdout: Float32Array | null
}

/** A piece of the sentence on an effect's card. */
export type SentencePiece =
  | { text: string }
  | { field: 'target' | 'behind' | 'blend' | 'opacity' }
  | { setting: string; text: string; colour?: string }

/** One effect kind: this description, in one file, and a line in the registry. */
export interface EffectKind {
  kind: string
  title: string
  /** One sentence for the list of effects. */
  summary: string
  /** Kinds of parts it can ride on. */
  rides: readonly string[]
  parameters: readonly Parameter[]
  sentence(settings: Settings): SentencePiece[]
  /** Pixels (at `scale`) that the effect may change at this frame; it may reach beyond the picture. */
  reach(context: EffectContext): Rect
  render(context: EffectContext, image: WorkingImage): void
}
