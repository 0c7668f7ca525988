import * as Comlink from 'comlink'
import { defineStore } from 'pinia'
import { watch } from 'vue'
import { toast } from 'vue-sonner'
import type { FrameSpan } from '#core/edits/frameSpan.ts'
import type { PaintedFrame } from '#core/painting/carry.ts'
import type { SeenMatte } from '#core/painting/paint.ts'
import { type Raster, rasterFrom } from '#core/pixels/buffers/raster.ts'
import type { Diff } from '#core/records/diff.ts'
import { limits } from '#core/records/limits.ts'
import { makeKey } from '#core/records/make.ts'
import { matteElsewhere, type MemberKind, type Part, type Stroke } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import { makePaintedKey } from '#core/shapes/make.ts'
import { isHandKey } from '#core/shapes/track.ts'
import { say } from '#core/say.ts'
import { useCast } from '../editor/cast.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { usePlayback } from '../editor/playback.ts'
import { followWishes } from '../editor/runs/followWishes.ts'
import { useRuns } from '../editor/runs/runs.ts'
import { useSelection } from '../editor/selection.ts'
import { useTracing } from '../editor/tracing.ts'
import { shotWorker } from '../frames/shotWorker.ts'
import { started } from '../frames/worker.ts'
import { newId, useProject } from '../project/project.ts'
import { attend, tell } from '../ui/troubles.ts'
import type { PaintWorker } from './paint.worker.ts'

export const startPainter = () =>
  started<PaintWorker>(
    new Worker(new URL('./paint.worker.ts', import.meta.url), { type: 'module' }),
    say`paint the matte`,
  )

