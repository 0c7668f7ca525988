import * as Comlink from 'comlink'
import { defineStore } from 'pinia'
import { toast } from 'vue-sonner'
import type { FrameSpan } from '#core/edits/frameSpan.ts'
import { makeKey } from '#core/records/make.ts'
import type { Part } from '#core/records/types.ts'
import { keyedFrom } from '#core/shapes/riding.ts'
import { backdropFrames } from '#core/tracking/background.ts'
import type { Ending, FollowedFrame } from '#core/tracking/follow.ts'
import { neediest } from '#core/tracking/neediest.ts'
import { say } from '#core/say.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { followWishes } from '../editor/runs/followWishes.ts'
import { useRuns } from '../editor/runs/runs.ts'
import { useSelection } from '../editor/selection.ts'
import { keysOf } from '../editor/shortcuts.ts'
import { useTracing } from '../editor/tracing.ts'
import type { FramePort } from '../frames/keptPictures.ts'
import { shotWorker } from '../frames/shotWorker.ts'
import { started } from '../frames/worker.ts'
import { useProject } from '../project/project.ts'
import { attend } from '../ui/troubles.ts'
import type { FollowWorker } from './follow.worker.ts'

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
  const runs = useRuns()
  const tracing = useTracing()
  const worker = shotWorker(startFollower)

  async function follow(span: FrameSpan): Promise<void> {
    const { part } = selected
    const { shot } = opened
    if (!part || !shot || runs.run || tracing.refuseLocked(part)) return
    const remote = worker.of(opened.cut)
    await runs.begin({
      ...{ what: 'follow', part, span },
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
      say({ keys, endings: [ending], look, astray }) {
        const followed = say`${part.name}: ${keys.length} ${keys.length === 1 ? say`frame` : say`frames`} followed.`
        if (astray !== undefined) {
          const lay = say`lay it along the rod from end to end, as wide as it is, and follow again.`
          toast.warning(say`Little under the key of ${part.name} on frame ${astray} looks like a rod: ${lay}`, {
            ...{ id: 'follow', duration: 8000 },
          })
        } else if (ending) {
          const { frame, why } = ending
          const set = say`Stopped at frame ${frame}: ${reasons[why]}. Set it there and follow on.`
          toast.warning(`${followed} ${set}`, { id: 'follow', duration: 8000 })
        } else if (look !== null && look !== undefined)
          toast(
            say`${followed} A hand on frame ${look} would help most: drag it there, then ${keysOf('followAgain')[0]?.join('+') ?? ''} follows both spans again.`,
            {
              ...{ id: 'follow', duration: 8000 },
            },
          )
      },
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

  return { follow, leave: () => worker.stop() }
})

const reasons: Record<Ending['why'], string> = {
  unsure: say`it is not sure any more`,
  lost: say`it was lost`,
  cut: say`the picture cuts to something else`,
}
