import { say } from '../say.ts'
import { fileName } from '../formats/fileName.ts'
import { type WavForm, wavForms } from '../formats/wav.ts'
import { filmOf, type Stretch } from '../records/film.ts'
import type { Records } from '../records/records.ts'
import { shotLength } from '../records/types.ts'
import { type Content, isClear } from '../render/contents.ts'
import { type FileKind, formOf, isOfOneFrame, isOfPictures, type Out, wayOf } from './forms.ts'

/** What somebody asks for. */
export interface OutputOrder {
  /** Id of the shot, or '' for the whole film. */
  shot: string
  /** Frames of the shot, both included; all of them where there is none. */
  frames: { from: number; to: number } | null
  out: Out
  kind: FileKind
  /** Name of the member whose matte it is, or who is cut out; '' for everybody together. */
  of: string
  samples: WavForm
  premultiplied: boolean
  reduce: 1 | 2 | 4
  /** Whether a matte or cut-out is cropped to what is seen of it. */
  crop: boolean
  /** How the file is called: see {@link nameWords}. */
  pattern: string
}

/** A file that the server makes of a project as it has it. */
export interface ServerOrder extends Pick<OutputOrder, 'shot' | 'frames' | 'kind' | 'of' | 'reduce' | 'crop'> {
  out: Content
  name: string
  about: string
}
/** What the server tells of such a file: how far it is, in the end that it is there, or why there is none. */
export type RenderNews =
  { done: number; of: number } | { made: { id: string; troubles: string[] } } | { refused: string }

/** Frames of a shot, as far as it has them, or every shot of the film. */
export function stretchesOf(records: Records, shotId: string, frames: OutputOrder['frames']): Stretch[] {
  if (!shotId) return filmOf(records)
  const shot = records.get('shot', shotId)
  const media = shot && records.get('media', shot.media)
  if (!shot || !media) return []
  const last = shotLength(shot) - 1
  const from = Math.max(0, Math.min(last, frames?.from ?? 0))
  return [{ shot, media, from, to: Math.max(from, Math.min(last, frames?.to ?? last)) + 1 }]
}

/** What is in a file: for its name, and for the line about it. */
function contentWords({ out, kind, of, premultiplied }: OutputOrder): [suffix: string, about: string] {
  const whose = of || 'everybody'
  const make = wayOf(kind)
  const clear =
    make.way === 'pictures' && (premultiplied || make.coding === 'exr') ? say`premultiplied alpha` : say`straight alpha`
  switch (out) {
    case 'sound':
      return [kind === 'lanes' ? 'lanes' : '', '']
    case 'shapes':
      return [say`${of} shapes`.trim(), say`shapes of ${whose}`]
    case 'tracks':
      return [say`${of} tracks`.trim(), say`tracks of ${whose}`]
    case 'edit':
      return ['edit', say`the shots in their order`]
    case 'over':
      return ['', say`plate with light`]
    case 'light':
      if (make.way === 'video' || make.way === 'prores')
        return ['light', make.alpha ? say`light alone, straight alpha` : say`light alone on black`]
      return ['light', say`light alone, ${clear}`]
    case 'plate':
      return ['plate', say`plate without light`]
    case 'clean':
      return [say`without ${of || 'cast'}`, say`clean plate without ${whose}`]
    case 'matte':
      return [say`${of} matte`.trim(), say`matte of ${whose}, white on black`]
    case 'cutout':
      return [say`${of} cut out`.trim(), say`${whose} cut out, ${clear}`]
  }
}

/** What a pattern of names may hold, and what that stands for. */
export const nameWords = {
  '[project]': say`the project`,
  '[shot]': say`the shot; of the film the project`,
  '[what]': say`what goes out, and of whom`,
  '[frames]': say`which frames, where it is not all`,
  '[size]': say`half or quarter, where it is smaller`,
  '[date]': say`the day, as 2026-11-28`,
} as const
export const usualPattern = '[shot] [what] [frames] [size]'
const sizes = { 1: '', 2: 'half', 4: 'quarter' } as const

/** The name of the file, and a line that says what is in it. */
export function titlesOf(
  records: Records,
  asked: OutputOrder,
  stretches: readonly Stretch[],
  project: string,
  today: Date,
): { name: string; about: string } {
  const { kind, frames, reduce } = asked
  const form = formOf(kind)
  const [suffix, what] = contentWords(asked)
  const single = frames && (isOfOneFrame(kind) || frames.from === frames.to)
  const some = frames && (single ? say`frame ${frames.from}` : say`frames ${frames.from} to ${frames.to}`)
  const shot = records.get('shot', asked.shot)?.name ?? project
  const date = [today.getFullYear(), today.getMonth() + 1, today.getDate()]
    .map((v) => String(v).padStart(2, '0'))
    .join('-')
  const words: Record<keyof typeof nameWords, string> = {
    ...{ '[project]': project, '[shot]': shot, '[what]': suffix, '[frames]': some ?? '', '[size]': sizes[reduce] },
    '[date]': date,
  }
  const base = asked.pattern.replace(/\[\w+\]/g, (word) => (words as Record<string, string>)[word] ?? word)
  const media = stretches[0]!.media
  const count = stretches.reduce((sum, { from, to }) => sum + to - from, 0)
  const long = count === 1 ? say`1 frame` : say`${count} frames`
  const size = (side: number) => Math.ceil(side / reduce)
  const facts =
    wayOf(kind).way === 'sound'
      ? [wavForms[asked.samples], '48 kHz', long]
      : asked.out === 'edit'
        ? [say`${stretches.length} shots`, long]
        : [`${size(media.width)} × ${size(media.height)}`, long]
  return {
    name: `${fileName(base, say`Film`, 90)}.${form.ending}`,
    about: [form.label, ...facts, what].filter(Boolean).join(', '),
  }
}

/** Whether it can be cropped: of one shot alone, as frames of a film are all of one size. */
export const asksForCrop = (out: Out, kind: FileKind, shot: string): boolean =>
  shot !== '' && (out === 'matte' || out === 'cutout') && isOfPictures(kind)

/** Whether alpha can be chosen to be multiplied in. */
export const asksForAlpha = (out: Out, kind: FileKind): boolean => {
  const make = wayOf(kind)
  return make.way === 'pictures' && make.coding !== 'exr' && isClear(out)
}
