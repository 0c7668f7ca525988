import { isColourCurve, isCurve, type Setting, type Settings } from '../parameters/parameters.ts'
import type { Diff } from '../records/diff.ts'
import { limits } from '../records/limits.ts'
import { makeKey } from '../records/make.ts'
import type { Records } from '../records/records.ts'
import { piecesOf } from '../records/timing.ts'
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
import { trackOf } from '../shapes/riding.ts'
import { isAway, isHandKey, shapeAt, type Track } from '../shapes/track.ts'

/*
 * The frames of a shot at other times: held, slower, faster, backwards, or cut anew. What hangs on frames goes along. A shape is
 * on every frame where it was on what that frame shows: its keys are moved, and where that alone would not do, new ones are set.
 */

/** Frames of a shot after a change, each as a frame (a real number) of the shot before it: `step` of those to one. */
interface Stretch {
  from: number
  step: number
  length: number
  /** Whether what would lie between two of those is the one that came last. */
  repeats?: boolean
}
export interface Retiming {
  in: number
  out: number
  timing: TimePiece[] | null
  stretches: Stretch[]
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
  if (!(count >= 1)) throw new Refusal('A frame is held for one frame more at least.')
  const [before, rest] = cutAt(piecesOf(shot), frame)
  const [own, after] = cutAt(rest, 1)
  const still = { from: own[0]!.from, step: 0, length: count, between: 'repeated' as const }
  return checked(shot, {
    ...joined(shot, [...before, ...own, still, ...after]),
    stretches: [
      { from: 0, step: 1, length: frame + 1 },
      { from: frame, step: 0, length: count },
      { from: frame + 1, step: 1, length: shotLength(shot) - frame - 1 },
    ],
  })
}

/** Frames of a shot run at another speed. What stands still among them goes on again. Throws a Refusal where they can not. */
export function runAt(shot: Shot, { from, to, speed, backwards, between }: Speed): Retiming {
  const { min, max } = limits.speed
  if (!(speed >= min && speed <= max))
    throw new Refusal(`Frames run at ${100 * min} to ${100 * max} % of their speed: choose something between.`)
  const [before, rest] = cutAt(piecesOf(shot), from)
  const [own, after] = cutAt(rest, to - from + 1)
  const moving = own.filter(({ step }) => step !== 0)
  const first = moving[0]
  if (!first) return released(shot, from, to, before, own, after)
  const turns = first.step < 0 !== backwards
  const [pieces, stretches]: [TimePiece[], Stretch[]] = [[], []]
  let at = from
  for (const piece of own) {
    const { length, step } = piece
    if (step !== 0) {
      // Whole frames of the clip stay whole: the last one is shown as long as each of the others.
      const count = Math.max(1, Math.round((length * Math.abs(step)) / speed))
      const ratio = speed / Math.abs(step)
      const way = Math.sign(step) * (turns ? -1 : 1)
      const begin = turns ? length - 1 : 0
      pieces.push({ from: piece.from + step * begin, step: way * speed, length: count, between })
      stretches.push({
        from: at + begin,
        step: (turns ? -1 : 1) * ratio,
        length: count,
        repeats: between === 'repeated',
      })
    }
    at += length
  }
  if (turns) for (const list of [pieces, stretches]) list.reverse()
  return checked(shot, {
    ...joined(shot, [...before, ...pieces, ...after]),
    stretches: [
      { from: 0, step: 1, length: from },
      ...stretches,
      { from: to + 1, step: 1, length: shotLength(shot) - to - 1 },
    ],
  })
}

/** Frames that stand still, and nothing else, are let go. */
function released(
  shot: Shot,
  from: number,
  to: number,
  before: readonly TimePiece[],
  own: readonly TimePiece[],
  after: readonly TimePiece[],
): Retiming {
  if (!before.length && !after.length) {
    const [{ from: place }] = own as [TimePiece]
    return {
      ...joined(shot, [{ from: place, step: 1, length: 1, between: 'repeated' }]),
      stretches: [{ from: 0, step: 1, length: 1 }],
    }
  }
  return {
    ...joined(shot, [...before, ...after]),
    stretches: [
      { from: 0, step: 1, length: from },
      { from: to + 1, step: 1, length: shotLength(shot) - to - 1 },
    ],
  }
}

