import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { flatten } from '#core/geometry/path.ts'
import { oval } from '#core/shapes/kinds/oval.ts'
import { rod } from '#core/shapes/kinds/rod.ts'
import { follow } from '#core/tracking/follow.ts'
import { PlaneFollower } from '#core/tracking/plane.ts'
import { framesOf } from '../support/frames.ts'
import { openCv } from '../support/openCv.ts'
import { demoMedia } from '../support/places.ts'
import { backdropsOf, unwatched } from '../support/unwatched.ts'
import { inTurns, result, type Result } from './measure.ts'

const eye = [672, 343, 712, 343, 672, 370]

/** An oval on an eye of the mask, followed to and fro over the first half second: a step each call. */
function eyeFollower() {
  const frames = framesOf(join(demoMedia, 'heron-mask.mp4'), 1280, 720).slice(0, 12)
  const region = flatten(oval.path(eye, {}), 0.2)
  const follower = new PlaneFollower({ picture: frames[0]!, region, points: eye, model: 'auto', covered: [] })
  let at = 0
  return {
    frames,
    step: () => {
      at++
      const turn = at % 22
      follower.step(frames[turn < 12 ? turn : 22 - turn]!, [])
    },
  }
}

export const followBenches: Record<string, () => Promise<Result>> = {
  /** The alignment of an oval, against OpenCV's pyramidal LK of 200 points over the same pictures. */
  async 'follow-align'() {
    const { cv } = await openCv()
    const { frames, step } = eyeFollower()
    const mats = frames.slice(0, 2).map((one) => cv.matFromArray(720, 1280, cv.CV_8UC1, one.luma as never))
    const places = Array.from({ length: 200 }, (_, i) => [340 + 30 * (i % 20), 150 + 45 * Math.floor(i / 20)]).flat()
    const points = cv.matFromArray(200, 1, cv.CV_32FC2, places)
    const [next, status, err] = [new cv.Mat(), new cv.Mat(), new cv.Mat()]
    const size = new cv.Size(21, 21)
    const times = inTurns(step, () => cv.calcOpticalFlowPyrLK(mats[0]!, mats[1]!, points, next, status, err, size, 3))
    return result('follow-align', times.ms, 'OpenCV pyramidal LK, 200 points, 720p', times.referenceMs, 1)
  },

  async 'follow-oval'() {
    const { step } = eyeFollower()
    const { ms } = inTurns(step, () => {})
    return result('follow-oval', ms, 'a twentieth of a second (not measured)', 50, 1)
  },

  /** The pole of the jetty through its swing, settling included and the backdrop left out: a frame's share of the time. */
  async 'follow-rod'() {
    const frames = framesOf(join(demoMedia, 'jetty-swing.mp4'), 1280, 720)
    const truth = JSON.parse(readFileSync(join(demoMedia, 'jetty-swing.truth.json'), 'utf8')) as {
      rods: { width: number; points: number[][] }[]
    }
    const { width, points } = truth.rods[0]!
    const backdrops = backdropsOf(frames)
    await backdrops.wide(0)
    const start = performance.now()
    await follow({
      ...unwatched(frames, backdrops),
      ...{ kind: rod, settings: { widthHeel: width, widthTip: width } },
      ...{ keys: [{ frame: 0, points: points[0]! }], from: 0, to: frames.length - 1 },
    })
    const ms = (performance.now() - start) / (frames.length - 1)
    return result('follow-rod', ms, 'a fifteenth of a second (not measured)', 66.7, 1)
  },
}