/** Painted mattes: a stroke is answered in a worker, and carried through the clip, one undo step each. */
export const usePainting = defineStore('painting', () => {
  const project = useProject()
  const runs = useRuns()
  const opened = useOpenShot()
  const playback = usePlayback()
  const selected = useSelection()
  const cast = useCast()
  const tracing = useTracing()

  const worker = shotWorker(startPainter)
  const painter = () => worker.of(opened.cut)
  /** Frees the worker and its pictures. */
  function leave(): void {
    worker.stop()
    runs.answering = null
  }

  const order = (part: Part) => ({
    records: [...project.records()!.withDescendants([{ type: 'part', id: part.id }])].map(({ type, id }) =>
      project.records()!.get(type, id)!,
    ),
    part: part.id,
    length: opened.length,
  })
  const getFrame = () => {
    const { pictures } = opened
    return Comlink.proxy((frame: number) => pictures.decoded(frame))
  }

  // With the brush in hand the worker begins to look at the clip before the first stroke is drawn.
  watch(
    () => selected.tool === 'painted' && opened.shot !== null && opened.times.length > 0 && !runs.run,
    (ready) => {
      if (ready)
        void painter()
          .prepare(playback.frame, opened.length, getFrame())
          .catch(() => {})
    },
    { immediate: true },
  )

  /** The painted part that a stroke goes to: the chosen one, or a new one of the chosen member, or of a new member. */
  function subject(): { part: Part; fresh: Diff['put'] } | null {
    const { part } = selected
    if (part?.kind === 'painted') return tracing.refuseLocked(part) ? null : { part, fresh: [] }
    const member = part && project.get('member', part.member)
    return cast.freshPart(
      member ?? null,
      { kind: 'performer', name: say`Performer` },
      { name: 'matte', kind: 'painted' },
    )
  }

  /** Takes a stroke of the hand with its width, in plate pixels, and answers with the frame's matte. */
  async function stroke(points: readonly number[], wanted: boolean, size: number): Promise<void> {
    if (runs.run) return void toast(say`The matte is being carried; stop that first, then stroke.`, { id: 'paint' })
    const on = subject()
    if (!on) return
    const { part, fresh } = on
    const { frame } = playback
    const before = tracing.strokesAt(part, frame)
    const one: Stroke = {
      ...{ type: 'stroke', id: newId(), part: part.id, frame, wanted, size: Math.max(1, size) },
      order: (before.at(-1)?.order ?? 0) + 1,
      points: thinned(points).map((v) => Math.round(v * 10) / 10),
    }
    const group = `stroke ${one.id}`
    if (!project.commit(say`Stroke ${part.name} at ${frame}`, { put: [...fresh, one], remove: [] }, group)) return
    if (fresh.length) selected.choosePart(part)
    selected.tool = 'painted'
    await answer(part, frame, group)
  }

  /** Strokes that came in while one was answered, answered together afterwards. */
  let again: (() => Promise<void>) | null = null
  async function answer(part: Part, frame: number, group: string): Promise<void> {
    if (runs.answering) {
      again = () => answer(part, frame, group)
      return
    }
    const strokes = tracing.strokesAt(part, frame)
    if (strokes.length === 0) return
    runs.answering = { part: part.id, frame }
    try {
      const raster = await painter().answer(order(part), frame, carriedBefore(part, frame), getFrame())
      const now = tracing.strokesAt(part, frame)
      // Undone meanwhile, or more was stroked: then the next answer counts.
      const same = now.length === strokes.length && now.every((one, i) => one.id === strokes[i]!.id)
      if (same && raster)
        project.commit(
          say`Stroke ${part.name} at ${frame}`,
          { put: [makePaintedKey(part.id, frame, raster, null)], remove: [] },
          group,
          Infinity,
        )
      else if (same) toast(nothingFound(strokes, part), { id: 'paint' })
    } catch (error) {
      tell(error, say`answer the strokes`, 'paint')
    } finally {
      runs.answering = null
      const next = again
      again = null
      await next?.()
    }
  }
  const nothingFound = (strokes: readonly Stroke[], part: Part) =>
    strokes.some((one) => one.wanted)
      ? say`Nothing of ${part.name} was found under these strokes: both look alike there. Stroke more of what is wanted, with a smaller brush.`
      : say`That is not wanted. Now stroke what is.`

  /** What a correction begins from: the matte on the frame, unless it comes from the strokes of this frame alone. */
  function carriedBefore(part: Part, frame: number): Raster | null {
    const keys = project.childrenOf('key', part.id)
    const here = keys.find((key) => key.frame === frame)
    if (!here?.matte || matteElsewhere(here)) return null
    const others = keys.some((key) => key.frame !== frame && isHandKey(key))
    return isHandKey(here) && !others ? null : rasterFrom(here.matte)
  }

  /** Takes the strokes of a frame back, with the matte that came from them. */
  function clearStrokes(part: Part, frame = playback.frame): void {
    if (!tracing.refuseLocked(part)) tracing.removeKey(part, frame)
  }

  /**
   * A new member with a matte that begins from rough ones, on the frames that are given: each is made exact by what the
   * picture looks like there, all in one undo step. The one on frame `chosen` a hand has pointed at: it counts like a painted
   * one. `through`: carried over the frames between them, too.
   */
  async function adopt(
    member: { kind: MemberKind; name: string },
    rough: ReadonlyMap<number, SeenMatte>,
    chosen: number,
    through: boolean,
  ): Promise<void> {
    const { part, fresh } = cast.freshPart(null, member, { name: 'matte', kind: 'painted' })
    const group = `adopt ${part.id}`
    const label = say`Take in ${member.name}`
    if (rough.size === 0) throw new Refusal(say`What was found is too small for a matte; try a larger picture of it.`)
    if (!project.commit(label, { put: fresh, remove: [] }, group)) return
    selected.choosePart(part)
    const seen: number[] = []
    let byHand = false
    // The chosen one first: what the others are learned from is what a hand has pointed at.
    for (const [frame, { raster, confidence }] of [...rough].sort(
      ([a], [b]) => Math.abs(a - chosen) - Math.abs(b - chosen),
    )) {
      runs.answering = { part: part.id, frame }
      try {
        const exact = await painter().answer(order(part), frame, raster, getFrame())
        if (!project.get('part', part.id)) return
        if (!exact) continue
        const key = makePaintedKey(part.id, frame, exact, byHand ? confidence : null)
        project.commit(label, { put: [key], remove: [] }, group, Infinity)
        if (byHand) seen.push(frame)
        byHand = true
      } finally {
        runs.answering = null
      }
    }
    if (through) await carry('all', seen)
  }

  /** `seen`: frames whose mattes come from a detector: see the painter. */
  async function carry(span: FrameSpan, seen: number[] = []): Promise<void> {
    const { part } = selected
    if (!part || !opened.shot || runs.run || tracing.refuseLocked(part)) return
    if (!project.childrenOf('key', part.id).some(isHandKey))
      return void toast.error(
        say`${part.name} is painted on no frame yet: stroke what is wanted and what is not, then carry it from there.`,
        { id: 'carry' },
      )
    const remote = painter()
    const result = await runs.begin({
      ...{ what: 'carry', part, span },
      nothingLeft: say`There is no frame left to carry it to that way.`,
      work: (from, to, found) =>
        remote.carry(
          { ...order(part), seen },
          from,
          to,
          getFrame(),
          Comlink.proxy((one: PaintedFrame) => found(one.frame, one)),
        ),
      stop: () => attend(Promise.resolve(worker.running?.stop()), say`stop`),
      label: (count) => say`Carry ${part.name} over ${count} ${count === 1 ? say`frame` : say`frames`}`,
    })
    if (!result) return
    const {
      keys,
      endings: [ending],
      aways,
    } = result
    const unsure = keys.filter((one) => one.followed! < followWishes.value.unsure).length
    if (ending)
      toast.warning(
        say`${part.name}: carried over ${keys.length} frames. Stopped at frame ${ending.frame}: ${ending.why === 'cut' ? say`the picture cuts to something else` : say`nothing of it is left`}. Stroke it there and carry on.`,
        { id: 'carry', duration: 8000 },
      )
    else if (aways.length) {
      const said = aways.map(({ from, to }) => (from === to ? say`on ${from}` : say`from ${from} to ${to}`))
      toast(say`${part.name} left the picture ${said.join(', ')}, and is marked away there.`, { id: 'carry' })
    } else if (unsure)
      toast(say`${part.name}: ${unsure} of ${keys.length} frames are worth a look (Shift+E).`, { id: 'carry' })
  }

  /** An outline of few points, laid along the matte on every frame that has one, beside the painted part. */
  async function toOutline(tolerance: number): Promise<void> {
    const { part } = selected
    const { frame } = playback
    const member = part && project.get('member', part.member)
    if (!part || !member || !tracing.matte(part, frame))
      return void toast.error(say`There is no matte on this frame: go to one that has it, its points are chosen there.`)
    const points = await painter().outline(order(part), frame, tolerance)
    if (points.size === 0) return void toast.error(say`The matte of this frame is too small for an outline.`)
    const made = cast.freshPart(member, member, { name: say`${part.name} outline`, kind: 'outline' })
    const keys = new Map(project.childrenOf('key', part.id).map((key) => [key.frame, key.followed ?? null]))
    const put = [...points].map(([at, nodes]) => makeKey(made.part.id, at, nodes, '', keys.get(at) ?? null))
    if (project.commit(say`Outline of ${part.name}`, { put: [...made.fresh, ...put], remove: [] }))
      selected.choosePart(made.part)
  }

  return { stroke, clearStrokes, adopt, carry, leave, toOutline }
})

/** A stroke without the places that lie closer together than two pixels, and never too long to be kept. */
function thinned(points: readonly number[]): number[] {
  const out = [points[0]!, points[1]!]
  for (let i = 2; i < points.length; i += 2)
    if (Math.hypot(points[i]! - out.at(-2)!, points[i + 1]! - out.at(-1)!) >= 2 || i === points.length - 2)
      out.push(points[i]!, points[i + 1]!)
  const every = Math.ceil(out.length / 2 / (limits.numbers / 2 - 1))
  return every === 1 ? out : out.filter((_, i) => (i >> 1) % every === 0)
}
