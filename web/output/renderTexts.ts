import * as Comlink from 'comlink'
import { editDecisionList, editOf, openTimeline } from '#core/outgoing/editList.ts'
import type { TextForm } from '#core/outgoing/shapesText.ts'
import { Records } from '#core/records/records.ts'
import { Refusal } from '#core/refusal.ts'
import { say } from '#core/say.ts'
import { startEncoder, startRenderer } from '../frames/start.ts'
import { orStopped, type Rendered, type RenderOrder } from './renderFilm.ts'

/** Frames that are written from one look at the stop to the next. */
const batch = 48

const bytes = (text: string) => new TextEncoder().encode(text)

/** Writes traced shapes of one shot in the form of others. Rejects with an AbortError when stopped; nothing is left on disk then. */
export async function renderShapes(
  { stretches, records: list, kind, of, name: called, place }: RenderOrder,
  onFrame: (done: number, of: number) => void,
  signal: AbortSignal,
): Promise<Rendered> {
  const { shot, media, from, to } = stretches[0]!
  const records = new Records(list)
  const members = records.childrenOf('member', shot.id).filter((one) => !of || one.name === of)
  if (!members.length)
    throw new Refusal(
      of ? say`Nobody is called ${of} in it any more.` : say`Nobody is traced in it: trace somebody first.`,
    )
  const encoder = startEncoder()
  const renderer = startRenderer()
  const order = {
    members: members.map(({ id, name }) => ({ id, name })),
    ...{ from, to: to - 1, width: media.width, height: media.height, rate: media.rate },
  }
  try {
    if (kind === 'svgs') {
      await renderer.remote.start(list)
      await encoder.remote.beginZip(place)
      for (let at = from; at < to; at += batch) {
        signal.throwIfAborted()
        const drawings = await renderer.remote.svgOfFrames(shot.id, order, at, Math.min(to, at + batch))
        for (const [i, text] of drawings.entries())
          await encoder.remote.addPart(`${called}-${String(at + i - from).padStart(5, '0')}.svg`, bytes(text))
        onFrame(at + drawings.length - from, to - from)
      }
    } else {
      await encoder.remote.beginSingle(place)
      await renderer.remote.start(list)
      const told = Comlink.proxy((share: number) => onFrame(Math.floor(share * (to - from)), to - from))
      const text = await orStopped(renderer.remote.shapesText(kind as TextForm, shot.id, order, told), signal)
      signal.throwIfAborted()
      await encoder.remote.addPart('', bytes(text))
      onFrame(to - from, to - from)
    }
    const file = await encoder.remote.finish()
    signal.throwIfAborted()
    return { file, place, troubles: [] }
  } catch (error) {
    await encoder.remote.discard().catch(() => {})
    throw error
  } finally {
    encoder.stop()
    renderer.stop()
  }
}

/** Writes the film as an edit list. */
export async function renderEdit(
  { stretches, kind, name, place }: RenderOrder,
  onFrame: (done: number, of: number) => void,
): Promise<Rendered> {
  const encoder = startEncoder()
  try {
    await encoder.remote.beginSingle(place)
    const write = kind === 'edl' ? editDecisionList : openTimeline
    await encoder.remote.addPart('', bytes(write(editOf(stretches, name))))
    onFrame(1, 1)
    return { file: await encoder.remote.finish(), place, troubles: [] }
  } catch (error) {
    await encoder.remote.discard().catch(() => {})
    throw error
  } finally {
    encoder.stop()
  }
}
