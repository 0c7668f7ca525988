import { say } from '../say.ts'
import { effectKind } from '../effects/catalogue.ts'
import { framesIn, frameText } from '../parameters/frameList.ts'
import { isColourCurve, isCurve, type Parameter, type Setting, type Settings } from '../parameters/parameters.ts'
import type { Diff } from '../records/diff.ts'
import { limits } from '../records/limits.ts'
import { makeKey } from '../records/make.ts'
import type { Records } from '../records/records.ts'
import { piecesOf, placeWithin } from '../records/timing.ts'
import {
  type AnyRecord,
  type Away,
  type Between,
  type Effect,
  type Key,
  keyId,
  type Part,
  type Shot,
  shotLength,
  type Sound,
  type TimePiece,
} from '../records/types.ts'
import { Refusal } from '../refusal.ts'
import { soundKind } from '../sound/catalogue.ts'
import { trackOf } from '../shapes/riding.ts'
import { cellAt, isAway, isHandKey, shapeAt, type Track } from '../shapes/track.ts'

/*
 * The frames of a shot at other times: held, slower, faster, backwards, or cut anew. What hangs on frames goes along. A shape is
 * on every frame where it was on what that frame shows: its keys are moved, and where that alone would not do, new ones are set.
 */

/** The times of a shot after a change. */
export interface Retiming {
  in: number
  out: number
  timing: TimePiece[] | null
  /** For every frame the one (a real number) before the change that showed the same. */
  shows: number[]
  /** Frames before the change from `before` on, up to `after`, were frames of it. What lies outside is kept for a longer cut. */
  kept: { before: number; after: number }
}

/** How frames `from` to `to` (inclusive) of a shot are to run: frames of the clip to one of the shot, and which way. */
export interface Speed {
  from: number
  to: number
  speed: number
  backwards: boolean
  between: Between
}

/** A frame stands still for `count` frames more. Throws a Refusal where it can not. */
export function heldFor(shot: Shot, frame: number, count: number): Retiming {
  if (!(count >= 1)) throw new Refusal(say`A frame is held for one frame more at least.`)
  const length = shotLength(shot)
  const [before, rest] = cutAt(piecesOf(shot), frame)
  const [own, after] = cutAt(rest, 1)
  const still = { from: own[0]!.from, step: 0, length: count, between: 'repeated' as const }
  return checked(shot, {
    ...joined(shot, [...before, ...own, still, ...after]),
    shows: [...rangeOf(0, frame + 1), ...Array<number>(count).fill(frame), ...rangeOf(frame + 1, length)],
    kept: { before: 0, after: length },
  })
}

/**
 * What frames of a shot show of its clip, from the first to the last of it, at one speed: each once, however they ran before.
 * Frames that only stand still are let go. `frames`: of the clip. Throws a Refusal where that can not be.
 */
export function runAt(shot: Shot, speed: Speed, frames: number): Retiming {
  const { from, to } = speed
  const length = shotLength(shot)
  const { before, own, after, pieces } = runningAt(shot, speed, frames)
  const shown = pieces.flatMap((piece) =>
    Array.from({ length: piece.length }, (_, at) => from + frameAt(own, placeWithin(piece, at))),
  )
  return checked(shot, {
    ...joined(shot, [...before, ...pieces, ...after]),
    shows: [...rangeOf(0, from), ...shown, ...rangeOf(to + 1, length)],
    kept: { before: 0, after: length },
  })
}

/** How many frames those of a range would be, as {@link runAt} has it. */
export const lengthAt = (shot: Shot, speed: Speed, frames: number): number =>
  runningAt(shot, speed, frames).pieces.reduce((sum, { length }) => sum + length, 0)

/** Pieces of a shot before, within and after a range, and those that are to be there in its place. */
function runningAt(shot: Shot, speed: Speed, frames: number) {
  const { min, max } = limits.speed
  if (!(speed.speed >= min && speed.speed <= max))
    throw new Refusal(say`Frames run at ${100 * min} to ${100 * max} % of their speed: choose something between.`)
  const [before, rest] = cutAt(piecesOf(shot), speed.from)
  const [own, after] = cutAt(rest, speed.to - speed.from + 1)
  const isStill = own.every(({ step }) => step === 0) && (before.length > 0 || after.length > 0)
  return { before, own, after, pieces: isStill ? [] : [evenly(own, speed, frames)] }
}

