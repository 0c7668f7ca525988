import * as Comlink from 'comlink'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, triggerRef } from 'vue'
import { toast } from 'vue-sonner'
import { framesOfSpan, type FrameSpan } from '#core/edits/frameSpan.ts'
import { awayChanged } from '#core/edits/keys.ts'
import { keptRun } from '#core/edits/runs.ts'
import type { Raster } from '#core/pixels/buffers/raster.ts'
import { cutOf } from '#core/records/timing.ts'
import type { Key, Part } from '#core/records/types.ts'
import { isHandKey } from '#core/shapes/track.ts'
import { say } from '#core/say.ts'
import { WorkerEnded } from '../../frames/worker.ts'
import { newId, useProject } from '../../project/project.ts'
import { tell } from '../../ui/troubles.ts'
import { useOpenShot } from '../openShot.ts'
import { usePlayback } from '../playback.ts'
import { useSelection } from '../selection.ts'

/** What a run finds on a frame, while it is not kept yet. */
export interface FoundFrame {
  points?: readonly number[]
  /** The matte of a painted part; null where nothing of it is left. */
  raster?: Raster | null
}

/** What came of a run: keys to keep, where it ended before its time, and the frame on which a hand would gain most. */
export interface RunResult {
  keys: readonly Key[]
  endings: readonly { frame: number }[]
  look?: number | null
  /** Stretches on which the part was not in the picture. */
  aways?: readonly { from: number; to: number }[]
}

export interface RunOrder<R extends RunResult> {
  what: 'follow' | 'carry'
  part: Part
  span: FrameSpan
  /** Where several parts are gone over at one press: which of them this one is, and how the one change is called that all become. */
  among?: { place: number; count: number; label: string; group: string }
  /** Where there is no frame in the span that no hand has set. */
  nothingLeft: string
  /**
   * Does it over frames from..to, both inclusive; `found` is to be told of each as it is there, `progressed` of the share
   * of the work that is done where that is not the share of frames that were found.
   */
  work(
    from: number,
    to: number,
    found: (frame: number, one: FoundFrame) => void,
    progressed: (share: number) => void,
  ): Promise<R>
  /** Ends it early: what it found until then comes back from `work`. */
  stop(): void
  /** How the change is called in the history. */
  label(frames: number): string
}

/** Milliseconds from one frame that a run shows to the next. */
const shownEvery = 100

/** Following and carrying: what is under way, live, and kept as one change when it is over. One run at a time. */
export const useRuns = defineStore('runs', () => {
  const project = useProject()
  const opened = useOpenShot()
  const playback = usePlayback()
  const selected = useSelection()

  /** The run under way, how many frames it is about, and what was found until now. */
  const run = shallowRef<{
    what: RunOrder<RunResult>['what']
    part: string
    among: RunOrder<RunResult>['among']
    shot: string
    total: number
    found: Map<number, FoundFrame>
    /** Share of the work that is done, as far as the run tells; null where it does not. */
    share: number | null
    stop: () => void
  } | null>(null)
  const stopping = ref(false)
  /** Part and frame whose strokes are being answered. */
  const answering = shallowRef<{ part: string; frame: number } | null>(null)
  const progress = computed(() => {
    if (!run.value) return 0
    const { share, found, total, among } = run.value
    const own = share ?? Math.min(1, found.size / total)
    return among ? (among.place + own) / among.count : own
  })
  /** What the run found of a part on a frame; undefined where it says nothing. */
  const live = (part: Part, frame: number): FoundFrame | undefined =>
    run.value?.part === part.id ? run.value.found.get(frame) : undefined

  /** The frames that a run over a span computes: first, last, and how many that no hand has set; or why there are none. */
  function framesOf(part: Part, span: FrameSpan): { from: number; to: number; total: number } | string {
    const keys = project.childrenOf('key', part.id)
    const { length } = opened
    const frames = framesOfSpan(span, part, keys, { frame: playback.frame, length, range: selected.range })
    if (typeof frames === 'string') return frames
    const from = Math.max(0, frames.from)
    const to = Math.min(length - 1, frames.to)
    const hands = new Set(keys.filter(isHandKey).map((key) => key.frame))
    let total = 0
    for (let f = from; f <= to; f++) if (!hands.has(f)) total++
    return { from, to, total }
  }

  /** Returns what came of it and was kept, for whoever began it to tell; null where nothing was done, and that was told. */
  async function begin<R extends RunResult>({ what, part, span, among, ...order }: RunOrder<R>): Promise<R | null> {
    if (run.value || !opened.shot) return null
    const { frame: home } = playback
    const { shotId: shot, shot: before } = opened
    const frames = framesOf(part, span)
    if (typeof frames === 'string') return refused(toast.error(frames, { id: what }))
    const { from, to, total } = frames
    if (total === 0) return refused(toast(order.nothingLeft, { id: what }))
    playback.stop()
    // What was said of the run before is over: a word that is just going would take the next one along with it.
    toast.dismiss(what)
    const found = new Map<number, FoundFrame>()
    run.value = { what, part: part.id, among, shot, total, found, share: null, stop: order.stop }
    stopping.value = false
    const here = () => opened.shotId === shot
    let shown = -Infinity
    try {
      const result = await order.work(
        from,
        to,
        Comlink.proxy((frame: number, one: FoundFrame) => {
          // Word of a frame can come in after the end of its run.
          if (run.value?.found !== found) return
          found.set(frame, one)
          triggerRef(run)
          // Whoever watches sees enough of it so; making every picture would take its time from the run.
          if (!here() || performance.now() - shown < shownEvery) return
          shown = performance.now()
          playback.go(frame)
        }),
        Comlink.proxy((share: number) => {
          if (run.value?.found !== found) return
          run.value.share = share
          triggerRef(run)
        }),
      )
      if (run.value?.found === found) run.value = null
      const now = project.get('part', part.id)
      if (!now) return null
      const cut = project.get('shot', shot)
      if (cut && cutOf(cut) !== cutOf(before))
        return refused(
          toast(say`The shot has other frames now: what was found was for those of before. Begin again.`, { id: what }),
        )
      const diff = keptRun(project.records()!, now, result.keys, { from, to, stopped: stopping.value })
      const label = among?.label ?? order.label(result.keys.length)
      const away = awayChanged(project.records()!, now, result.aways ?? [], true, newId)
      diff.put.push(...away.put)
      diff.remove.push(...away.remove)
      if (diff.put.length + diff.remove.length) project.commit(label, diff, among?.group, among && Infinity)
      const stays = span === 'step' || span === 'stepBack' ? to : home
      // Who ends a run stays where they were, and is not sent anywhere.
      const said = stopping.value ? { ...result, look: null } : result
      // The next of several begins where this one began.
      if (here()) playback.go(among ? home : (said.endings[0]?.frame ?? said.look ?? stays))
      return said
    } catch (error) {
      if (run.value?.found === found) run.value = null
      if (error instanceof WorkerEnded) return null
      if (here()) playback.go(home)
      tell(error, what === 'follow' ? say`follow the picture` : say`carry the matte`, what)
      return null
    }
  }

  /** Ends the run under way and keeps what it found; false where there is none. */
  function stop(): boolean {
    if (!run.value) return false
    stopping.value = true
    run.value.stop()
    return true
  }

  return { run, stopping, progress, answering, live, framesOf, begin, stop }
})

/** Nothing was done, as was told. */
const refused = (_told: unknown): null => null
