import { bestSimilarity, identity, inverse, moved, type Similarity } from '../geometry/similarity.ts'
import { type Raster, rasterFrom } from '../pixels/buffers/raster.ts'
import type { Records } from '../records/records.ts'
import { matteElsewhere, type Part } from '../records/types.ts'
import { partKind } from './registry.ts'
import type { TracedPart } from './traced.ts'
import { cellAt, ghostAt, isAway, keyAt, shapeAt, type Track } from './track.ts'

/*
 * A part may ride on another part, or on its member as a whole. Its keys then say where it would be if what carries it
 * had never moved since the riding began; where it is follows from how the carriers have moved, turned and grown. That
 * motion is the one similarity that fits the points of all carriers best.
 */

/** The track of a part, from its records: shapes as they were keyed, before anything carries them. */
export function trackOf(records: Records, part: Part): Track {
  return {
    keys: records.childrenOf('key', part.id),
    aways: records.childrenOf('away', part.id),
    tween: part.tween,
    hold: part.hold,
    exact: partKind(part.kind).pixels === true,
  }
}

/** The part's shape in the picture at `time` (frames of the shot, real); null where it, or all that carries it, is not. */
export function shapeOf(records: Records, part: Part, time: number): readonly number[] | null {
  const own = shapeAt(trackOf(records, part), time)
  return own && carry(records, part, time, own, false)
}

/** A part as effects and signals see it. `own`: the time of the part's own shot at a time of the shot that is worked at. */
export function tracedPart(records: Records, part: Part, own: (time: number) => number = (time) => time): TracedPart {
  const { id, kind, settings, role } = part
  const traced: TracedPart = { id, kind, settings, role, at: (time) => shapeOf(records, part, own(time)) }
  if (partKind(kind).pixels) traced.raster = (time) => rasterAt(records, part, own(time))
  return traced
}

/** The matte of a part made of pixels on the frame that a time falls in; null where it is away or has none. */
export function rasterAt(records: Records, part: Part, time: number): Raster | null {
  const track = trackOf(records, part)
  if (isAway(track, Math.floor(time + 0.5))) return null
  const key = keyAt({ keys: records.childrenOf('key', part.id) }, time)
  return key?.matte && !matteElsewhere(key) ? rasterFrom(key.matte) : null
}

/** Where the part is likely to be on a frame: its shape there, or else its ghost. Null without keys. */
export function likelyShape(records: Records, part: Part, frame: number): readonly number[] | null {
  const track = trackOf(records, part)
  const own = shapeAt(track, frame) ?? ghostAt(track, frame)
  return own && carry(records, part, frame, own, true)
}

/** The numbers to keep in a key so that the part shows as `points` in the picture at the frame. */
export function keyedFrom(records: Records, part: Part, frame: number, points: readonly number[]): number[] {
  const motion = carrierMotion(records, part, frame, true, 0)
  return motion ? moved(inverse(motion), points) : [...points]
}

function carry(records: Records, part: Part, time: number, own: readonly number[], likely: boolean) {
  if (!part.ride) return own
  const motion = carrierMotion(records, part, time, likely, 0)
  return motion && moved(motion, own)
}

/** More carriers over each other than this are a circle, whoever made it. */
const deepest = 12

/** How what carries the part has moved since the riding began; the identity where nothing does, null where it is gone. */
export function carrierMotion(
  records: Records,
  part: Part,
  time: number,
  likely: boolean,
  depth: number,
): Similarity | null {
  if (!part.ride) return identity
  if (depth >= deepest) return null
  const [from, to]: [number[], number[]] = [[], []]
  for (const { part: id, points } of part.ride.from) {
    const carrier = records.get('part', id)
    if (!carrier) continue
    const track = trackOf(records, carrier)
    const own = shapeAt(track, time) ?? (likely ? ghostAt(track, Math.round(time)) : null)
    const motion = own && carrierMotion(records, carrier, time, likely, depth + 1)
    if (!motion || own.length !== points.length) continue
    from.push(...points)
    to.push(...moved(motion, own))
  }
  return from.length ? bestSimilarity(from, to) : null
}

/** Parts that carry a part that rides on `on` (a part or a member). */
export function carriersOf(records: Records, on: string): readonly Part[] {
  const part = records.get('part', on)
  return part ? [part] : records.childrenOf('part', on)
}

/** The parts in an order in which each comes after those of them that carry it; else as they were given. */
export function carriersFirst(parts: readonly Part[]): Part[] {
  const ordered = new Set<Part>()
  const add = (part: Part, above: readonly Part[]): void => {
    if (above.includes(part)) return
    for (const { part: id } of part.ride?.from ?? []) {
      const carrier = parts.find((one) => one.id === id)
      if (carrier) add(carrier, [...above, part])
    }
    ordered.add(part)
  }
  for (const part of parts) add(part, [])
  return [...ordered]
}

/** Whether `part` riding on `on` would, over however many others, be carried by itself. */
export function wouldCircle(records: Records, part: Part, on: string): boolean {
  const seen = new Set<string>()
  const reaches = (id: string): boolean => {
    if (id === part.id) return true
    if (seen.has(id)) return false
    seen.add(id)
    return (records.get('part', id)?.ride?.from ?? []).some((carrier) => reaches(carrier.part))
  }
  const member = records.get('member', on)
  const carriers = carriersOf(records, on).filter((one) => !member || one.id !== part.id)
  // Of a member, those that ride on the part themselves are simply not among its carriers.
  return member ? carriers.every((one) => reaches(one.id)) : carriers.some((one) => reaches(one.id))
}

/** The carriers' shapes now, for the riding to begin; empty where none of them has a shape on the frame. */
export function rideFrom(records: Records, part: Part, on: string, frame: number) {
  const reachesPart = (one: Part) => one.id === part.id || wouldCircle(records, part, one.id)
  const onMember = records.get('member', on) !== undefined
  return carriersOf(records, on).flatMap((one) => {
    if (onMember && reachesPart(one)) return []
    const points = likelyShape(records, one, frame)
    return points ? [{ part: one.id, points: points.map((v) => Math.round(v * 1000) / 1000) }] : []
  })
}

/**
 * Whether it is known where a member is on a frame: some part of it has a shape there or is away. Where it has keys but none of
 * them says anything of the frame, it may be anywhere in the picture. Who has no key at all is nowhere.
 */
export function isTold(records: Records, member: string, frame: number): boolean {
  const tracks = records.childrenOf('part', member).map((part) => trackOf(records, part))
  const keyed = tracks.filter(({ keys }) => keys.length > 0)
  return !keyed.length || keyed.some((track) => cellAt(track, frame) !== 'none')
}
