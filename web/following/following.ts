import * as Comlink from 'comlink'
import { defineStore } from 'pinia'
import { computed } from 'vue'
import { toast } from 'vue-sonner'
import type { FrameSpan } from '#core/edits/frameSpan.ts'
import { makeKey } from '#core/records/make.ts'
import type { Part } from '#core/records/types.ts'
import { carriersFirst, keyedFrom } from '#core/shapes/riding.ts'
import { isHandKey } from '#core/shapes/track.ts'
import { backdropFrames } from '#core/tracking/background.ts'
import type { Ending, FollowedFrame } from '#core/tracking/follow.ts'
import { neediest } from '#core/tracking/neediest.ts'
import { say } from '#core/say.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { followWishes } from '../editor/runs/followWishes.ts'
import { usePlayback } from '../editor/playback.ts'
import { type RunOrder, type RunResult, useRuns } from '../editor/runs/runs.ts'
import { useSelection } from '../editor/selection.ts'
import { keysOf } from '../editor/shortcuts.ts'
import { kindOf, useTracing } from '../editor/tracing.ts'
import type { FramePort } from '../frames/keptPictures.ts'
import { shotWorker } from '../frames/shotWorker.ts'
import { started } from '../frames/worker.ts'
import { newId, useProject } from '../project/project.ts'
import { attend } from '../ui/troubles.ts'
import type { FollowWorker } from './follow.worker.ts'

/** What came of following: also a frame under whose key little looks like a rod. */
interface Followed extends RunResult {
  endings: readonly Ending[]
  astray?: number
}

const startFollower = () =>
  started<FollowWorker>(
    new Worker(new URL('./follow.worker.ts', import.meta.url), { type: 'module' }),
    say`follow the picture`,
  )

/** Share of a run that reading its first frames counts as. */
const reading = 0.1

/** Reading is a part of a run, too: of what stands behind a rod nothing is found yet. */
function reported(progressed: (share: number) => void) {
  let [read, work] = [0, 0]
  return {
    reads() {
      if (work === 0) progressed(reading * Math.min(1, ++read / backdropFrames))
    },
    works(share: number) {
      work = share
      progressed(reading + (1 - reading) * share)
    },
  }
}

