import type { FileKind } from '#core/outgoing/forms.ts'
import { wayOf } from '#core/outgoing/forms.ts'
import { type OutputOrder, stretchesOf } from '#core/outgoing/orders.ts'
import { Records } from '#core/records/records.ts'
import type { AnyRecord } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import type { Content } from '#core/render/contents.ts'
import { say } from '#core/say.ts'
import { timesOf } from '../frames/clipOf.ts'
import { api } from '../project/api.ts'
import { withMattes } from '../project/mattes.ts'
import { useProject } from '../project/project.ts'
import type { OnFrame, Rendered, RenderOrder } from './renderFilm.ts'

/** What is asked for with all that it is made from, as the project is now. Throws a Refusal where its shots are gone. */
export async function prepared(project: string, asked: OutputOrder, place: string): Promise<RenderOrder> {
  const open = useProject()
  const records = await withMattes<AnyRecord>(
    open.session?.project === project ? [...open.records()!.values()] : (await api.openProject(project)).records,
  )
  const stretches = stretchesOf(new Records(records), asked.shot, asked.frames)
  const [first] = stretches
  if (!first)
    throw new Refusal(asked.shot ? say`The shot was deleted meanwhile.` : say`All shots were deleted meanwhile.`)
  const times = await Promise.all(stretches.map(({ media }) => timesOf(media)))
  const { kind, of, samples, premultiplied, reduce } = asked
  return {
    ...{ stretches, times, records, kind, content: contentOf(asked), of, samples, premultiplied, reduce, place },
    crop: asked.crop && asked.shot ? { from: first.from, to: first.to } : null,
    name: asked.shot ? first.shot.name : (records.find((one) => one.type === 'project')?.name ?? say`Film`),
  }
}

/** The picture that is asked for; that of a finished shot where it is none. */
export const contentOf = ({ out }: OutputOrder): Content =>
  out === 'shapes' || out === 'tracks' || out === 'sound' || out === 'edit' ? 'over' : out

export type Maker = (order: RenderOrder, onFrame: OnFrame, signal: AbortSignal) => Promise<Rendered>

/** Who makes such a file in this browser: each comes when it is needed, so that the first page stays light. */
export async function makerOf(kind: FileKind): Promise<Maker> {
  switch (wayOf(kind).way) {
    case 'sound':
      return (await import('./renderFilm.ts')).renderSound
    case 'shapes':
      return (await import('./renderTexts.ts')).renderShapes
    case 'edit':
      return (await import('./renderTexts.ts')).renderEdit
    default:
      return (await import('./renderFilm.ts')).renderFilm
  }
}
