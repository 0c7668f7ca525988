import * as Comlink from 'comlink'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, triggerRef } from 'vue'
import { toast } from 'vue-sonner'
import type { Diff } from '#core/records/diff.ts'
import { makeKey } from '#core/records/make.ts'
import { keyId, type Part } from '#core/records/types.ts'
import { keyedFrom } from '#core/shapes/riding.ts'
import { isAway, isHandKey } from '#core/shapes/track.ts'
import type { Ending, Followed, FollowResult } from '#core/tracking/follow.ts'
import type { FollowWorker } from './follow.worker.ts'
import { type Started, startFollower } from '../frames/start.ts'
import { useBench } from '../editor/bench.ts'
import { followWishes } from '../editor/runs/followWishes.ts'
import { useProject } from '../project/project.ts'
import { type FollowReach, framesOf } from '../editor/runs/reaches.ts'
import { useTracing } from '../editor/tracing.ts'

/** Following in a worker: what is under way, and what became of it, one commit a run. */
export const useFollowing = defineStore('following', () => {
  const project = useProject()
  const bench = useBench()
  const tracing = useTracing()

  const wishes = followWishes
  /** The run under way: the part, how many frames it is about, and what was found until now. */
  const run = shallowRef<{ part: string; total: number; found: Map<number, Followed> } | null>(null)
  const stopping = ref(false)
  const progress = computed(() => (run.value ? Math.min(1, run.value.found.size / run.value.total) : 0))
  /** Shape of the run at a frame, while it is not kept yet. */
  const live = (part: Part, frame: number) =>
    run.value?.part === part.id ? (run.value.found.get(frame)?.points ?? null) : null

  let started: Started<FollowWorker> | null = null
  let shot = ''

  async function follow(reach: FollowReach): Promise<void> {
    const { part } = bench
    if (run.value || !part || !bench.shot || tracing.refuseLocked(part)) return
    const frames = framesOf(reach, part, project.childrenOf('key', part.id), bench)
    if (typeof frames === 'string') return void toast.error(frames, { id: 'follow' })
    const from = Math.max(0, frames.from)
    const to = Math.min(bench.length - 1, frames.to)
    const hands = new Set(
      project
        .childrenOf('key', part.id)
        .filter(isHandKey)
        .map((key) => key.frame),
    )
    let total = 0
    for (let f = from; f <= to; f++) if (!hands.has(f)) total++
    if (total === 0) return void toast('There is no frame left to follow that way.', { id: 'follow' })
    bench.stop()
    const home = bench.frame
    const found = new Map<number, Followed>()
    run.value = { part: part.id, total, found }
    stopping.value = false
    const first = bench.shot.in
    try {
      const result = await worker().follow(
        {
          records: [...project.records()!.values()],
          part: part.id,
          ...{
            model: wishes.value.model,
            letGo: wishes.value.letGo ?? 0,
            from,
            to,
            behind: behind(part),
            length: bench.length,
          },
          stopBelow: wishes.value.unsureDoes === 'stop' ? wishes.value.unsure : 0,
        },
        Comlink.proxy((frame: number) => bench.pictures.decoded(first + frame)),
        Comlink.proxy((one: Followed) => {
          // Word of a frame can come in after the end of its run.
          if (run.value?.found !== found) return
          found.set(one.frame, one)
          triggerRef(run)
          if (bench.shotId === shot) bench.go(one.frame)
        }),
      )
      run.value = null
      keep(part, result, from, to, stopping.value)
      if (bench.shotId === shot)
        bench.go(result.endings[0]?.frame ?? (reach === 'step' || reach === 'stepBack' ? to : home))
      say(part, result)
    } catch (error) {
      run.value = null
      bench.go(home)
      toast.error((error as Error).message, { id: 'follow' })
    }
  }

  function worker(): FollowWorker {
    if (shot !== bench.shotId) leave()
    shot = bench.shotId
    started ??= startFollower()
    return started.remote
  }
  /** Frees the worker and its pictures; a run under way is given up. */
  function leave(): void {
    started?.stop()
    started = null
    run.value = null
  }
  function stop(): boolean {
    if (!run.value) return false
    stopping.value = true
    void started?.remote.stop()
    return true
  }

  function behind(part: Part): string[] {
    const { leaveOut } = wishes.value
    const others = bench.parts.filter((one) => one.member !== part.member)
    if (leaveOut === 'others') return others.map((one) => one.id)
    if (leaveOut === 'nothing') return []
    const covers = new Set(
      bench.effects.filter((effect) => effect.target === part.member).flatMap((effect) => effect.behind),
    )
    return others.filter((one) => covers.has(one.id) || covers.has(one.member)).map((one) => one.id)
  }

  /** One commit: what was found, and what an earlier run had left where this one ended. */
  function keep(part: Part, { frames }: FollowResult, from: number, to: number, stopped: boolean): void {
    const records = project.records()!
    const now = records.get('part', part.id)
    if (!now) return
    const track = bench.track(now)
    const hands = new Set(track.keys.filter(isHandKey).map((key) => key.frame))
    const diff: Diff = { put: [], remove: [] }
    const kept = new Set<number>()
    for (const { frame, points, sure } of frames) {
      // A hand may have been at work meanwhile: what it set or marked away stays.
      if (hands.has(frame) || isAway(track, frame)) continue
      kept.add(frame)
      diff.put.push(makeKey(part.id, frame, keyedFrom(records, now, frame, points), '', Math.max(0, Math.min(1, sure))))
    }
    if (!stopped)
      for (const key of track.keys)
        if (!isHandKey(key) && key.frame >= from && key.frame <= to && !kept.has(key.frame))
          diff.remove.push({ type: 'key', id: keyId(part.id, key.frame) })
    if (diff.put.length + diff.remove.length === 0) return
    project.commit(`Follow ${part.name} over ${diff.put.length} ${diff.put.length === 1 ? 'frame' : 'frames'}`, diff)
  }

  const reasons: Record<Ending['why'], string> = {
    unsure: 'it is not sure any more',
    lost: 'it was lost',
    cut: 'the picture cuts to something else',
  }
  function say(part: Part, { frames, endings }: FollowResult): void {
    const ending = endings[0]
    if (ending)
      toast.warning(
        `${part.name}: ${frames.length} frames followed. Stopped at frame ${ending.frame}: ${reasons[ending.why]}. Set it there and follow on.`,
        { id: 'follow', duration: 8000 },
      )
  }

  return { wishes, run, stopping, progress, live, follow, stop, leave }
})