/** Following a part through the picture, in a worker. */
export const useFollowing = defineStore('following', () => {
  const project = useProject()
  const opened = useOpenShot()
  const selected = useSelection()
  const playback = usePlayback()
  const runs = useRuns()
  const tracing = useTracing()
  const worker = shotWorker(startFollower)

  /** Follows the chosen part. */
  async function follow(span: FrameSpan): Promise<void> {
    const { part } = selected
    if (!part || runs.run || tracing.refuseLocked(part)) return
    const result = await run(part, span)
    if (result) tellOf(part, result)
  }

  /** Parts of the chosen member that can be followed at one press, what carries others first. */
  const followable = computed(() => {
    const { part } = selected
    if (!part) return []
    const keyed = (one: Part) => project.childrenOf('key', one.id).some(isHandKey)
    const parts = project.childrenOf('part', part.member)
    return carriersFirst(parts.filter((one) => !one.locked && !kindOf(one).pixels && keyed(one)))
  })

  /** Follows all parts of the chosen member, one after another, as one change. */
  async function followAll(span: FrameSpan): Promise<void> {
    const { part: chosen } = selected
    const member = chosen && project.get('member', chosen.member)
    if (!member || runs.run) return
    const parts = followable.value.filter((one) => {
      const frames = runs.framesOf(one, span)
      return typeof frames !== 'string' && frames.total > 0
    })
    if (!parts.length)
      return void toast.error(
        say`No part of ${member.name} can be followed that way from here: each needs a key that was set by hand, and frames without one beside it.`,
        { id: 'follow' },
      )
    const { shotId } = opened
    const label = say`Follow all parts of ${member.name}`
    const group = `follow ${newId()}`
    const done: { part: Part; result: Followed }[] = []
    for (const [place, part] of parts.entries()) {
      const result = await run(part, span, { place, count: parts.length, label, group })
      if (!result) return
      done.push({ part, result })
      if (runs.stopping || opened.shotId !== shotId) break
    }
    // Where one was lost a hand is needed first, then where the least is known of one.
    const lost = done.find(({ result }) => result.astray !== undefined || result.endings.length > 0)
    const least = done
      .flatMap(({ part, result: { keys, look } }) =>
        keys.filter((key) => key.frame === look).map((key) => ({ part, key })),
      )
      .sort((a, b) => a.key.followed! - b.key.followed!)[0]
    const next = lost
      ? { part: lost.part, frame: lost.result.astray ?? lost.result.endings[0]!.frame }
      : least && { part: least.part, frame: least.key.frame }
    const frames = done.reduce((sum, { result }) => sum + result.keys.length, 0)
    const followed = say`${member.name}: ${done.length} of ${parts.length} parts followed, ${frames} frames.`
    if (!next || runs.stopping || opened.shotId !== shotId) return void toast(followed, said)
    selected.choosePart(next.part)
    playback.go(next.frame)
    const unsure = say`${followed} A hand on ${next.part.name} at frame ${next.frame} would help most.`
    if (!lost) return void toast(unsure, said)
    const [ending] = lost.result.endings
    const why = ending ? reasons[ending.why] : say`little under its key looks like a rod`
    toast.warning(
      say`${followed} ${next.part.name} was left at frame ${next.frame}: ${why}. Set it there and follow on.`,
      said,
    )
  }

  function run(part: Part, span: FrameSpan, among?: RunOrder<Followed>['among']): Promise<Followed | null> {
    const remote = worker.of(opened.cut)
    return runs.begin<Followed>({
      ...{ what: 'follow', part, span, among },
      nothingLeft: say`There is no frame left to follow that way.`,
      async work(from, to, found, progressed) {
        const { model, edgeFreedom, unsure, atUnsure } = followWishes.value
        const { reads, works } = reported(progressed)
        const { port1, port2 } = new MessageChannel()
        const port: FramePort = {
          get(frame) {
            reads()
            return opened.pictures.decoded(frame)
          },
        }
        Comlink.expose(port, port1)
        const result = remote.follow(
          {
            records: [...project.records()!.values()],
            part: part.id,
            ...{ model, edgeFreedom, from, to, behind: behind(part), length: opened.length },
            stopBelow: atUnsure === 'stop' ? unsure : 0,
          },
          Comlink.transfer(port2, [port2]),
          Comlink.proxy((one: FollowedFrame) => found(one.frame, one)),
          Comlink.proxy(works),
        )
        const { frames, endings, astray } = await result.finally(() => port1.close())
        const now = project.get('part', part.id)
        const keys = now
          ? frames.map(({ frame, points, confidence }) =>
              makeKey(part.id, frame, keyedFrom(project.records()!, now, frame, points), '', confidence),
            )
          : []
        return { keys, endings, astray, look: astray ?? neediest(frames, unsure) }
      },
      stop: () => attend(Promise.resolve(worker.running?.stop()), say`stop`),
      label: (count) => say`Follow ${part.name} over ${count} ${count === 1 ? say`frame` : say`frames`}`,
    })
  }

  /** Parts that lie over it and are no evidence, as the user wishes. */
  function behind(part: Part): string[] {
    const { leaveOut } = followWishes.value
    const others = opened.parts.filter((one) => one.member !== part.member)
    if (leaveOut === 'others') return others.map((one) => one.id)
    if (leaveOut === 'nothing') return []
    const covers = new Set(
      opened.effects.filter((effect) => effect.target === part.member).flatMap((effect) => effect.behind),
    )
    return others.filter((one) => covers.has(one.id) || covers.has(one.member)).map((one) => one.id)
  }

  return { follow, followAll, followable, leave: () => worker.stop() }
})

/** Longer than usual: what is said is to be done next. */
const said = { id: 'follow', duration: 8000 }

function tellOf({ name }: Part, { keys, endings: [ending], look, astray }: Followed): void {
  const followed = say`${name}: ${keys.length} ${keys.length === 1 ? say`frame` : say`frames`} followed.`
  if (astray !== undefined) {
    const lay = say`lay it along the rod from end to end, as wide as it is, and follow again.`
    toast.warning(say`Little under the key of ${name} on frame ${astray} looks like a rod: ${lay}`, said)
  } else if (ending) {
    const { frame, why } = ending
    const set = say`Stopped at frame ${frame}: ${reasons[why]}. Set it there and follow on.`
    toast.warning(`${followed} ${set}`, said)
  } else if (look !== null && look !== undefined)
    toast(
      say`${followed} A hand on frame ${look} would help most: drag it there, then ${keysOf('followAgain')[0]?.join('+') ?? ''} follows both spans again.`,
      said,
    )
}

const reasons: Record<Ending['why'], string> = {
  unsure: say`it is not sure any more`,
  lost: say`it was lost`,
  cut: say`the picture cuts to something else`,
}
