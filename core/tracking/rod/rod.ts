import type { RodWidths } from '../../shapes/kinds/rod.ts'
import { inAdvance } from '../inAdvance.ts'
import { evidenceOf, evidences, fitOf, settleAlong } from './along.ts'
import { type BeamRules, different, goneOn, linesOf, startOf, stepOn, type Way } from './beam.ts'
import { easeAlong } from './ease.ts'
import { rodFit, type RodLook } from './evidence.ts'
import { RodJudge } from './judge.ts'
import { learnedLook, likelyShutter, type LookKey, shares, slowest } from './look.ts'
import { bestWay, type Candidate, lengthCosts, type RodPath } from './path.ts'
import {
  atRest,
  boxAround,
  farthest,
  median,
  motionAt,
  motionBetween,
  pointsOf,
  poseOf,
  type RodMotion,
  type RodPose,
  shortWay,
  slid,
  speedOf,
  tipOf,
} from './pose.ts'
import { close, passes, refine, wide } from './refine.ts'
import { type Signs, signsOf, surenessOf } from './sureness.ts'
import { asUsual, cropped, type RodView, type See, type Wider } from './view.ts'
import { centred, change, explained, widthsAlong } from './width.ts'

/** What a rod's follower is given. */
export interface RodTask {
  /** Widths in plate pixels; where keys differ in them, their mean. */
  widths: RodWidths
  /** Whether the keys carry widths of their own. */
  widthTraced: boolean
  /** All hand keys, by frame, points in plate pixels. */
  keys: readonly { frame: number; points: readonly number[]; wide: Wider }[]
  see: See
  covered(frame: number): number[][]
  /** Where an earlier run found it on a frame, plate pixels; null where none did. */
  earlier(frame: number): readonly number[] | null
  /** Told of each frame as soon as there is a first guess at it. */
  guessed(one: RodFrame): void
  /** Told of work that is done, in frames: 1 for each that is found, 1 for each that is made exact. */
  did(frames: number): void
  stopped(): boolean
  breathe(): Promise<void>
}

/** A frame as it was found; points in plate pixels. */
export interface RodFrame {
  frame: number
  points: number[]
  /** By how much it is wider there than its keys are on average, where that is not the same on all frames. */
  wide?: Wider
  confidence: number
  /** What the confidence was made of; for guesses nothing. */
  signs?: Signs
}

/** Frames in a row, in the order in which they are gone through: a key first, perhaps one at the end too. */
export interface RodWay {
  frames: readonly number[]
  first: readonly number[]
  last: readonly number[] | null
}

/** Bytes of views that are kept at a time: a longer way is gone in pieces, each held by the end of the one before. */
const budget = 230e6
/** Frames of a piece that are found again with the next one, and thrown away here. */
const overlap = 12

/** What hand keys taught: one look of the rod, and how each of them shows the hand. */
export interface Taught {
  look: RodLook
  keys: (LookKey & { frame: number })[]
}

/**
 * What a rod looks like by all of its keys; the nearest ones to the range count where there are very many. `ways`: those
 * that are to be followed: the first frames of each tell how the rod moves on its keys.
 */
export async function taughtBy(task: RodTask, ways: readonly RodWay[]): Promise<Taught> {
  const [from, to] = [ways[0]!.frames[0]!, ways.at(-1)!.frames.at(-1)!]
  const away = (frame: number) => Math.max(Math.min(from, to) - frame, frame - Math.max(from, to), 0)
  const near = [...task.keys].sort((a, b) => away(a.frame) - away(b.frame)).slice(0, mostTaught)
  const keys: Taught['keys'] = []
  for (const { frame, points } of near) keys.push({ frame, view: await keyView(task, frame), pose: poseOf(points) })
  const [heel, tip] = [task.widths.heel / 2, task.widths.tip / 2]
  const taught = () => learnedLook(keys, heel, tip, likelyShutter(keys, heel, tip, usualShutter))
  const guess: Taught = { look: taught(), keys: [] }
  for (const way of ways) {
    const ends = [way.frames, ...(way.last ? [[...way.frames].reverse()] : [])]
    for (const frames of ends) {
      const at = near.findIndex(({ frame }) => frame === frames[0])
      if (at < 0 || keys[at]!.motion || frames.length < firstSteps + 2) continue
      // Of the first steps at all somebody is told: a run shows something as soon as it can.
      const told = way === ways[0] && frames === way.frames ? task.guessed : () => {}
      const quiet = { ...task, guessed: told, did: () => {} }
      keys[at]!.motion = await firstMotion(quiet, guess, frames.slice(0, firstSteps + 1), near[at]!.points)
    }
  }
  return { look: taught(), keys }
}
/** Keys that teach at most, and frames that are gone from each to see how it moves. */
const mostTaught = 8
const firstSteps = 3