/** All of the clip that pieces show as one piece. */
function evenly(
  own: readonly TimePiece[],
  { speed, backwards, between }: Pick<Speed, 'speed' | 'backwards' | 'between'>,
  frames: number,
): TimePiece {
  let [low, high] = [Infinity, -Infinity]
  for (const { from, step, length } of own) {
    // The last frame is shown as long as each of the others.
    const ends = [from, from + step * (length - 1)]
    low = Math.min(low, ...ends)
    high = Math.max(high, ...ends.map((end) => end + (Math.abs(step) || 1)))
  }
  const from = backwards ? high - Math.min(1, high - low) : low
  // Before the clip's first frame and behind its last one lies nothing.
  const room = between === 'repeated' ? Infinity : Math.floor((backwards ? from : frames - 1 - from) / speed + near) + 1
  const length = Math.max(1, Math.min(room, Math.round((high - low) / speed)))
  return { from, step: backwards ? -speed : speed, length, between }
}

/**
 * The frame (a real number, counted from the first of them) of pieces that shows a place of the clip, or the nearest one that is
 * shown. What lies less than a frame before the first or behind the last of a piece counts as its own: the clip runs on there.
 */
function frameAt(pieces: readonly TimePiece[], place: number): number {
  let [best, off, start] = [0, Infinity, 0]
  for (const { from, step, length } of pieces) {
    const own = step === 0 ? 0 : (place - from) / step
    const within = Math.max(near - 1, Math.min(length - near, own))
    const outside = Math.max(0, -own, own - (length - 1))
    // A frame of the piece itself comes before what lies beside it.
    const apart = Math.abs(from + step * within - place) + near * outside
    if (apart < off - 1e-9) [best, off] = [start + within, apart]
    start += length
  }
  const whole = Math.round(best)
  return Math.abs(best - whole) < near ? whole : best
}

/** A shot cut to what lies between two frames of its clip, `to` exclusive; at an end that lies farther out it goes on as it was filmed. */
export function cutTo(shot: Shot, from: number, to: number): Retiming {
  const pieces: TimePiece[] = []
  const shows: number[] = []
  let at = 0
  for (const piece of piecesOf(shot)) {
    const inside = (k: number) => piece.from + piece.step * k > from - near && piece.from + piece.step * k < to - near
    let [first, last] = [0, piece.length - 1]
    while (first <= last && !inside(first)) first++
    while (last > first && !inside(last)) last--
    const length = last - first + 1
    if (length > 0) {
      pieces.push({ ...piece, from: Math.max(0, piece.from + piece.step * first), length })
      shows.push(...rangeOf(at + first, at + first + length))
    }
    at += piece.length
  }
  const plain = { step: 1, between: 'repeated' } as const
  if (!pieces.length) {
    pieces.push({ ...plain, from, length: to - from })
    shows.push(...rangeOf(from - shot.in, to - shot.in))
  } else {
    const [early, late] = [shot.in - from, to - shot.out]
    if (early > 0) {
      pieces.unshift({ ...plain, from, length: early })
      shows.unshift(...rangeOf(shows[0]! - early, shows[0]!))
    }
    if (late > 0) {
      pieces.push({ ...plain, from: shot.out, length: late })
      const next = shows.at(-1)! + 1
      shows.push(...rangeOf(next, next + late))
    }
  }
  const kept = { before: shows[0]!, after: shows.at(-1)! + 1 }
  return checked(shot, { ...joined({ in: from, out: to }, pieces), shows, kept })
}

/** What counts as a whole frame. */
const near = 1e-4
const rangeOf = (from: number, to: number): number[] =>
  Array.from({ length: Math.max(0, to - from) }, (_, i) => from + i)

function checked(shot: Shot, retiming: Retiming): Retiming {
  const { length } = retiming.shows
  if (length > limits.stillFrames && length > shotLength(shot))
    throw new Refusal(
      say`The shot would have ${length} frames; ${limits.stillFrames} are the most. Hold for less, or choose another speed.`,
    )
  if ((retiming.timing?.length ?? 0) > limits.timePieces)
    throw new Refusal(say`A shot has at most ${limits.timePieces} pieces that run at speeds of their own.`)
  return retiming
}

/** Pieces before and after `count` frames. */
function cutAt(pieces: readonly TimePiece[], count: number): [TimePiece[], TimePiece[]] {
  const [before, after]: [TimePiece[], TimePiece[]] = [[], []]
  let at = 0
  for (const piece of pieces) {
    const here = Math.max(0, Math.min(piece.length, count - at))
    if (here > 0) before.push({ ...piece, length: here })
    if (here < piece.length) after.push({ ...piece, from: piece.from + piece.step * here, length: piece.length - here })
    at += piece.length
  }
  return [before, after]
}

