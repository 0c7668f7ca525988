import { say } from '../say.ts'
import { flatten } from '../geometry/path.ts'
import type { Settings } from '../parameters/parameters.ts'
import { Refusal } from '../refusal.ts'
import type { PartKind } from '../shapes/kind.ts'
import { isWidthTraced, rodWidths, withTracedWidth } from '../shapes/kinds/rod.ts'
import { EdgeFollower } from './edgeFreedom.ts'
import type { FollowPicture } from './frame.ts'
import { type Estimate, PlaneFollower, type PlaneModel } from './plane.ts'
import { followRod, type RodFrame, type RodTask, type RodWay, taughtBy } from './rod/rod.ts'
import type { Signs } from './rod/sureness.ts'
import { asUsual, type See } from './rod/view.ts'
import { isCut } from './sceneCut.ts'

/** A frame of a part as a follower found it. */
export interface FollowedFrame extends Estimate {
  frame: number
  /** Of rods: what the confidence was made of. */
  signs?: Signs
}

/** A frame on which a hand has set the shape: points in plate pixels, wherever the part rides. */
export interface HandKey {
  frame: number
  points: readonly number[]
}

/** What a part is followed by. */
export interface FollowTask {
  kind: PartKind
  settings: Settings
  model: PlaneModel
  /** Plate pixels by which each point of an outline may go to its own edge after the whole is found; 0 for none. */
  edgeFreedom: number
  /** Hand keys of the part, by frame. Nothing is ever found for their frames. */
  keys: readonly HandKey[]
  /** First and last frame to be found, inclusive, within the shot. */
  from: number
  to: number
  /** Below this confidence a run ends; 0 where it goes on whatever comes. */
  stopBelow: number
  /** Polygons of what lies over the part on a frame: no evidence. */
  covered(frame: number): number[][]
  /** Where an earlier run found the part on a frame; null where none did, or a hand has set it. */
  earlier(frame: number): readonly number[] | null
  /** A frame's picture, for all that is no rod. */
  picture(frame: number): Promise<FollowPicture>
  /** Frames as a rod's follower sees them: it asks for nothing else. */
  see: See
  /** Called with every frame as it is found, and again when it is found better. */
  found(one: FollowedFrame): void
  /** Called now and then with how much of the work is done, 0 to 1. */
  progressed(share: number): void
  /** Whether to end now; what was found is kept. */
  stopped(): boolean
  /** Lets others have a turn, an order to stop among them, where much is computed between two pictures. */
  breathe(): Promise<void>
}

/** Why a run ended before its last frame. */
export interface Ending {
  frame: number
  why: 'unsure' | 'lost' | 'cut'
}

export interface FollowResult {
  frames: FollowedFrame[]
  /** Where runs ended early, and why. */
  endings: Ending[]
  /** Frame of a key under which nothing looks like what is to be followed. */
  astray?: number
}

/** A run away from a hand key. */
interface Run {
  key: HandKey
  frames: number[]
}

/** What follows away from a key. Others to come need only this. */
interface Follower {
  /** On to the next frame; `covered`: polygons of what lies over it there. Null where it is not found. */
  step(picture: FollowPicture, covered: readonly number[][]): Estimate | null
}

/** Pixels that a region must have to be followed. */
const fewestPixels = 40

/**
 * Follows a part from its hand keys over a range. Before the first key the picture is followed backwards, after the last
 * one forwards; between two keys both ways, and the two are blended so that the track meets both keys. Throws a sentence
 * where there is no key to begin from, or nothing to go by.
 */