/** How the rod moves on a key, by the first few frames after it, `frames` (the key's first), which may go backwards. */
async function firstMotion(
  task: RodTask,
  { look }: Taught,
  frames: readonly number[],
  first: readonly number[],
): Promise<RodMotion | undefined> {
  const piece = await read(task, { look, keys: [] }, { frames, first, last: null }, 0, poseOf(first))
  if (piece.frames.length < frames.length) return undefined
  const { poses } = await laid(task, piece, piece.rules)
  const [one, two] = [motionBetween(poses[0]!, poses[1]!), motionBetween(poses[1]!, poses[2]!)]
  const before = (now: number, then: number) => 1.5 * now - 0.5 * then
  return {
    ...{ hx: before(one.hx, two.hx), hy: before(one.hy, two.hy) },
    ...{ angle: before(one.angle, two.angle), length: before(one.length, two.length) },
  }
}

/** Share of a frame that the shutter is open where nothing else is known: 180 degrees. */
const usualShutter = 0.5

/** The view of a frame on its own, whatever the picture shows before it. */
async function keyView({ see, covered, keys }: RodTask, frame: number): Promise<RodView> {
  const view = (await see(frame, null, covered(frame)))!
  return { ...view, wide: wideBy(keys, frame) }
}

/** How wide the rod is on a frame by its keys: evenly from one to the next. */
function wideBy(keys: RodTask['keys'], frame: number): Wider {
  const before = keys.findLast((key) => key.frame <= frame) ?? keys[0]
  const after = keys.find((key) => key.frame >= frame) ?? keys.at(-1)
  if (!before || !after) return asUsual
  const u = after.frame > before.frame ? (frame - before.frame) / (after.frame - before.frame) : 0
  const between = (end: 'heel' | 'tip') => before.wide[end] + (after.wide[end] - before.wide[end]) * u
  return { heel: between('heel'), tip: between('tip') }
}

/** Why a way ended before its last frame. */
export interface RodEnding {
  frame: number
  why: 'cut'
}

/**
 * The whole way between two keys, or from one: every frame is searched from both ends and on its own, the best way through
 * all that was found is taken, and made exact.
 */
export async function followRod(
  task: RodTask,
  taught: Taught,
  way: RodWay,
): Promise<{ found: RodFrame[]; ending: RodEnding | null }> {
  const found: RodFrame[] = []
  let start = poseOf(way.first)
  let at = 0
  let ending: RodEnding | null = null
  while (at < way.frames.length - 1) {
    const piece = await read(task, taught, way, at, start)
    ending = piece.ending
    const toEnd = piece.ending !== null || task.stopped() || at + piece.frames.length === way.frames.length
    if (piece.frames.length > 1) {
      const { poses, signs, wide } = await solved(task, piece)
      const confidence = surenessOf(signs, taught.look.told)
      const kept = toEnd ? poses.length : Math.max(2, poses.length - overlap)
      for (let i = 1; i < kept; i++)
        if (!piece.fixed[i])
          found.push({
            ...{ frame: piece.frames[i]!, points: pointsOf(poses[i]!) },
            ...{ confidence: confidence[i]!, signs: signs[i]!, ...(wide && { wide: wide[i]! }) },
          })
      at += kept - 1
      start = poses[kept - 1]!
    }
    if (toEnd) break
  }
  return { found, ending }
}

/** Frames in a row with all that is known of them before a path is laid through. */
interface Piece {
  frames: number[]
  views: RodView[]
  lines: Candidate[][]
  candidates: Candidate[][]
  last: Way[]
  start: RodPose
  end: RodPose | null
  fixed: boolean[]
  rules: BeamRules
  ending: RodEnding | null
}