/** What runs on as it did is one piece; a shot that runs as it was filmed has none. */
function joined(shot: Pick<Shot, 'in' | 'out'>, pieces: readonly TimePiece[]): Pick<Retiming, 'in' | 'out' | 'timing'> {
  const out: TimePiece[] = []
  for (const piece of pieces) {
    const last = out.at(-1)
    // Where every frame is whole it does not matter how those between would come about.
    const between = piece.step === 0 || Math.abs(piece.step) === 1 ? 'repeated' : piece.between
    const next = { ...piece, between: Number.isInteger(piece.from) ? between : piece.between }
    const goesOn =
      last?.step === next.step &&
      last.between === next.between &&
      Math.abs(last.from + last.step * last.length - next.from) < 1e-6
    if (last && goesOn) out[out.length - 1] = { ...last, length: last.length + next.length }
    else out.push(next)
  }
  const [only] = out
  if (out.length === 1 && only!.step === 1 && Number.isInteger(only!.from))
    return { in: only!.from, out: only!.from + only!.length, timing: null }
  return { in: shot.in, out: shot.out, timing: out }
}

/** How many keys that a hand set stand on frames that a shot will not show any more. */
export function keysLost(records: Records, shot: Shot, retiming: Retiming): number {
  const times = new TimeMap(retiming)
  const parts = records.childrenOf('member', shot.id).flatMap((member) => records.childrenOf('part', member.id))
  const keys = parts.flatMap((part) => records.childrenOf('key', part.id)).filter(isHandKey)
  return keys.filter((key) => !times.framesOfKey(key.frame).length).length
}

/** The change that gives a shot its new times. `newId` names what has to be new. */
export function retime(records: Records, shot: Shot, retiming: Retiming, newId: () => string): Diff {
  const { in: first, out, timing } = retiming
  const times = new TimeMap(retiming)
  const diff: Diff = { put: [{ ...shot, in: first, out, ...(timing || shot.timing ? { timing } : {}) }], remove: [] }
  const change = <R extends AnyRecord>(before: R, after: R) => {
    if (JSON.stringify(before) !== JSON.stringify(after)) diff.put.push(after)
  }
  for (const member of records.childrenOf('member', shot.id))
    for (const part of records.childrenOf('part', member.id)) {
      const track = trackOf(records, part)
      const keys = retimedKeys(records, part, track, times)
      const old = new Map(records.childrenOf('key', part.id).map((key) => [key.id, key]))
      for (const key of keys) if (old.get(key.id) !== key) diff.put.push(key)
      const kept = new Set(keys.map((key) => key.id))
      for (const id of old.keys()) if (!kept.has(id)) diff.remove.push({ type: 'key', id })
      for (const stroke of records.childrenOf('stroke', part.id)) {
        const frame = times.frameShowing(stroke.frame)
        if (frame === null) diff.remove.push({ type: 'stroke', id: stroke.id })
        else change(stroke, { ...stroke, frame })
      }
      const aways = records.childrenOf('away', part.id)
      for (const away of aways) {
        const by = times.shift
        if (by !== null) {
          change(away, { ...away, from: away.from + by, to: away.to + by })
          continue
        }
        const ranges = times.rangesWhere((was) => was >= away.from && was <= away.to, away)
        if (!ranges.length) diff.remove.push({ type: 'away', id: away.id })
        for (const [i, range] of ranges.entries())
          if (i) diff.put.push({ ...away, ...range, id: newId() })
          else change(away, { ...away, ...range })
      }
      if (times.shift !== null) continue
      // Where nothing was traced nothing comes to be because its neighbours are others now.
      const now: Track = { ...track, keys, aways: [] }
      const bare = times.rangesWhere((was, frame) => cellAt(track, was) === 'none' && cellAt(now, frame) !== 'none')
      diff.put.push(...bare.map((range): Away => ({ type: 'away', id: newId(), part: part.id, ...range })))
    }
  const move = (frame: number) => times.frameOf(frame)
  for (const mark of records.childrenOf('mark', shot.id)) change(mark, { ...mark, frame: move(mark.frame) })
  for (const effect of records.childrenOf('effect', shot.id)) change(effect, movedEffect(effect, move))
  for (const sound of records.childrenOf('sound', shot.id)) change(sound, movedSound(sound, move))
  return diff
}

/** Frames of a shot before and after a change of its times. */
class TimeMap {
  private readonly shows: readonly number[]
  /** Frames before the first that was shown, and after the last, are moved along: they are kept for a longer cut. */
  private readonly early: { from: number; by: number }
  private readonly late: { from: number; by: number }
  /** Frames by which everything moves alike, as where a shot is only cut anew; null where it does not. */
  readonly shift: number | null
  /** The first and the last frame that do not follow on the one before them as they did. */
  readonly turns = { from: 0, to: 0 }
  /** Frames after it by the whole frame before it that they show, in their order. */
  private readonly showing = new Map<number, number[]>()

