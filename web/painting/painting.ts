import * as Comlink from 'comlink'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, triggerRef, watch } from 'vue'
import { toast } from 'vue-sonner'
import type { PaintedFrame } from '#core/painting/carry.ts'
import { type Raster, rasterFrom } from '#core/pixels/buffers/raster.ts'
import type { Diff } from '#core/records/diff.ts'
import { limits } from '#core/records/limits.ts'
import { makeKey } from '#core/records/make.ts'
import { keyId, type MemberKind, type Part, type Stroke } from '#core/records/types.ts'
import { makePaintedKey } from '#core/shapes/make.ts'
import { rasterAt } from '#core/shapes/riding.ts'
import { isAway, isHandKey } from '#core/shapes/track.ts'
import type { Carried, PaintWorker } from './paint.worker.ts'
import { type Started, startPainter } from '../frames/start.ts'
import { useBench } from '../editor/bench.ts'
import { brush } from './brush.ts'
import { useCast } from '../editor/cast.ts'
import { followWishes } from '../editor/runs/followWishes.ts'
import { newId, useProject } from '../project/project.ts'
import { type FollowReach, framesOf } from '../editor/runs/reaches.ts'
import { useTracing } from '../editor/tracing.ts'

/** Painted mattes: a stroke is answered in a worker, and carried through the clip, one undo step each. */
export const usePainting = defineStore('painting', () => {
  const project = useProject()
  const bench = useBench()
  const cast = useCast()
  const tracing = useTracing()

  /** The run under way: the part, how many frames it is about, and what was found until now. */
  const run = shallowRef<{ part: string; total: number; found: Map<number, Raster | null> } | null>(null)
  const stopping = ref(false)
  const progress = computed(() => (run.value ? Math.min(1, run.value.found.size / run.value.total) : 0))
  /** Part and frame of the stroke that is being answered. */
  const answering = shallowRef<{ part: string; frame: number } | null>(null)

  /** The matte of a part at a frame: of the run, while it is not kept yet, else what is kept. */
  function matte(part: Part, frame: number): Raster | null {
    const found = run.value?.part === part.id ? run.value.found.get(frame) : undefined
    return found !== undefined ? found : rasterAt(project.records()!, part, frame)
  }
  const strokesAt = (part: Part, frame: number) =>
    project.childrenOf('stroke', part.id).filter((stroke) => stroke.frame === frame)

  let started: Started<PaintWorker> | null = null
  let shot = ''
  function worker(): PaintWorker {
    if (shot !== bench.shotId) leave()
    shot = bench.shotId
    started ??= startPainter()
    return started.remote
  }
  /** Frees the worker and its pictures; a run under way is given up. */
  function leave(): void {
    started?.stop()
    started = null
    run.value = answering.value = null
  }
  function stop(): boolean {
    if (!run.value) return false
    stopping.value = true
    void started?.remote.stop()
    return true
  }

  const order = (part: Part) => ({
    records: [...project.records()!.withDescendants([{ type: 'part', id: part.id }])].map(({ type, id }) =>
      project.records()!.get(type, id)!,
    ),
    part: part.id,
    length: bench.length,
  })
  const getFrame = () => {
    const { pictures } = bench
    const first = bench.shot!.in
    return Comlink.proxy((frame: number) => pictures.decoded(first + frame))
  }

  // With the brush in hand the worker begins to look at the clip before the first stroke is drawn.
  watch(
    () => bench.tool === 'painted' && bench.shot !== null && bench.times.length > 0,
    (ready) => {
      if (ready)
        void worker()
          .prepare(bench.frame, bench.length, getFrame())
          .catch(() => {})
    },
    { immediate: true },
  )

  /** The painted part that a stroke goes to: the chosen one, or a new one of the chosen member, or of a new member. */
  function subject(): { part: Part; fresh: Diff['put'] } | null {
    const { part } = bench
    if (part?.kind === 'painted') return tracing.refuseLocked(part) ? null : { part, fresh: [] }
    const member = part && project.get('member', part.member)
    return cast.newPart(member ?? null, { kind: 'performer', name: 'Performer' }, { name: 'matte', kind: 'painted' })
  }

  /** Takes a stroke of the hand, in plate pixels, and answers with the frame's matte. */
  async function stroke(points: readonly number[], wanted: boolean): Promise<void> {
    if (run.value) return void toast('The matte is being carried; stop that first, then stroke.', { id: 'paint' })
    const on = subject()
    if (!on) return
    const { part, fresh } = on
    const { frame } = bench
    const before = strokesAt(part, frame)
    const one: Stroke = {
      ...{ type: 'stroke', id: newId(), part: part.id, frame, wanted, size: brush.value.size },
      order: (before.at(-1)?.order ?? 0) + 1,
      points: thinned(points).map((v) => Math.round(v * 10) / 10),
    }
    const group = `stroke ${one.id}`
    if (!project.commit(`Stroke ${part.name} at ${frame}`, { put: [...fresh, one], remove: [] }, group)) return
    if (fresh.length) cast.choosePart(part)
    bench.tool = 'painted'
    await answer(part, frame, group)
  }

  /** Strokes that came in while one was answered, answered together afterwards. */
  let again: (() => Promise<void>) | null = null
  async function answer(part: Part, frame: number, group: string): Promise<void> {
    if (answering.value) {
      again = () => answer(part, frame, group)
      return
    }
    const strokes = strokesAt(part, frame)
    if (strokes.length === 0) return
    answering.value = { part: part.id, frame }
    try {
      const raster = await worker().answer(order(part), frame, carriedBefore(part, frame), getFrame())
      const now = strokesAt(part, frame)
      // Undone meanwhile, or more was stroked: then the next answer counts.
      const same = now.length === strokes.length && now.every((one, i) => one.id === strokes[i]!.id)
      if (same && raster)
        project.commit(
          `Stroke ${part.name} at ${frame}`,
          { put: [makePaintedKey(part.id, frame, raster, null)], remove: [] },
          group,
          Infinity,
        )
      else if (same) toast(nothingFound(strokes, part), { id: 'paint' })
    } catch (error) {
      toast.error((error as Error).message, { id: 'paint' })
    } finally {
      answering.value = null
      const next = again
      again = null
      await next?.()
    }
  }
  const nothingFound = (strokes: readonly Stroke[], part: Part) =>
    strokes.some((one) => one.wanted)
      ? `Nothing of ${part.name} was found under these strokes: both look alike there. Stroke more of what is wanted, with a smaller brush.`
      : 'That is not wanted. Now stroke what is.'

  /** What a correction begins from: the matte on the frame, unless it comes from the strokes of this frame alone. */
  function carriedBefore(part: Part, frame: number): Raster | null {
    const keys = project.childrenOf('key', part.id)
    const here = keys.find((key) => key.frame === frame)
    if (!here?.matte) return null
    const others = keys.some((key) => key.frame !== frame && isHandKey(key))
    return isHandKey(here) && !others ? null : rasterFrom(here.matte)
  }

  /** Takes the strokes of a frame back, with the matte that came from them. */
  function clearStrokes(part: Part, frame = bench.frame): void {
    if (!tracing.refuseLocked(part)) tracing.removeKey(part, frame)
  }

  /**
   * A new member with a matte that begins from rough ones, on the frames that are given: each is made exact by what the
   * picture looks like there, all in one undo step. `through`: carried over the frames between them, too.
   */
  async function adopt(
    member: { kind: MemberKind; name: string },
    rough: ReadonlyMap<number, Raster>,
    through: boolean,
  ): Promise<void> {
    const { part, fresh } = cast.newPart(null, member, { name: 'matte', kind: 'painted' })
    const group = `adopt ${part.id}`
    const label = `Take in ${member.name}`
    if (rough.size === 0) throw new Error('What was found is too small for a matte; try a larger picture of it.')
    if (!project.commit(label, { put: fresh, remove: [] }, group)) return
    cast.choosePart(part)
    for (const [frame, raster] of rough) {
      answering.value = { part: part.id, frame }
      try {
        const exact = await worker().answer(order(part), frame, raster, getFrame())
        if (!project.get('part', part.id)) return
        if (exact)
          project.commit(label, { put: [makePaintedKey(part.id, frame, exact, null)], remove: [] }, group, Infinity)
      } finally {
        answering.value = null
      }
    }
    if (through) await carry('all')
  }

  async function carry(reach: FollowReach): Promise<void> {
    const { part } = bench
    if (run.value || !part || !bench.shot || tracing.refuseLocked(part)) return
    const keys = project.childrenOf('key', part.id)
    if (!keys.some(isHandKey))
      return void toast.error(
        `${part.name} is painted on no frame yet: stroke what is wanted and what is not, then carry it from there.`,
        { id: 'paint' },
      )
    const frames = framesOf(reach, part, keys, bench)
    if (typeof frames === 'string') return void toast.error(frames, { id: 'paint' })
    const from = Math.max(0, frames.from)
    const to = Math.min(bench.length - 1, frames.to)
    let total = 0
    for (let f = from; f <= to; f++) if (!keys.some((key) => key.frame === f && isHandKey(key))) total++
    if (total === 0) return void toast('There is no frame left to carry it to that way.', { id: 'paint' })
    bench.stop()
    const home = bench.frame
    const found = new Map<number, Raster | null>()
    run.value = { part: part.id, total, found }
    stopping.value = false
    try {
      const result = await worker().carry(
        order(part),
        from,
        to,
        getFrame(),
        Comlink.proxy((one: PaintedFrame) => {
          // Word of a frame can come in after the end of its run.
          if (run.value?.found !== found) return
          found.set(one.frame, one.raster)
          triggerRef(run)
          if (bench.shotId === shot) bench.go(one.frame)
        }),
      )
      run.value = null
      keep(part, result, from, to, stopping.value)
      if (bench.shotId === shot) bench.go(result.endings[0]?.frame ?? home)
      say(part, result)
    } catch (error) {
      run.value = null
      bench.go(home)
      toast.error((error as Error).message, { id: 'paint' })
    }
  }

  /** One commit: what was found, and what an earlier run had left where this one ended. */
  function keep(part: Part, { keys }: Carried, from: number, to: number, stopped: boolean): void {
    const now = project.get('part', part.id)
    if (!now) return
    const track = bench.track(now)
    const hands = new Set(track.keys.filter(isHandKey).map((key) => key.frame))
    const diff: Diff = { put: [], remove: [] }
    const kept = new Set<number>()
    for (const key of keys) {
      // A hand may have been at work meanwhile: what it painted or marked away stays.
      if (hands.has(key.frame) || isAway(track, key.frame)) continue
      kept.add(key.frame)
      diff.put.push(key)
    }
    if (!stopped)
      for (const key of track.keys)
        if (!isHandKey(key) && key.frame >= from && key.frame <= to && !kept.has(key.frame))
          diff.remove.push({ type: 'key', id: keyId(part.id, key.frame) })
    if (diff.put.length + diff.remove.length === 0) return
    project.commit(`Carry ${part.name} over ${diff.put.length} ${diff.put.length === 1 ? 'frame' : 'frames'}`, diff)
  }

  function say(part: Part, { keys, endings }: Carried): void {
    const [ending] = endings
    const unsure = keys.filter((one) => one.followed! < followWishes.value.unsure).length
    if (ending)
      toast.warning(
        `${part.name}: carried over ${keys.length} frames. Stopped at frame ${ending.frame}: ${
          ending.why === 'cut' ? 'the picture cuts to something else' : 'nothing of it is left'
        }. Stroke it there and carry on.`,
        { id: 'paint', duration: 8000 },
      )
    else if (unsure)
      toast(`${part.name}: ${unsure} of ${keys.length} frames are worth a look (Shift+E).`, { id: 'paint' })
  }

  /** An outline of few points, laid along the matte on every frame that has one, beside the painted part. */
  async function toOutline(tolerance: number): Promise<void> {
    const { part, frame } = bench
    const member = part && project.get('member', part.member)
    if (!part || !member || !matte(part, frame))
      return void toast.error('There is no matte on this frame: go to one that has it, its points are chosen there.')
    const points = await worker().outline(order(part), frame, tolerance)
    if (points.size === 0) return void toast.error('The matte of this frame is too small for an outline.')
    const made = cast.newPart(member, null, { name: `${part.name} outline`, kind: 'outline' })
    const keys = new Map(project.childrenOf('key', part.id).map((key) => [key.frame, key.followed ?? null]))
    const put = [...points].map(([at, nodes]) => makeKey(made.part.id, at, nodes, '', keys.get(at) ?? null))
    if (project.commit(`Outline of ${part.name}`, { put: [...made.fresh, ...put], remove: [] }))
      cast.choosePart(made.part)
  }

  return {
    ...{ run, stopping, progress, answering, matte, strokesAt },
    ...{ stroke, clearStrokes, adopt, carry, stop, leave, toOutline },
  }
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