async function read(task: RodTask, { look, keys }: Taught, way: RodWay, at: number, start: RodPose): Promise<Piece> {
  const first = await keyView(task, way.frames[at]!)
  const most = Math.max(24, Math.floor(budget / first.data.length))
  const frames = way.frames.slice(at, at + most)
  const reachesEnd = at + frames.length === way.frames.length
  const end = reachesEnd && way.last ? turnedNear(poseOf(way.last), start) : null
  // How long the shutter is open is learned by every piece for itself: what one finds does not hang on another.
  const own = { ...look }
  // The hand may hold it as on any of the keys nearby.
  const middle = frames[frames.length >> 1]!
  const nearest = [...keys].sort((a, b) => Math.abs(a.frame - middle) - Math.abs(b.frame - middle)).slice(0, mostHands)
  const hands: LookKey[] = nearest.length > 0 ? nearest : [{ view: first, pose: start }]
  const usualLength = hands.reduce((sum, { pose }) => sum + pose.length / hands.length, 0)
  // Away from a key the length is the mean of all of them: which of two is the usual one nobody knows.
  const last = (i: number) => (end ? i / Math.max(1, frames.length - 1) : Math.min(1, i / fadesOver))
  const rules: BeamRules = {
    judge: new RodJudge(own, hands),
    lengthAt: (i) => start.length + ((end?.length ?? usualLength) - start.length) * last(i),
  }
  const piece: Piece = {
    ...{ frames: [frames[0]!], views: [first], lines: [[]], candidates: [[{ pose: start, own: 1 }]] },
    ...{ last: [startOf(start)], start, end, fixed: [true], rules, ending: null },
  }
  const shutters = new Shutters(own)
  let usual = rules.judge.own(first, start, atRest)
  // The first one is known: what follows on each frame is asked for.
  const after = inAdvance(frames.length - 1, (i) => task.see(frames[i + 1]!, frames[i]!, task.covered(frames[i + 1]!)))
  for (let i = 1; i < frames.length && !task.stopped(); i++) {
    const frame = frames[i]!
    const view = await after(i - 1)
    if (!view) {
      piece.ending = { frame, why: 'cut' }
      piece.end = null
      break
    }
    piece.frames.push(frame)
    piece.views.push({ ...view, wide: wideBy(task.keys, frame) })
    if (end && i === frames.length - 1) {
      piece.lines.push([])
      piece.candidates.push([{ pose: end, own: 1 }])
      piece.fixed.push(true)
      break
    }
    // Where a frame shows less of the rod than usual, and now and then, it may be anywhere.
    let lines: Candidate[] = []
    const next = stepOn(piece.last, i, view, rules, (best) => {
      if (i % lookOver.every === 0 || best.own < lookOver.below * usual) lines = linesOf(view, rules, i)
      return lines
    })
    const best = next.ways[0]!
    usual += 0.1 * (best.own - usual)
    piece.last = next.ways
    piece.lines.push(lines)
    piece.candidates.push(next.candidates)
    piece.fixed.push(false)
    shutters.learn(view, best.pose, best.motion)
    task.did(1)
    task.guessed({ frame, points: pointsOf(best.pose), confidence: Math.max(0, Math.min(1, best.own)) })
  }
  if (piece.fixed.length < frames.length) piece.end = null
  return piece
}

/** Keys whose hand may hold it, and frames over which the length of a key passes into that of all keys. */
const mostHands = 3
const fadesOver = 24
/** Frames after which the whole frame is looked over, and the share of what is usual below which it is at once. */
const lookOver = { every: 8, below: 0.75 }

/** How long the shutter is open, learned from frames on which the rod moves: the share that explains them best. */
class Shutters {
  private readonly look: RodLook
  private readonly said = shares.map(() => 0)

  constructor(look: RodLook) {
    this.look = look
  }

  /** By one frame more; the look's own share follows. */
  learn(view: RodView, pose: RodPose, motion: RodMotion): void {
    const way = speedOf(pose, motion)
    if (way < slowest) return
    const fits = shares.map((shutter) => rodFit(view, { ...this.look, shutter }, pose, motion))
    // The faster it goes the more it says.
    fits.forEach((fit, i) => (this.said[i]! += Math.min(1, way / 30) * fit))
    this.look.shutter = shares[this.said.indexOf(Math.max(...this.said))]!
  }
}

/** As long as told, with its tip where it was. */
const tipKept = (pose: RodPose, length: number): RodPose => ({ ...slid(pose, pose.length - length), length })