  constructor({ shows, kept: { before, after } }: Pick<Retiming, 'shows' | 'kept'>) {
    this.shows = shows
    this.early = { from: before, by: -before }
    this.late = { from: after, by: shows.length - after }
    this.shift = this.early.by === this.late.by && shows.every((was, i) => was === before + i) ? -before : null
    if (this.shift !== null) return
    for (const [at, was] of shows.entries()) {
      if (at > 0 && was !== shows[at - 1]! + 1) {
        this.turns.from ||= at
        this.turns.to = at
      }
      const whole = Math.round(was)
      if (Math.abs(was - whole) >= near) continue
      const known = this.showing.get(whole)
      if (known) known.push(at)
      else this.showing.set(whole, [at])
    }
  }

  /** Frames of the shot after it. */
  get length(): number {
    return this.shows.length
  }

  /** The frame (a real number) before the change that one after it shows. */
  before(frame: number): number {
    return this.shows[frame] ?? frame - (frame < 0 ? this.early.by : this.late.by)
  }

  /** Where what happens on a frame before the change happens after it: the nearest frame where it is not shown any more. */
  frameOf(frame: number): number {
    const { early, late } = this
    if (frame < early.from) return frame + early.by
    if (frame >= late.from) return frame + late.by
    if (this.shift !== null) return frame + this.shift
    const [first] = this.showing.get(frame) ?? []
    if (first !== undefined) return first
    let [best, off] = [0, Infinity]
    for (const [at, was] of this.shows.entries()) {
      const apart = Math.abs(was - frame)
      if (apart < off) [best, off] = [at, apart]
    }
    return best
  }

  /** The first frame that shows just what one before the change did; null where none does. */
  frameShowing(frame: number): number | null {
    const own = this.frameOf(frame)
    return Math.abs(this.before(own) - frame) < 0.5 ? own : null
  }

  /** Ranges of frames, first and last, of which something is true: `was` is the whole frame that one of them showed before. */
  rangesWhere(
    isTrue: (was: number, frame: number) => boolean,
    { from, to }: { from: number; to: number } = { from: 0, to: -Infinity },
  ): { from: number; to: number }[] {
    const out: { from: number; to: number }[] = []
    const [first, last] = [Math.min(0, from + this.early.by), Math.max(this.length - 1, to + this.late.by)]
    for (let frame = first; frame <= last; frame++) {
      if (!isTrue(Math.round(this.before(frame)), frame)) continue
      const open = out.at(-1)
      if (open?.to === frame - 1) open.to = frame
      else out.push({ from: frame, to: frame })
    }
    return out
  }

  /** Frames after the change on which a key before it stands: the first and the last of those that show its frame. */
  framesOfKey(frame: number): number[] {
    const { early, late } = this
    if (frame < early.from) return [frame + early.by]
    if (frame >= late.from) return [frame + late.by]
    if (this.shift !== null) return [frame + this.shift]
    const all = this.showing.get(frame) ?? []
    return all.filter((at, i) => all[i - 1] !== at - 1 || all[i + 1] !== at + 1)
  }
}

/** Plate pixels within which a shape stays where it was on what a frame shows. */
const tolerance = 0.25

function retimedKeys(records: Records, part: Part, track: Track, times: TimeMap): Key[] {
  const old = records.childrenOf('key', part.id)
  const moved = new Map<number, Key>()
  const { shift } = times
  if (shift !== null) return old.map((key) => atFrame(key, key.frame + shift))
  if (track.exact) {
    // A matte is there on its own frame only: frames between two show the nearer one.
    const known = new Map(old.map((key) => [key.frame, key]))
    const outside = old.flatMap((key) => times.framesOfKey(key.frame))
    const frames = new Set([...outside, ...Array.from({ length: times.length }, (_, i) => i)])
    for (const frame of frames) {
      const key = known.get(Math.round(times.before(frame)))
      if (key) moved.set(frame, atFrame(key, frame))
    }
    return [...moved.values()].sort((a, b) => a.frame - b.frame)
  }
  for (const key of old) for (const frame of times.framesOfKey(key.frame)) moved.set(frame, atFrame(key, frame))
  // The style of a span stands at its first key, which is another one where it runs backwards.
  for (const [frame, key] of moved) {
    const [here, next] = [times.before(frame), times.before(frame + 1)]
    if (next >= here) continue
    const tween = old.findLast((one) => one.frame < here)?.tween ?? ''
    if (tween !== key.tween) moved.set(frame, { ...key, tween })
  }
  if (!old.length) return []
  return withWhatIsMissing(part, track, times, moved)
}

