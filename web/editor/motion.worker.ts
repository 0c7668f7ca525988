import * as Comlink from 'comlink'
import { thinned } from '#core/edits/overTime.ts'
import { flatten } from '#core/geometry/path.ts'
import { type CheckedPart, type Finding, findings } from '#core/motion/checks.ts'
import { keyPlan, type PlanInput, type Proposal, suspicion } from '#core/motion/keyPlan.ts'
import { measure, type Measures } from '#core/motion/measures.ts'
import { type Luma, lumaOf } from '#core/pixels/buffers/luma.ts'
import type { Yuv } from '#core/pixels/buffers/yuv.ts'
import type { Diff } from '#core/records/diff.ts'
import { Records } from '#core/records/records.ts'
import { type AnyRecord, type Key, type Part, shotLength } from '#core/records/types.ts'
import { partKind } from '#core/shapes/registry.ts'
import { likelyShape, shapeOf, trackOf } from '#core/shapes/riding.ts'
import { isHandKey, type Track } from '#core/shapes/track.ts'
import { counted } from '../frames/counted.ts'

/** Times more unlike its keys than usual from which on a frame counts as off its edge. */
const offEdge = 3.5
/** Frames, counted for every part, that are judged within a fraction of a second. */
const quicklyJudged = 10_000

/** What the traced motion of a shot says. Holds its own copy of the records, and the brightness of frames that were read. */
class Motion {
  private records = new Records()
  private shot = ''
  private reduce = 2
  private readonly pictures = new Map<number, Luma>()
  /** Frames off their edge by part, kept as long as neither the part nor the pictures change. */
  private readonly off = new Map<string, number[]>()

  /** Starts on a shot; `reduce`: plate pixels a pixel of what is kept of its pictures. */
  start(records: AnyRecord[], shot: string, reduce: number): void {
    this.records = new Records(records)
    this.shot = shot
    this.reduce = reduce
    this.pictures.clear()
    this.off.clear()
  }

  apply(diff: Diff): void {
    const inverse = this.records.apply(diff)
    // A part that moved is in the way of others elsewhere: all are judged anew, where that takes a moment only.
    if (this.parts().length * this.length() <= quicklyJudged) return this.off.clear()
    const touched = new Set<string>()
    for (const record of [...diff.put, ...inverse.put])
      if (record.type === 'key' || record.type === 'away') touched.add(record.part)
      else if (record.type === 'part') touched.add(record.id)
    // In a large shot only what moved, and what rides on it.
    for (const part of this.parts())
      if (touched.has(part.id) || part.ride?.from.some((carrier) => touched.has(carrier.part))) this.off.delete(part.id)
  }

  /** Takes in the picture of a frame of the shot. */
  learn(frame: number, yuv: Yuv): void {
    this.pictures.set(frame, lumaOf(counted(yuv), this.reduce))
    this.off.clear()
  }

  /** Frames of the part that deserve a key, the most urgent first. */
  plan(part: string): Proposal[] {
    const input = this.input(part)
    return input && !input.kind.pixels ? keyPlan(input) : []
  }

  /** `unsure`: confidence below which a followed frame is worth a look. */
  checks(unsure: number): Finding[] {
    const parts = this.parts().map((part): CheckedPart => {
      const input = this.input(part.id)!
      let off = this.off.get(part.id)
      if (!off) {
        off = input.kind.pixels
          ? []
          : suspicion(input).flatMap((doubt, frame) => (doubt !== null && doubt > offEdge ? [frame] : []))
        this.off.set(part.id, off)
      }
      const { kind } = input
      return { part, kind, track: trackOf(this.records, part), shapes: this.shapes(part), offEdge: off }
    })
    const shot = this.records.get('shot', this.shot)
    const plate = (shot && this.records.get('media', shot.media)) ?? { width: Infinity, height: Infinity }
    return findings(parts, this.records.childrenOf('effect', this.shot), plate, unsure)
  }

  /** Frames of keys that the part's in-betweens explain within `tolerance` pixels: of a range, or of those that were followed. */
  needless(id: string, tolerance: number, among: { from: number; to: number } | 'followed'): number[] {
    const part = this.records.get('part', id)
    if (!part) return []
    const which = among === 'followed' ? { mayGo: (key: Pick<Key, 'followed'>) => !isHandKey(key) } : among
    return thinned(trackOf(this.records, part), tolerance, which)
  }

  measures(part: string): Measures | null {
    const one = this.records.get('part', part)
    return one ? measure(partKind(one.kind), one.settings, this.shapes(one)) : null
  }

  private length(): number {
    const shot = this.records.get('shot', this.shot)
    return shot ? shotLength(shot) : 0
  }
  private parts(): Part[] {
    return this.records
      .childrenOf('member', this.shot)
      .flatMap((member) => [...this.records.childrenOf('part', member.id)])
  }
  private shapes(part: Part) {
    return Array.from({ length: this.length() }, (_, frame) => shapeOf(this.records, part, frame))
  }

  private input(id: string): PlanInput | null {
    const part = this.records.get('part', id)
    if (!part) return null
    const own = trackOf(this.records, part)
    // A part that rides is judged where it is in the picture: its keys as they show there.
    const track: Track = part.ride
      ? {
          ...own,
          keys: own.keys.map((key) => ({ ...key, points: likelyShape(this.records, part, key.frame) ?? key.points })),
        }
      : own
    const others = this.parts().filter((one) => one.member !== part.member)
    return {
      ...{ kind: partKind(part.kind), settings: part.settings, length: this.length(), track },
      others: (frame) =>
        others.flatMap((one) => {
          const points = shapeOf(this.records, one, frame)
          return points ? [flatten(partKind(one.kind).path(points, one.settings), 1)] : []
        }),
      luma: (frame) => this.pictures.get(frame) ?? null,
    }
  }
}

const motion = new Motion()
export type MotionWorker = Comlink.Remote<Motion>
Comlink.expose(motion)
