import { rod, rodWidths } from '#core/shapes/kinds/rod.ts'
import type { Backdrops } from '#core/tracking/backdrops.ts'
import { follow, type FollowedFrame, type HandKey } from '#core/tracking/follow.ts'
import type { FollowPicture } from '#core/tracking/frame.ts'
import type { Signs } from '#core/tracking/rod/sureness.ts'
import { type Case, groundSize } from '../ground/cases.ts'
import { clipOf } from '../ground/clip.ts'
import type { RodTruth } from '../ground/compose.ts'
import { framesOf } from '../support/frames.ts'
import { backdropsOf, unwatched } from '../support/unwatched.ts'

/** How far a frame of a rod is off, in px, and how sure the follower was. */
export interface FrameError {
  frame: number
  /** Across the true axis, at the end that lies further off; along it, at the heel and at the tip. */
  across: number
  heel: number
  tip: number
  /** Distance of the end that lies further off. */
  off: number
  /** By which share its width is off, at the end where that is more. */
  width: number
  confidence: number
  /** Share of the rod that can be seen. */
  shown: number
  signs?: Signs | undefined
}

/** A rod of a case, followed from so many keys. */
export interface RodFigure {
  keys: number[]
  errors: FrameError[]
  /** Of all corrections until here: frames outside the spans beside it that changed, frames within that became more than 3 px worse. */
  changedOutside: number
  worse: number
  ms: number
}

/** The frames of a case, what stands behind them, and the truth of one of its rods. */
export interface Shot {
  frames: readonly FollowPicture[]
  backdrops: Backdrops
  known: readonly RodTruth[]
}

/** Reads a case's clip, and draws it first where that was not done yet. `which`: which of its rods. */
export function shotOf(of: Case, which: number): Shot {
  const { file, truth } = clipOf(of)
  const frames = framesOf(file, groundSize.width, groundSize.height)
  return { frames, backdrops: backdropsOf(frames), known: truth[which]! }
}

/** A frame on which less of the rod shows than this counts as hidden. */
export const shownEnough = 0.6

/** Follows a rod from its first frame, and again after each key more, set on the worst frame, up to `keys`. */
export async function followedRod(shot: Shot, keys: number): Promise<RodFigure[]> {
  const { frames, known } = shot
  const hands: HandKey[] = [{ frame: 0, points: known[0]!.points }]
  const track = new Map<number, FollowedFrame>()
  const out: RodFigure[] = []
  let [changedOutside, worse] = [0, 0]
  for (;;) {
    const from = hands.length === 1 ? 0 : spanBefore(hands, newest(hands, out))
    const to = hands.length === 1 ? frames.length - 1 : spanAfter(hands, newest(hands, out), frames.length)
    const before = new Map([...track].map(([frame, one]) => [frame, errorOf(one, known)]))
    const start = process.cpuUsage().user
    const found = await run(shot, hands, from, to, track)
    const ms = (process.cpuUsage().user - start) / 1000 / Math.max(1, found.length)
    for (const one of found) {
      if (one.frame < from || one.frame > to) changedOutside++
      track.set(one.frame, one)
      const was = before.get(one.frame)
      if (was && errorOf(one, known).off > was.off + 3 && errorOf(one, known).off > 3) worse++
    }
    const keyed = hands.map(({ frame }) => frame)
    const errors = frames.flatMap((_, frame) => {
      if (keyed.includes(frame)) return []
      const one = track.get(frame)
      return [one ? errorOf(one, known) : lostAt(frame, known)]
    })
    out.push({ keys: keyed, errors, changedOutside, worse, ms })
    if (hands.length === keys) return out
    const worst = errors.filter(({ shown }) => shown >= shownEnough).reduce((a, b) => (b.off > a.off ? b : a))
    if (worst.off <= 2) return out
    hands.push({ frame: worst.frame, points: known[worst.frame]!.points })
    hands.sort((a, b) => a.frame - b.frame)
    track.delete(worst.frame)
  }
}

/** The same with the truth as a key every so many frames. */
export async function keyedEvery(shot: Shot, every: number): Promise<RodFigure> {
  const { frames, known } = shot
  const keys = frames.map((_, frame) => frame).filter((frame) => frame % every === 0 || frame === frames.length - 1)
  const hands = keys.map((frame) => ({ frame, points: known[frame]!.points }))
  const start = process.cpuUsage().user
  const found = await run(shot, hands, 0, frames.length - 1)
  const ms = (process.cpuUsage().user - start) / 1000 / Math.max(1, found.length)
  const track = new Map(found.map((one) => [one.frame, one]))
  const errors = frames.flatMap((_, frame) => {
    const one = track.get(frame)
    return keys.includes(frame) ? [] : [one ? errorOf(one, known) : lostAt(frame, known)]
  })
  return { keys, errors, changedOutside: 0, worse: 0, ms }
}

/** The key that was not there before. */
function newest(hands: readonly HandKey[], before: readonly RodFigure[]): number {
  const known = before.at(-1)?.keys ?? []
  return hands.find(({ frame }) => !known.includes(frame))!.frame
}
const spanBefore = (hands: readonly HandKey[], at: number) =>
  Math.max(-1, ...hands.map(({ frame }) => frame).filter((frame) => frame < at)) + 1
const spanAfter = (hands: readonly HandKey[], at: number, length: number) =>
  Math.min(length, ...hands.map(({ frame }) => frame).filter((frame) => frame > at)) - 1

async function run(
  { frames, backdrops, known }: Shot,
  keys: readonly HandKey[],
  from: number,
  to: number,
  track?: ReadonlyMap<number, FollowedFrame>,
) {
  const { frames: found } = await follow({
    ...unwatched(frames, backdrops),
    ...{ kind: rod, settings: settingsOf(known), keys, from, to },
    earlier: (frame) => track?.get(frame)?.points ?? null,
  })
  return found
}

/** As somebody sets it who looks at the first frame only. */
const settingsOf = ([first]: readonly RodTruth[]) => ({ widthHeel: first!.widths.heel, widthTip: first!.widths.tip })

function errorOf({ frame, points, confidence, signs }: FollowedFrame, known: readonly RodTruth[]): FrameError {
  const { points: truth, widths, shown } = known[frame]!
  const own = rodWidths(points, settingsOf(known))
  const [hx, hy, tx, ty] = truth as [number, number, number, number]
  const long = Math.hypot(tx - hx, ty - hy)
  const [dx, dy] = [(tx - hx) / long, (ty - hy) / long]
  const parts = [0, 2].map((i) => {
    const [x, y] = [points[i]! - truth[i]!, points[i + 1]! - truth[i + 1]!]
    return { across: Math.abs(y * dx - x * dy), along: Math.abs(x * dx + y * dy), off: Math.hypot(x, y) }
  })
  const [heel, tip] = parts as [(typeof parts)[0], (typeof parts)[0]]
  return {
    ...{ frame, confidence, shown, signs, heel: heel.along, tip: tip.along },
    width: Math.max(Math.abs(own.heel / widths.heel - 1), Math.abs(own.tip / widths.tip - 1)),
    across: Math.max(heel.across, tip.across),
    off: Math.max(heel.off, tip.off),
  }
}

const lostAt = (frame: number, known: readonly RodTruth[]): FrameError => ({
  ...{ frame, confidence: 0, shown: known[frame]!.shown },
  ...{ across: 999, heel: 999, tip: 999, off: 999, width: 1 },
})