/** A shot cut to what lies between two frames of its clip, `to` exclusive; at an end that lies farther out it goes on as it was filmed. */
export function cutTo(shot: Shot, from: number, to: number): Retiming {
  const old = piecesOf(shot)
  const [pieces, stretches]: [TimePiece[], Stretch[]] = [[], []]
  let at = 0
  for (const piece of old) {
    const inside = (k: number) => piece.from + piece.step * k > from - 1e-6 && piece.from + piece.step * k < to - 1e-6
    let [first, last] = [0, piece.length - 1]
    while (first <= last && !inside(first)) first++
    while (last > first && !inside(last)) last--
    const length = last - first + 1
    if (length > 0) {
      pieces.push({ ...piece, from: Math.max(0, piece.from + piece.step * first), length })
      stretches.push({ from: at + first, step: 1, length })
    }
    at += piece.length
  }
  if (!pieces.length) {
    pieces.push({ from, step: 1, length: to - from, between: 'repeated' })
    stretches.push({ from: from - shot.in, step: 1, length: to - from })
  } else {
    const plain = { step: 1, between: 'repeated' } as const
    const [early, late] = [shot.in - from, to - shot.out]
    if (early > 0) {
      pieces.unshift({ ...plain, from, length: early })
      stretches.unshift({ from: stretches[0]!.from - early, step: 1, length: early })
    }
    if (late > 0) {
      pieces.push({ ...plain, from: shot.out, length: late })
      const last = stretches.at(-1)!
      stretches.push({ from: last.from + last.length, step: 1, length: late })
    }
  }
  return checked(shot, { ...joined({ in: from, out: to }, pieces), stretches })
}

