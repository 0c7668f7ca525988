import { join } from 'node:path'
import { carryPainted } from '#core/painting/carry.ts'
import { carried, flowOf } from '#core/painting/flow.ts'
import { paintedFrame, paintSettings, type PaintTask } from '#core/painting/paint.ts'
import type { PaintStroke } from '#core/painting/strokes.ts'
import { Backdrops } from '#core/tracking/backdrops.ts'
import { framesOf } from '../support/frames.ts'
import { openCv } from '../support/openCv.ts'
import { demoMedia } from '../support/places.ts'
import { inTurns, result, type Result } from './measure.ts'

/** Along the performer of the leap on its first frame, and around. */
const strokes: PaintStroke[] = [
  { frame: 0, wanted: true, size: 12, points: [474, 480, 452, 370, 448, 258, 436, 480, 432, 610] },
  { frame: 0, wanted: false, size: 14, points: [370, 640, 376, 214, 520, 214, 520, 640, 370, 640] },
]

async function leap() {
  const frames = framesOf(join(demoMedia, 'leap.mp4'), 1280, 720)
  const backdrop = await new Backdrops(frames.length, (frame) => Promise.resolve(frames[frame]!)).wide(0)
  const task: PaintTask = {
    ...{ settings: paintSettings({}), strokes, hands: new Map() },
    picture: (frame) => Promise.resolve(frames[frame]!),
    backdrop: () => Promise.resolve(backdrop),
  }
  const first = (await paintedFrame(task, 0, null))!
  return { frames, task, first }
}

/** Mean of some turns after one that warms up, in ms. */
async function meanOf(turns: number, work: () => Promise<unknown>): Promise<number> {
  await work()
  const start = performance.now()
  for (let i = 0; i < turns; i++) await work()
  return (performance.now() - start) / turns
}

export const paintBenches: Record<string, () => Promise<Result>> = {
  /** Optical flow of what is in the matte, with the matte carried on by it, against OpenCV's Farneback over the same box. */
  async 'paint-flow'() {
    const { cv } = await openCv()
    const { frames, first } = await leap()
    const box = { x: first.x - 56, y: first.y - 56, width: first.width + 112, height: first.height + 112 }
    const mats = frames.slice(0, 2).map(({ luma }) => {
      const whole = cv.matFromArray(720, 1280, cv.CV_8UC1, luma as never)
      return whole.roi(new cv.Rect(box.x, box.y, box.width, box.height))
    })
    const known = new cv.Mat()
    const times = inTurns(
      () => void carried(first, flowOf(frames[0]!, frames[1]!, first, box), box),
      () => cv.calcOpticalFlowFarneback(mats[0]!, mats[1]!, known, 0.5, 4, 15, 5, 5, 1.1, 0),
    )
    return result('paint-flow', times.ms, 'OpenCV Farneback, the same box', times.referenceMs, 1)
  },

  /** A frame's matte by two strokes, 720p at half size. */
  async 'paint-answer'() {
    const { task } = await leap()
    const ms = await meanOf(4, () => paintedFrame(task, 0, null))
    return result('paint-answer', ms, 'a moment: half a second (not measured)', 500, 1)
  },

  /** A matte carried over twelve frames: a frame's share of the time. */
  async 'paint-carry'() {
    const { task, first } = await leap()
    const own = { ...task, hands: new Map([[0, first]]) }
    const ms = await meanOf(1, () =>
      carryPainted(
        own,
        1,
        12,
        () => {},
        () => false,
      ),
    )
    return result('paint-carry', ms / 12, 'a quarter of a second (not measured)', 250, 1)
  },
}