export async function follow(task: FollowTask): Promise<FollowResult> {
  const spans = spansOf(task.keys, task.from, task.to)
  if (spans.length === 0)
    throw new Refusal(
      task.keys.length
        ? say`Every frame of this range is a hand key already; there is nothing to follow.`
        : say`There is no key to follow from: set the shape on a frame by hand first.`,
    )
  if (task.kind.kind === 'rod') return await followRods(task, spans)
  const did = workOf(
    task,
    spans.reduce((sum, { forward, backward }) => sum + lengthOf(forward) + lengthOf(backward), 0),
  )
  const frames: FollowedFrame[] = []
  const endings: Ending[] = []
  for (const { forward, backward } of spans) {
    const there = forward ? await run(task, forward, endings, did) : []
    const back = backward && !task.stopped() ? await run(task, backward, endings, did) : []
    const both = forward && backward ? blended(there, back, forward.key.frame, backward.key.frame) : [...there, ...back]
    // Where runs end at the first doubt, what lies beyond is left to the hand.
    const filled = task.stopBelow > 0 ? both : withoutHoles(both)
    if ((forward && backward) || filled.length > both.length) filled.forEach((one) => task.found(one))
    frames.push(...filled)
    if (task.stopped()) break
  }
  return { frames: frames.sort((a, b) => a.frame - b.frame), endings }
}

/** Tells of work as it is done, per cent by per cent, where there are so many frames to go through. */
function workOf(task: FollowTask, frames: number): (frames: number) => void {
  let [done, told] = [0, 0]
  return (more) => {
    done += more
    const share = Math.min(1, Math.floor((100 * done) / frames) / 100)
    if (share > told) task.progressed((told = share))
  }
}
const lengthOf = (run: Run | null): number => run?.frames.length ?? 0

/** Stretches without a hand key, each with the runs that reach it: from the key before, from the key after, or both. */
export function spansOf(
  keys: readonly HandKey[],
  from: number,
  to: number,
): { forward: Run | null; backward: Run | null }[] {
  const out: { forward: Run | null; backward: Run | null }[] = []
  const range = (a: number, b: number, way: 1 | -1) => {
    const list: number[] = []
    for (let f = Math.max(a, from); f <= Math.min(b, to); f++) list.push(f)
    return way > 0 ? list : list.reverse()
  }
  const first = keys[0]
  if (!first) return out
  // A run starts next to its key: what lies between the key and the range is gone through too.
  const lead = (key: HandKey, frames: number[], way: 1 | -1): Run => {
    const run: number[] = []
    for (let f = key.frame + way; way > 0 ? f < frames[0]! : f > frames[0]!; f += way) run.push(f)
    return { key, frames: [...run, ...frames] }
  }
  const before = range(-Infinity, first.frame - 1, -1)
  if (before.length) out.push({ forward: null, backward: lead(first, before, -1) })
  keys.forEach((key, i) => {
    const next = keys[i + 1]
    const frames = range(key.frame + 1, (next?.frame ?? Infinity) - 1, 1)
    if (frames.length === 0) return
    const forward = lead(key, frames, 1)
    // A run that is not to reach the next key goes by its own key alone.
    const reaches = next && frames.at(-1) === next.frame - 1
    out.push({ forward, backward: reaches ? lead(next, [...frames].reverse(), -1) : null })
  })
  return out
}

async function followerFrom(task: FollowTask, key: HandKey): Promise<Follower> {
  const { kind, settings } = task
  const picture = await task.picture(key.frame)
  const region = flatten((kind.followed ?? kind.path)(key.points, settings), 0.2)
  const covered = task.covered(key.frame)
  const follower = new PlaneFollower({
    ...{ picture, region, points: key.points, model: task.model, covered, flat: kind.kind === 'pin' },
  })
  if (follower.pixels < fewestPixels)
    throw new Refusal(
      say`The shape at frame ${key.frame} shows too little of the picture to be followed; make it larger or set it where it is seen.`,
    )
  if (kind.kind !== 'outline' || task.edgeFreedom <= 0) return follower
  const edge = new EdgeFollower(picture, kind, key.points)
  return {
    step(now, over) {
      const found = follower.step(now, over)
      return found && { ...found, points: edge.settled(now, found.points, task.edgeFreedom) }
    },
  }
}