/** The same pose, counting its turns on from another's. */
const turnedNear = (pose: RodPose, other: RodPose): RodPose => ({
  ...pose,
  angle: other.angle + shortWay(pose.angle - other.angle),
})

/**
 * A length that changes freely must explain so much more a frame than one that goes evenly from key to key before it is
 * believed (more between two keys that agree on it), by where it lies along its axis as by how the whole rod fits: a hand
 * that slides on the rod looks like a rod that grows. Or keys must differ by so much.
 */
const looser = { gain: 0.045, gainBetween: 0.09, agree: 0.05, differ: 0.15 }

/** A path whose length may change in place of a stiff one that is exact already, where it explains so much more. */
async function loosened(task: RodTask, stiff: RodPath, least: number): Promise<RodPath> {
  const loose = { ...stiff, poses: [...stiff.poses], loose: true }
  const gain = () => Math.min(...[evidenceOf, fitOf].map((of) => of(loose) - of(stiff)))
  // What it gains shows at once, before it is made exact.
  settleAlong(loose, wide(true))
  if (gain() < showsAtOnce * least) {
    task.did((2 / passes) * stiff.poses.length)
    return stiff
  }
  await refine(loose, [wide(true), close], task)
  easeAlong(loose)
  return gain() > least ? loose : stiff
}
const showsAtOnce = 0.6

async function solved(
  task: RodTask,
  piece: Piece,
): Promise<{ poses: RodPose[]; signs: Signs[]; wide: readonly Wider[] | null }> {
  const { start, end, rules, frames } = piece
  const known = (f: number) => wideBy(task.keys, frames[f]!)
  const stiff = await widened(task, await laid(task, piece, rules), known)
  const differ = end ? Math.abs(end.length / start.length - 1) : 0
  const between = end && differ < looser.agree ? looser.gainBetween : looser.gain
  const found = await loosened(task, stiff, differ > looser.differ ? -Infinity : between)
  const before = earlierPath(task, piece, found)
  const path = before ? spliced(before, found) : found
  const widths = widthsAlong(path, known)
  return {
    ...{ poses: path.poses, signs: signsOf(path, piece.candidates) },
    wide: task.widthTraced || change(widths) ? widths.wide : null,
  }
}

/** A path made exact once more with widths that change from frame to frame, where they do and that explains more. */
async function widened(task: RodTask, path: RodPath, known: (f: number) => Wider): Promise<RodPath> {
  if (!change(widthsAlong(path, known))) return path
  const widths = widthsAlong(path, known, [0, -1, 1])
  const views = path.views.map((view, f) => ({ ...view, wide: widths.wide[f]! }))
  const wide = { ...path, poses: centred(path, widths), views }
  await refine(wide, [close], { ...task, did: () => {} })
  easeAlong(wide)
  return explained(wide) > explained(path) ? wide : path
}

/**
 * An earlier path with a new one in its place wherever that explains more, frames in a row: a correction makes nothing
 * worse. Viterbi (1967) over the two.
 */
function spliced(earlier: RodPath, found: RodPath): RodPath {
  const [old, now] = [evidences(earlier), evidences(found)]
  const n = found.poses.length
  // The best way to the earlier path, and to the new one, on each frame, and whether it comes from the other.
  let [kept, taken] = [0, 0]
  const came: [boolean, boolean][] = []
  for (let f = 0; f < n; f++) {
    const change = changes.counts + changes.apart * farthest(earlier.poses[f]!, found.poses[f]!)
    const from: [boolean, boolean] = [taken - change > kept, kept - change > taken]
    ;[kept, taken] = [Math.max(kept, taken - change) + old[f]! + keptUnless, Math.max(taken, kept - change) + now[f]!]
    came.push(from)
  }
  const poses = [...found.poses]
  let isOld = kept > taken
  for (let f = n - 1; f >= 0; f--) {
    if (isOld) poses[f] = earlier.poses[f]!
    if (came[f]![isOld ? 0 : 1]) isOld = !isOld
  }
  return { ...found, poses }
}

/** How much more a frame a new path must explain than what an earlier run found, and what a change between the two costs. */
const keptUnless = 0.015
const changes = { counts: 0.2, apart: 0.02 }
/** Frames beside a key over which an earlier way is drawn to it. */
const drawnOver = 8