function checked(shot: Shot, retiming: Retiming): Retiming {
  const length = shotLength({ in: 0, out: 1, timing: piecesOf(retiming).slice() })
  if (length > limits.stillFrames && length > shotLength(shot))
    throw new Refusal(
      `The shot would have ${length} frames; ${limits.stillFrames} are the most. Hold for less, or choose another speed.`,
    )
  if ((retiming.timing?.length ?? 0) > limits.timePieces)
    throw new Refusal(`A shot has at most ${limits.timePieces} pieces that run at speeds of their own.`)
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
function joined(shot: Pick<Shot, 'in' | 'out'>, pieces: readonly TimePiece[]): Omit<Retiming, 'stretches'> {
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
export function keysLost(records: Records, shot: Shot, { stretches }: Retiming): number {
  const times = new TimeMap(stretches, shotLength(shot))
  const parts = records.childrenOf('member', shot.id).flatMap((member) => records.childrenOf('part', member.id))
  const keys = parts.flatMap((part) => records.childrenOf('key', part.id)).filter(isHandKey)
  return keys.filter((key) => !times.framesOfKey(key.frame).length).length
}

/** The change that gives a shot its new times. `newId` names what has to be new. */
export function retime(records: Records, shot: Shot, retiming: Retiming, newId: () => string): Diff {
  const { in: first, out, timing } = retiming
  const times = new TimeMap(retiming.stretches, shotLength(shot))
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
        const ranges = times.rangesWhere((was) => was >= away.from && was <= away.to, away)
        if (!ranges.length) diff.remove.push({ type: 'away', id: away.id })
        for (const [i, range] of ranges.entries())
          if (i) diff.put.push({ ...away, ...range, id: newId() })
          else change(away, { ...away, ...range })
      }
      // Where nothing was traced nothing comes to be because its neighbours are others now.
      const now: Track = { ...track, keys, aways: [] }
      const bare = times.rangesWhere(
        (was, frame) => keys.length > 0 && !shapeAt(track, was) && !isAway(track, was) && shapeAt(now, frame) !== null,
      )
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
  /** Frames of the shot after it. */
  readonly length: number
  private readonly stretches: (Stretch & { at: number })[]
  /** Frames before the first that is shown, and after the last, are moved along: they are kept for a longer cut. */
  private readonly early: { from: number; by: number }
  private readonly late: { from: number; by: number }

  constructor(stretches: readonly Stretch[], before: number) {
    let at = 0
    this.stretches = stretches
      .filter(({ length }) => length > 0)
      .map((one) => {
        const placed = { ...one, at }
        at += one.length
        return placed
      })
    this.length = at
    const [first, last] = [this.stretches[0]!, this.stretches.at(-1)!]
    const begin = first.step === 1 ? first.from : 0
    const end = last.step === 1 ? last.from + last.length : before
    this.early = { from: begin, by: -begin }
    this.late = { from: end, by: at - end }
  }

  /** The frame (a real number) before the change that one after it shows. */
  before(frame: number): number {
    const { early, late, length } = this
    if (frame < 0) return frame - early.by
    if (frame >= length) return frame - late.by
    const one = this.stretches.find(({ at, length }) => frame < at + length)!
    const was = one.from + one.step * (frame - one.at)
    if (!one.repeats || Math.abs(was - Math.round(was)) < 1e-4) return was
    return one.step < 0 ? Math.ceil(was) : Math.floor(was)
  }

  /** Where what happens on a frame before the change happens after it: the nearest frame where it is not shown any more. */
  frameOf(frame: number): number {
    const { early, late } = this
    if (frame < early.from) return frame + early.by
    if (frame >= late.from) return frame + late.by
    let [best, off] = [0, Infinity]
    for (const { from, step, length, at } of this.stretches) {
      const own = step === 0 ? 0 : Math.max(0, Math.min(length - 1, Math.round((frame - from) / step)))
      const apart = Math.abs(from + step * own - frame)
      if (apart < off) [best, off] = [at + own, apart]
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
    const out: number[] = []
    for (const { from, step, length, at } of this.stretches) {
      if (step === 0) {
        if (from !== frame) continue
        // What stood there a frame before needs no key of its own.
        if (at === 0 || this.before(at - 1) !== frame) out.push(at)
        out.push(at + length - 1)
        continue
      }
      const own = (frame - from) / step
      const shows = (k: number) => k >= 0 && k < length && Math.abs(this.before(at + k) - frame) < 1e-4
      const first = [Math.floor(own), Math.ceil(own)].find(shows)
      if (first !== undefined) out.push(at + first)
    }
    return out
  }
}

/** Plate pixels within which a shape stays where it was on what a frame shows. */
const tolerance = 0.25

function retimedKeys(records: Records, part: Part, track: Track, times: TimeMap): Key[] {
  const old = records.childrenOf('key', part.id)
  const moved = new Map<number, Key>()
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
  const wanted = Array.from({ length: times.length }, (_, frame) => {
    const was = times.before(frame)
    return isAway(track, Math.floor(was + 0.5)) ? null : shapeAt({ ...track, aways: [] }, was)
  })
  for (;;) {
    const keys = [...moved.values()].sort((a, b) => a.frame - b.frame)
    const now: Track = { ...track, keys, aways: [] }
    let added = false
    /** The frame that is farthest off since the last key. */
    let [worst, most] = [-1, tolerance]
    const settle = () => {
      if (worst >= 0) {
        moved.set(worst, makeKey(part.id, worst, wanted[worst]!, '', 1))
        added = true
      }
      ;[worst, most] = [-1, tolerance]
    }
    for (let frame = 0; frame < times.length; frame++) {
      if (moved.has(frame)) {
        settle()
        continue
      }
      const shape = wanted[frame]
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
  settings: movedSettings(effect.settings, move),
})

const movedSound = (sound: Sound, move: (frame: number) => number): Sound => ({
  ...sound,
  beads: sound.beads.map((bead) => ({
    ...bead,
    at: bead.at === null ? null : move(bead.at),
    frame: bead.frame === null ? null : move(bead.frame),
  })),
  range: movedRange(sound.range, move),
  settings: movedSettings(sound.settings, move),
})

function movedRange(range: Effect['range'], move: (frame: number) => number): Effect['range'] {
  if (!range) return range
  const [from, to] = [move(range.from), move(range.to)]
  return { ...range, from: Math.min(from, to), to: Math.max(from, to) }
}
const movedSettings = (settings: Settings, move: (frame: number) => number): Settings =>
  Object.fromEntries(Object.entries(settings).map(([name, value]) => [name, movedSetting(value, move)]))

function movedSetting<S extends Setting>(value: S, move: (frame: number) => number): S {
  // Two that fall on one frame are one: the later of them.
  const moved = <K extends { frame: number }>(keys: readonly K[]): K[] =>
    [...new Map(keys.map((key) => [move(key.frame), { ...key, frame: move(key.frame) }])).values()].sort(
      (a, b) => a.frame - b.frame,
    )
  if (isCurve(value)) return { keys: moved(value.keys) } as S
  return isColourCurve(value) ? ({ colours: moved(value.colours) } as S) : value
}