async function run(
  task: FollowTask,
  { key, frames }: Run,
  endings: Ending[],
  did: (frames: number) => void,
): Promise<FollowedFrame[]> {
  const follower = await followerFrom(task, key)
  const asked = (frame: number) => frame >= task.from && frame <= task.to
  const out: (FollowedFrame | null)[] = []
  let missed = 0
  let before = await task.picture(key.frame)
  for (const frame of frames) {
    if (task.stopped()) break
    const picture = await task.picture(frame)
    if (isCut(before, picture)) {
      endings.push({ frame, why: 'cut' })
      break
    }
    before = picture
    did(1)
    const found = follower.step(picture, task.covered(frame))
    out.push(found && { frame, ...found })
    if (!found) {
      // It may come back; until then nothing is said.
      if (task.stopBelow === 0 && ++missed <= longestLoss) continue
      endings.push({ frame, why: 'lost' })
      break
    }
    missed = 0
    if (found.confidence < task.stopBelow) {
      endings.push({ frame, why: 'unsure' })
      out.pop()
      break
    }
    if (asked(frame)) task.found({ frame, ...found })
  }
  return out.filter((one): one is FollowedFrame => one !== null && asked(one.frame))
}

/** A stretch between hand keys. */
type Span = ReturnType<typeof spansOf>[number]

function wayOf({ forward, backward }: Span): RodWay {
  const run = forward ?? backward!
  const other = forward && backward
  return {
    frames: [run.key.frame, ...run.frames, ...(other ? [other.key.frame] : [])],
    first: run.key.points,
    last: other ? other.key.points : null,
  }
}

/** Rods: the whole way through a stretch is found at once, held by the keys at its ends. */
async function followRods(task: FollowTask, spans: readonly Span[]): Promise<FollowResult> {
  const known = knownWidths(task)
  const asked = (frame: number) => frame >= task.from && frame <= task.to
  const ways = spans.map(wayOf)
  const rod: RodTask = {
    ...{ ...known, see: task.see, covered: task.covered },
    ...{ earlier: task.earlier, stopped: task.stopped, breathe: task.breathe },
    guessed: (one) => asked(one.frame) && task.found(one),
    // Every frame is found, and then made exact.
    did: workOf(task, 2 * ways.reduce((sum, way) => sum + way.frames.length, 0)),
  }
  const taught = await taughtBy(rod, ways)
  const frames: RodFrame[] = []
  const endings: Ending[] = []
  for (const [i, { forward, backward }] of spans.entries()) {
    if (task.stopped()) break
    const other = forward && backward
    const { found, ending } = await followRod(rod, taught, ways[i]!)
    if (ending) endings.push(ending)
    if (ending && other) {
      // Beyond a cut only the key behind it knows anything.
      const back = await followRod(rod, taught, {
        ...{ frames: [other.key.frame, ...other.frames], first: other.key.points, last: null },
      })
      found.push(...back.found)
    }
    const own = found.filter(({ frame }) => asked(frame))
    const doubted = task.stopBelow > 0 ? own.find(({ confidence }) => confidence < task.stopBelow) : undefined
    if (doubted) endings.push({ frame: doubted.frame, why: 'unsure' })
    const kept = doubted ? own.slice(0, own.indexOf(doubted)) : other ? own : withoutLost(own, endings)
    kept.forEach((one) => task.found(one))
    frames.push(...kept)
  }
  const [key] = task.keys
  const result = { frames: withWidths(frames, known).sort((a, b) => a.frame - b.frame), endings }
  return taught.look.told < leastTold ? { ...result, astray: key!.frame } : result
}

/** The mean width of a rod's keys, and by how much each is wider. */
function knownWidths({ keys, settings }: FollowTask): Pick<RodTask, 'widths' | 'widthTraced' | 'keys'> {
  const all = keys.map(({ points }) => rodWidths(points, settings))
  const mean = (end: 'heel' | 'tip') => all.reduce((sum, one) => sum + one[end], 0) / all.length
  const widths = { heel: mean('heel'), tip: mean('tip') }
  return {
    ...{ widths, widthTraced: keys.some(({ points }) => isWidthTraced(points)) },
    keys: keys.map((key, i) => ({
      ...key,
      wide: { heel: all[i]!.heel / widths.heel, tip: all[i]!.tip / widths.tip },
    })),
  }
}