/** What an earlier run found, drawn to the keys at both ends; null where it found too little. */
function earlierPath(task: RodTask, { frames, start, end, fixed }: Piece, path: RodPath): RodPath | null {
  const n = frames.length
  const known = frames.map((frame, f) => (fixed[f] ? null : task.earlier(frame)))
  if (n < 4 || known.filter((one) => one).length < 0.9 * (n - 2)) return null
  const own = known.map((points) => points && points.map((v) => v / 2))
  // How far the earlier way leads past a key: what two frames beside it say by going straight on.
  const off = (key: RodPose, near: number, far: number) => {
    const [a, b] = [own[near], own[far]]
    if (!a || !b) return [0, 0, 0, 0]
    return [key.hx, key.hy, ...tipOf(key)].map((v, i) => v - 2 * a[i]! + b[i]!)
  }
  const atStart = off(start, 1, 2)
  const atEnd = end ? off(end, n - 2, n - 3) : [0, 0, 0, 0]
  const poses = path.poses.map((pose, f) => {
    const points = own[f]
    if (!points) return pose
    const near = Math.min(drawnOver, n / 2)
    const [first, last] = [Math.max(0, 1 - f / near), Math.max(0, 1 - (n - 1 - f) / near)]
    const [hx, hy, tx, ty] = points.map((v, i) => v + first * atStart[i]! + last * atEnd[i]!)
    return turnedNear(poseOf([2 * hx!, 2 * hy!, 2 * tx!, 2 * ty!]), pose)
  })
  return { ...path, poses }
}

/** The best path through a piece, by what its frames say. */
async function laid(task: RodTask, piece: Piece, rules: BeamRules): Promise<RodPath> {
  const { views, lines, fixed, start, end } = piece
  const n = views.length
  const candidates = piece.candidates.map((list) => [...list])
  const worth = median(candidates.slice(1).map((list) => list[0]?.own ?? 0))
  // Back from the end: from its key, or from what the way there came to.
  let ways: Way[] = end
    ? [startOf(end)]
    : different(candidates[n - 1]!, 3).map(({ pose, own }) => ({ ...startOf(pose), own }))
  for (let i = n - 2; i > 0 && !task.stopped(); i--) {
    await task.breathe()
    // Where the way back leads to where the way there went, nothing new is to be found.
    const there = candidates[i]![0]
    const meets =
      there && ways[0] && farthest(goneOn(ways[0]), there.pose) < 0.5 * speedOf(there.pose, ways[0].motion) + 4
    if (meets && there.own > trusted * worth) {
      ways = [{ ...there, motion: motionBetween(ways[0]!.pose, there.pose), total: 0 }]
      continue
    }
    const next = stepOn(ways, i, views[i]!, rules, () => lines[i]!)
    ways = next.ways
    candidates[i] = different([...candidates[i]!, ...next.candidates], mostCandidates)
  }
  const costOfLength = (f: number, length: number, before: number) =>
    lengthCosts(length, before, rules.lengthAt(f), true)
  const chosen = bestWay(candidates, costOfLength)
  const poses = chosen.map((k, f) => candidates[f]![k]!.pose)
  for (let f = 1; f < n; f++) poses[f] = turnedNear(poses[f]!, poses[f - 1]!)
  poses[0] = start
  // The axis is where it was found; how long the rod is, and where along it, is found for the path as a whole.
  for (let f = 1; f < n; f++) if (!fixed[f]) poses[f] = tipKept(poses[f]!, rules.lengthAt(f))
  const near = views.map((view, f) => cropped(view, boxOf(poses, f)))
  const path: RodPath = { views: near, poses, fixed, ...rules, loose: false }
  await refine(path, [wide(false)], task)
  const shutters = new Shutters(rules.judge.look)
  poses.forEach((pose, f) => shutters.learn(near[f]!, pose, motionAt(poses, f)))
  await refine(path, [wide(false), close], task)
  easeAlong(path)
  return path
}
const mostCandidates = 24
/** Share of what is usual from which on a pose is believed without another search. */
const trusted = 0.85

/** What of a frame making its pose exact can look at. */
const boxOf = (poses: readonly RodPose[], f: number) =>
  boxAround(poses[f]!, 60 + 1.2 * speedOf(poses[f]!, motionAt(poses, f)))