const atFrame = (key: Key, frame: number): Key =>
  frame === key.frame ? key : { ...key, id: keyId(key.part, frame), frame }

/** Adds keys where the shape would be elsewhere than it was on what a frame shows: between two keys always the one that is farthest off. */
function withWhatIsMissing(part: Part, track: Track, times: TimeMap, moved: Map<number, Key>): Key[] {
  const bare: Track = { ...track, aways: [] }
  const known = new Map<number, readonly number[] | null>()
  const wantedAt = (frame: number) => {
    let shape = known.get(frame)
    if (shape === undefined) {
      const was = times.before(frame)
      shape = isAway(track, Math.floor(was + 0.5)) ? null : shapeAt(bare, was)
      known.set(frame, shape)
    }
    return shape
  }
  // In-betweens hang on the next two keys on either side: farther off from where frames do not run on as they did, or from what
  // was added, nothing changes.
  let { from, to } = times.turns
  for (;;) {
    const keys = [...moved.values()].sort((a, b) => a.frame - b.frame)
    const now: Track = { ...track, keys, aways: [] }
    const first = Math.max(0, keys.filter((key) => key.frame < from).at(-2)?.frame ?? 0)
    const last = Math.min(times.length - 1, keys.filter((key) => key.frame > to)[1]?.frame ?? Infinity)
    let added = false
    /** The frame that is farthest off since the last key. */
    let [worst, most] = [-1, tolerance]
    const settle = () => {
      if (worst >= 0) {
        moved.set(worst, makeKey(part.id, worst, wantedAt(worst)!, '', 1))
        added = true
        ;[from, to] = [Math.min(from, worst), Math.max(to, worst)]
      }
      ;[worst, most] = [-1, tolerance]
    }
    for (let frame = first; frame <= last; frame++) {
      if (moved.has(frame)) {
        settle()
        continue
      }
      const shape = wantedAt(frame)
      if (!shape) continue
      const off = apart(shape, shapeAt(now, frame))
      if (off > most) [worst, most] = [frame, off]
    }
    settle()
    if (!added) return keys
  }
}

function apart(one: readonly number[], other: readonly number[] | null): number {
  if (other?.length !== one.length) return Infinity
  let most = 0
  for (let i = 0; i < one.length; i++) most = Math.max(most, Math.abs(one[i]! - other[i]!))
  return most
}

const movedEffect = (effect: Effect, move: (frame: number) => number): Effect => ({
  ...effect,
  opacity: movedSetting(effect.opacity, move),
  range: movedRange(effect.range, move),
  ...(effect.behindRange ? { behindRange: movedRange(effect.behindRange, move) } : {}),
  settings: movedSettings(effect.settings, effectKind(effect.kind).parameters, move),
})

const movedSound = (sound: Sound, move: (frame: number) => number): Sound => ({
  ...sound,
  beads: sound.beads.map((bead) => ({
    ...bead,
    at: bead.at === null ? null : move(bead.at),
    frame: bead.frame === null ? null : move(bead.frame),
  })),
  range: movedRange(sound.range, move),
  settings: movedSettings(sound.settings, soundKind(sound.kind).parameters, move),
})

function movedRange(range: Effect['range'], move: (frame: number) => number): Effect['range'] {
  if (!range) return range
  const [from, to] = [move(range.from), move(range.to)]
  return { ...range, from: Math.min(from, to), to: Math.max(from, to) }
}
/** Settings whose keys have moved, and what names frames. */
function movedSettings(
  settings: Settings,
  parameters: readonly Parameter[],
  move: (frame: number) => number,
): Settings {
  const lists = new Set(parameters.filter((p) => p.type === 'text' && p.frames).map((p) => p.name))
  return Object.fromEntries(
    Object.entries(settings).map(([name, value]) => [
      name,
      lists.has(name) ? frameText(framesIn(String(value)).map(move)) : movedSetting(value, move),
    ]),
  )
}

function movedSetting<S extends Setting>(value: S, move: (frame: number) => number): S {
  // Two that fall on one frame are one: the later of them.
  const moved = <K extends { frame: number }>(keys: readonly K[]): K[] =>
    [...new Map(keys.map((key) => [move(key.frame), { ...key, frame: move(key.frame) }])).values()].sort(
      (a, b) => a.frame - b.frame,
    )
  if (isCurve(value)) return { keys: moved(value.keys) } as S
  return isColourCurve(value) ? ({ colours: moved(value.colours) } as S) : value
}