/** Where the width changes on some frames, all of them carry it. */
function withWidths(
  frames: readonly RodFrame[],
  { widths, widthTraced }: ReturnType<typeof knownWidths>,
): FollowedFrame[] {
  const carried = widthTraced || frames.some(({ wide }) => wide)
  return frames.map(({ wide, ...frame }) => {
    if (!carried) return frame
    const { heel, tip } = wide ?? asUsual
    return { ...frame, points: withTracedWidth(frame.points, { heel: heel * widths.heel, tip: tip * widths.tip }) }
  })
}

/** How much the keys must show of a rod, see RodLook, to have been laid on one. */
const leastTold = 0.35

/**
 * A rod is lost where nothing of it shows or something else looks much more like it, and the confidence is as low, if that
 * stays so for so many frames up to the end of its run. What merely is unsure may be right: it is marked and kept.
 */
const lostRod = { below: 0.12, shows: 0.03, other: -0.05, frames: 12 }
const isLost = ({ confidence, signs }: FollowedFrame): boolean =>
  confidence < lostRod.below && (!signs || signs.shows < lostRod.shows || signs.other < lostRod.other)

/** A run without its end, where the rod was lost for good: what is found there is anything but the rod. */
function withoutLost(run: readonly FollowedFrame[], endings: Ending[]): FollowedFrame[] {
  let end = run.length
  while (end > 0 && isLost(run[end - 1]!)) end--
  if (run.length - end < lostRod.frames) return [...run]
  endings.push({ frame: run[end]!.frame, why: 'lost' })
  return run.slice(0, end)
}

/** Frames after which what was lost is not looked for any more. */
const longestLoss = 24

/**
 * Two ways through the same stretch made one: near a key the run from that key counts, in between both by how sure they
 * are. Where they lie apart the result is less sure.
 */
function blended(there: FollowedFrame[], back: FollowedFrame[], from: number, to: number): FollowedFrame[] {
  const other = new Map(back.map((one) => [one.frame, one]))
  const out: FollowedFrame[] = []
  for (const a of there) {
    const b = other.get(a.frame)
    other.delete(a.frame)
    if (!b) {
      out.push(a)
      continue
    }
    const u = (a.frame - from) / (to - from)
    const wa = (1 - u) * (a.confidence * a.confidence + 1e-4)
    const wb = u * (b.confidence * b.confidence + 1e-4)
    const share = wb / (wa + wb)
    let apart = 0
    for (let i = 0; i < a.points.length; i += 2)
      apart = Math.max(apart, Math.hypot(a.points[i]! - b.points[i]!, a.points[i + 1]! - b.points[i + 1]!))
    // What two independent ways agree on is surer than either; four pixels apart take half of it.
    const agreed = Math.max(a.confidence, b.confidence) / (1 + (apart / 4) ** 2)
    out.push({ frame: a.frame, points: a.points.map((v, i) => v + (b.points[i]! - v) * share), confidence: agreed })
  }
  return [...out, ...other.values()].sort((a, b) => a.frame - b.frame)
}

/** Frames between found ones on which nothing was found: straight between their neighbours, and hardly sure. */
function withoutHoles(frames: readonly FollowedFrame[]): FollowedFrame[] {
  const sorted = [...frames].sort((a, b) => a.frame - b.frame)
  const out: FollowedFrame[] = []
  for (const one of sorted) {
    const last = out.at(-1)
    for (let frame = (last?.frame ?? one.frame) + 1; last && frame < one.frame; frame++) {
      const u = (frame - last.frame) / (one.frame - last.frame)
      out.push({ frame, points: last.points.map((v, i) => v + (one.points[i]! - v) * u), confidence: 0.05 })
    }
    out.push(one)
  }
  return out
}
