import { say } from '../say.ts'
import { inflate, intersect } from '../geometry/rect.ts'
import { mixed, overlapOfRasters, type Raster, rasterOf } from '../pixels/buffers/raster.ts'
import { Refusal } from '../refusal.ts'
import { stretchesOf } from '../shapes/track.ts'
import { isCut } from '../tracking/sceneCut.ts'
import { carried, type Flow, flowOf } from './flow.ts'
import { gridOf, gridSize } from './grid.ts'
import { boxAround, handSamples, knownMattes, labelOf, oddsOf, type PaintTask, stillnessOn } from './paint.ts'
import { divided, keptAreas, keptLargest } from './sides.ts'
import { withSmear } from './smear.ts'
import { changeOf, matteSureness, weakEdge } from './sureness.ts'
import { softEdge } from './softEdge.ts'

/** A frame's matte as it was carried there, and how sure it is, 0 to 1; null where nothing of it is left. */
export interface PaintedFrame {
  frame: number
  raster: Raster | null
  confidence: number
}

export interface CarryResult {
  frames: PaintedFrame[]
  /** Where runs ended before their time: the picture cuts, or nothing of the matte was left. */
  endings: { frame: number; why: 'cut' | 'lost' }[]
  /** Stretches on which nothing of it was in the picture, before it came back. */
  aways: { from: number; to: number }[]
}

/** A matte computed afresh, and what tells how sure it is: see {@link MatteSigns}. */
interface Computed {
  raster: Raster | null
  kept: number
  grown: number
  weak: number
}

/** Plate pixels around what was found on which it may grow from one frame to the next. */
const room = 56

/**
 * What has left the picture is looked for on every so many frames; so likely (as a logarithm) a pixel is it without looking;
 * and so large a share of what was painted must be there again.
 */
const lookedFor = { every: 3, odds: -1, share: 0.08 }

/** Where a run of carrying stands: the matte on a frame, and the motion that led there. */
interface Carrying {
  frame: number
  raster: Raster
  flow: Flow | null
}

/**
 * Carries the matte from the frames with strokes over `from`..`to` (inclusive), forwards, backwards, and between two of
 * them both ways, blended. `found` hears of each frame as soon as it is there, and of
 * those on which nothing of it is, `stopped` ends it between two frames.
 * Frames with strokes stay as they are; those that were seen keep their matte, and are as sure as the frames beside them
 * agree. Throws a sentence where no frame has been painted.
 */
export async function carryPainted(
  task: PaintTask,
  from: number,
  to: number,
  found: (one: PaintedFrame) => void,
  stopped: () => boolean,
): Promise<CarryResult> {
  const mattes = knownMattes(task)
  const known = [...mattes.keys()].sort((a, b) => a - b)
  // From the middle of it, and also where a painted frame lies there: between two frames.
  const looks = (await handSamples(task, Math.floor((from + to) / 2) + 0.5)).looks()
  if (!looks) throw new Refusal(say`No frame is painted yet: stroke what is wanted on one, then carry it from there.`)
  const out = new Map<number, PaintedFrame>()
  const endings: CarryResult['endings'] = []
  const gone = new Set<number>()
  /** Shares of their edges along which the known mattes look on both sides the same, as far as they were asked for. */
  const weakOnes = new Map<number, number>()
  /** How far what was seen on a frame is what the better of both sides carries there. */
  const agreements = new Map<number, number>()
  /** How the matte came to each frame, from whichever side it was reached last. */
  const ways = new Map<number, { frame: number; from: Raster; flow: Flow }>()
  for (let k = -1; k < known.length; k++) {
    const [a, b] = [known[k], known[k + 1]]
    const first = Math.max(from, a === undefined ? 0 : a + 1)
    const last = Math.min(to, b === undefined ? Infinity : b - 1)
    if (first > last || stopped()) continue
    const between = a !== undefined && b !== undefined
    const there = a === undefined ? null : await run(a, last, !between)
    const back = b === undefined ? null : await run(b, first, !between)
    if (between) {
      await compared(there?.get(b - 1), b)
      await compared(back?.get(a + 1), a)
    }
    for (let frame = first; frame <= last && !stopped(); frame++) {
      const [one, other] = [there?.get(frame), back?.get(frame)]
      if (one && other) keep(await smeared(await both(one, other, [a!, b!])))
    }
    // Of a run that was ended between two known frames what one side found is better than nothing.
    for (const one of [...(there?.values() ?? []), ...(back?.values() ?? [])])
      if (one.frame >= first && one.frame <= last && !out.has(one.frame))
        // Who has stopped it does not wait for more.
        out.set(one.frame, between && !stopped() ? await smeared(one) : one)
  }
  for (const [frame, { raster, confidence }] of task.seen ?? []) {
    if (frame < from || frame > to || task.hands.has(frame)) continue
    const own = agreements.get(frame)
    keep({ frame, raster, confidence: own === undefined ? confidence : Math.min(confidence, own) })
  }
  // Where the run from the other side took over nothing is missing.
  const missing = endings.filter(({ frame }) => !out.has(frame))
  const frames = [...out.values()].sort((one, other) => one.frame - other.frame)
  const away = [...gone].filter((frame) => !out.has(frame)).sort((a, b) => a - b)
  return { frames, endings: missing, aways: stretchesOf(away) }

  function keep(one: PaintedFrame): void {
    out.set(one.frame, one)
    found(one)
  }

  /** Compares what was seen on a frame with what a run brings there from the known frame before or after it. */
  async function compared(beside: PaintedFrame | undefined, frame: number): Promise<void> {
    const seen = task.seen?.get(frame)
    if (!seen || !beside?.raster || stopped()) return
    const moved = await moveTo({ frame: beside.frame, raster: beside.raster, flow: null }, frame)
    ways.delete(frame)
    const agreed = moved ? overlapOfRasters(moved.raster, seen.raster) : 0
    agreements.set(frame, Math.max(agreed, agreements.get(frame) ?? 0))
  }

  /**
   * From a known frame to `end`, whichever way that is. On every so many frames the matte is computed afresh; those
   * between two such are carried there from both, and blended. `alone`: no run from the other side meets it.
   */
  async function run(hand: number, end: number, alone: boolean): Promise<Map<number, PaintedFrame>> {
    const way = end > hand ? 1 : -1
    const told = new Map<number, PaintedFrame>()
    const tell = async (plain: PaintedFrame) => {
      const one = alone ? await smeared(plain) : plain
      told.set(one.frame, one)
      if (one.frame >= from && one.frame <= to) found(one)
    }
    // Whoever waits sees that it goes on.
    const nothingOn = (frame: number) => {
      if (frame >= from && frame <= to) found({ frame, raster: null, confidence: 0 })
    }
    let state: Carrying = { frame: hand, raster: mattes.get(hand)!, flow: null }
    let between: PaintedFrame[] = []
    let lost: number | null = null
    let grown = 0
    for (let frame = hand + way; (end - frame) * way >= 0 && !stopped(); frame += way) {
      if (await cutBetween(frame - way, frame)) {
        if (lost === null) endings.push({ frame, why: 'cut' })
        break
      }
      if (lost !== null) {
        nothingOn(frame)
        if (Math.abs(frame - lost) % lookedFor.every > 0 && frame !== end) continue
        const back = await foundAgain(frame, hand)
        if (!back) continue
        const entered = await enteredBefore(back, way, hand)
        for (const one of [...entered, back]) await tell(one)
        const first = (entered[0] ?? back).frame
        for (let f = lost; f !== first; f += way) if (f >= from && f <= to) gone.add(f)
        lost = null
        grown = 0
        state = { frame, raster: back.raster!, flow: null }
        continue
      }
      const moved = await moveTo(state, frame)
      const fresh = Math.abs(frame - hand) % task.settings.every === 0 || frame === end
      const next = moved && fresh ? await computed(moved.raster, frame) : null
      const raster = next ? next.raster : (moved?.raster ?? null)
      if (!raster) {
        lost = frame
        nothingOn(frame)
        // What was only carried to has no fresh frame behind it any more.
        for (const one of between) await tell({ ...one, confidence: 0.5 })
        between = []
        continue
      }
      state = { frame, raster, flow: moved!.flow }
      if (next) {
        grown += next.grown
        const confidence = await sureOf({ ...next, grown }, hand)
        for (const one of await backOver(state, between)) await tell({ ...one, confidence })
        between = []
        await tell({ frame, raster, confidence })
      } else between.push({ frame, raster, confidence: 1 })
    }
    if (lost !== null) endings.push({ frame: lost, why: 'lost' })
    for (const one of between) await tell({ ...one, confidence: 0.5 })
    return told
  }

  /** A frame with what of it smears. It is carried on without: what is only half there misleads the next division. */
  async function smeared(one: PaintedFrame): Promise<PaintedFrame> {
    const { frame, raster } = one
    const way = ways.get(frame)
    const backdrop = await task.backdrop(frame)
    // Told once, and many of them take much room.
    ways.delete(frame)
    if (!raster || !way || !backdrop) return one
    const before = await task.picture(way.frame)
    return { ...one, raster: withSmear(raster, await task.picture(frame), backdrop, { ...way, before }) }
  }

  async function cutBetween(before: number, frame: number): Promise<boolean> {
    return isCut(await task.picture(before), await task.picture(frame))
  }

  /** The matte as the flow carries it to a neighbouring frame; null where nothing of it is left in the picture. */
  async function moveTo({ frame, raster, flow }: Carrying, to: number): Promise<Carrying | null> {
    const [before, picture] = [await task.picture(frame), await task.picture(to)]
    const whole = gridSize(picture, 1)
    const next = flowOf(before, picture, raster, intersect(inflate(raster, room), whole), flow)
    const moved = carried(raster, next, whole)
    const cut = rasterOf(moved.data, moved)
    ways.set(to, { frame, from: raster, flow: next })
    return cut && { frame: to, raster: cut, flow: next }
  }

  /** Frames that were only carried to, blended with the matte carried back from the fresh one after them. */
  async function backOver(fresh: Carrying, between: PaintedFrame[]): Promise<PaintedFrame[]> {
    const out: PaintedFrame[] = []
    let back: Carrying | null = { ...fresh, flow: null }
    for (let i = between.length - 1; i >= 0; i--) {
      const one = between[i]!
      back = back && (await moveTo(back, one.frame))
      const share = (i + 1) / (between.length + 1)
      out.unshift(back ? { ...one, raster: mixed(one.raster!, back.raster, share) } : one)
    }
    return out
  }

  /** The matte of a frame by where it is thought to be. */
  async function computed(prior: Raster, frame: number): Promise<Computed> {
    const { step, reach } = task.settings
    const picture = await task.picture(frame)
    const grid = gridOf(picture, step, boxAround(prior, picture, step, room))
    const still = stillnessOn(grid, picture, await task.backdrop(frame))
    const was = labelOf(prior, grid)
    const said = new Uint8Array(was.length)
    const label = divided({ grid, looks: looks!, still, said, before: oddsOf(was, grid) })
    keptAreas(label, grid.width, (i) => was[i] === 1)
    return { raster: softEdge(picture, grid, label, reach), ...changeOf(label, was), weak: weakEdge(grid, label) }
  }

  /** How sure a matte is that was carried from a known frame. */
  async function sureOf({ kept, grown, weak }: Omit<Computed, 'raster'>, hand: number): Promise<number> {
    let usual = weakOnes.get(hand)
    if (usual === undefined) {
      const { step } = task.settings
      const [picture, raster] = [await task.picture(hand), mattes.get(hand)!]
      const grid = gridOf(picture, step, boxAround(raster, picture, step, room))
      usual = weakEdge(grid, labelOf(raster, grid))
      weakOnes.set(hand, usual)
    }
    return matteSureness({ kept, grown, weaker: weak - usual })
  }

  /** Looks over a whole frame for what was lost; null where it is not there again. */
  async function foundAgain(frame: number, hand: number): Promise<PaintedFrame | null> {
    const picture = await task.picture(frame)
    const grid = gridOf(picture, coarse, gridSize(picture, coarse))
    const size = grid.width * grid.height
    const label = divided({
      ...{ grid, looks: looks!, still: stillnessOn(grid, picture, await task.backdrop(frame)) },
      ...{ said: new Uint8Array(size), before: new Float32Array(size).fill(lookedFor.odds) },
    })
    const usual = labelOf(mattes.get(hand)!, grid).reduce((sum, one) => sum + one, 0)
    if (keptLargest(label, grid.width) < Math.max(6, lookedFor.share * usual)) return null
    const rough = softEdge(picture, grid, label, 1)
    const exact = rough && (await computed(rough, frame))
    // The rough one that it grew from says nothing of how far it is right.
    return exact?.raster
      ? { frame, raster: exact.raster, confidence: await sureOf({ ...exact, grown: 0 }, hand) }
      : null
  }

  /** The frames just before one on which it was found again, as far as it is there already. */
  async function enteredBefore(back: PaintedFrame, way: number, hand: number): Promise<PaintedFrame[]> {
    const out: PaintedFrame[] = []
    let state: Carrying | null = { frame: back.frame, raster: back.raster!, flow: null }
    for (let k = 1; k < lookedFor.every && state; k++) {
      const frame = back.frame - k * way
      state = await moveTo(state, frame)
      const one = state && (await computed(state.raster, frame))
      if (!one?.raster) break
      out.unshift({ frame, raster: one.raster, confidence: await sureOf(one, hand) })
      state = { ...state!, raster: one.raster }
    }
    return out
  }

  /** What two runs brought to a frame between two known ones. */
  async function both(one: PaintedFrame, other: PaintedFrame, hands: [number, number]): Promise<PaintedFrame> {
    const { frame } = one
    const share = (frame - hands[0]) / (hands[1] - hands[0])
    if (!one.raster || !other.raster) return share < 0.5 ? one : other
    const prior = mixed(one.raster, other.raster, share)
    const agreed = overlapOfRasters(one.raster, other.raster)
    if (task.settings.every > 1)
      return { frame, confidence: Math.max(one.confidence, other.confidence) * agreed, raster: prior }
    const fresh = await computed(prior, frame)
    // What both sides agree on has grown as both had it.
    const confidence = Math.max(await sureOf(fresh, hands[0]), await sureOf(fresh, hands[1]))
    return { frame, confidence: confidence * agreed, raster: fresh.raster }
  }
}

/** Plate pixels of the grid on which a whole frame is looked over. */
const coarse = 4
