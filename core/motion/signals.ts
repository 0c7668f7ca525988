import { bestSimilarity } from '../geometry/similarity.ts'
import type { Drive, ReadSignal, SignalName } from '../parameters/drives.ts'
import { anchors } from '../shapes/kind.ts'
import { partKind } from '../shapes/registry.ts'
import { adding, areaOf, centreOf, type TracedPart } from '../shapes/traced.ts'
import { type Contact, contactsOf, distanceAt } from './contacts.ts'

/** What signals are read from. */
export interface Motion {
  /** Frames of the shot, and over how many of its last ones the next shot runs already. */
  length: number
  join: number
  /** The parts of a member. */
  member(id: string): readonly TracedPart[]
  /** Brightness of the plate under parts, 0 to 1. */
  brightness(parts: readonly TracedPart[], time: number): number | null
  /** Level of a clip's sound at a time, in decibels of full scale; '' for the shot's own clip. */
  loudness(media: string, time: number): number | null
}

/** Reads drives of one shot. Contacts are searched once; a member that is away says nothing. */
export function signalReader(motion: Motion): { read: ReadSignal; contacts(one: string, other: string): Contact[] } {
  const found = new Map<string, Contact[]>()
  const contacts = (one: string, other: string): Contact[] => {
    const name = `${one} ${other}`
    let known = found.get(name)
    if (!known) found.set(name, (known = contactsOf(motion.member(one), motion.member(other), motion.length)))
    return known
  }
  /** Frame by frame, each read once: smoothing looks at many. */
  const bright = new Map<string, number | null>()
  const brightness = (of: string, parts: readonly TracedPart[], time: number): number | null => {
    const name = `${of} ${Math.round(time)}`
    let value = bright.get(name)
    if (value === undefined) bright.set(name, (value = motion.brightness(parts, Math.round(time))))
    return value
  }
  const rawAt = (drive: Drive, time: number): number | null => {
    if (drive.signal === 'join') return joined(motion, time)
    if (drive.signal === 'loudness') return motion.loudness(drive.of, time)
    const parts = motion.member(drive.of)
    if (drive.signal === 'distance') return distanceAt(parts, motion.member(drive.with), time)
    if (drive.signal === 'contact') {
      const last = contacts(drive.of, drive.with).findLast((contact) => contact.frame <= time + 1e-6)
      return last ? time - last.frame : null
    }
    if (drive.signal === 'brightness') return brightness(drive.of, parts, time)
    return ofOne(drive.signal, parts, time)
  }
  const read: ReadSignal = (drive, time) => {
    const at = time - drive.lag
    if (drive.smooth < 0.05) return rawAt(drive, at)
    // A Gaussian over the frames around; frames on which there is nothing to read have no say.
    let [sum, weight] = [0, 0]
    const reach = Math.ceil(2.5 * drive.smooth)
    for (let k = -reach; k <= reach; k++) {
      const value = rawAt(drive, at + k)
      if (value === null) continue
      const w = Math.exp(-(k * k) / (2 * drive.smooth * drive.smooth))
      sum += w * value
      weight += w
    }
    return weight ? sum / weight : null
  }
  return { read, contacts }
}

/** How far the join has come: 0 before and on its first frame, 1 on the last; nothing without a join. */
function joined({ length, join }: Motion, time: number): number | null {
  if (!join) return null
  return Math.max(0, Math.min(1, join > 1 ? (time - (length - join)) / (join - 1) : time - length + 2))
}

/** Pixels or degrees a frame, over half a frame on either side as far as the shape is there. */
function change(value: (time: number) => number[] | null, time: number): number[] | null {
  const now = value(time)
  if (!now) return null
  const [before, after] = [value(time - 0.5), value(time + 0.5)]
  const span = (before ? 0.5 : 0) + (after ? 0.5 : 0)
  if (!span) return null
  const [a, b] = [before ?? now, after ?? now]
  return a.map((v, i) => (b[i]! - v) / span)
}

function ofOne(
  signal: Exclude<SignalName, 'distance' | 'contact' | 'join' | 'brightness' | 'loudness'>,
  parts: readonly TracedPart[],
  time: number,
) {
  const rod = parts.find((part) => part.kind === 'rod')
  const end = (i: number) => {
    const moved = rod && change((t) => rod.at(t)?.slice(2 * i, 2 * i + 2) ?? null, time)
    return moved ? Math.hypot(...moved) : null
  }
  switch (signal) {
    case 'tipSpeed':
      return end(1)
    case 'heelSpeed':
      return end(0)
    case 'speed': {
      const moved = change((t) => {
        const centre = centreOf(parts, t)
        return centre && [centre.x, centre.y]
      }, time)
      return moved && Math.hypot(...moved)
    }
    case 'angle':
      return angleOf(parts, time)
    case 'turning': {
      const main = mainOf(parts)
      const [before, after] = [main?.at(time - 0.5), main?.at(time + 0.5)]
      return before && after && before.length === after.length ? Math.abs(turn(before, after)) : null
    }
    case 'length':
      return lengthOf(parts, time)
    case 'area':
      return areaOf(parts, time)
    case 'approach': {
      // What comes closer at an even speed grows by a share: its length, else the root of its area.
      const grown = change((t) => {
        const size = rod ? lengthOf(parts, t) : Math.sqrt(areaOf(parts, t) ?? NaN)
        return size ? [Math.log(size)] : null
      }, time)
      return grown && 100 * grown[0]!
    }
    case 'x':
    case 'y':
      return centreOf(parts, time)?.[signal] ?? null
  }
}

/** The part that stands for the member: its rod, else its first part. */
const mainOf = (parts: readonly TracedPart[]) => parts.find((part) => part.kind === 'rod') ?? adding(parts)[0]

/** Degrees, clockwise on screen, that turn one set of points best into the other. */
function turn(from: readonly number[], to: readonly number[]): number {
  const { ar, ai } = bestSimilarity(from, to)
  return (Math.atan2(ai, ar) * 180) / Math.PI
}

/** Degrees: of a rod its bearing, 0 to the right and 90 down; of others the direction of their first two places. */
function angleOf(parts: readonly TracedPart[], time: number): number | null {
  const main = mainOf(parts)
  const points = main?.at(time)
  if (!main || !points) return null
  const [a, b] = anchors(partKind(main.kind), points)
  if (a === undefined || b === undefined) return null
  return (Math.atan2(points[2 * b + 1]! - points[2 * a + 1]!, points[2 * b]! - points[2 * a]!) * 180) / Math.PI
}

/** From heel to tip, else the longest way between two places of the main part. */
function lengthOf(parts: readonly TracedPart[], time: number): number | null {
  const main = mainOf(parts)
  const points = main?.at(time)
  if (!main || !points) return null
  const own = anchors(partKind(main.kind), points)
  let most = 0
  for (const [i, a] of own.entries())
    for (const b of own.slice(i + 1))
      most = Math.max(most, Math.hypot(points[2 * a]! - points[2 * b]!, points[2 * a + 1]! - points[2 * b + 1]!))
  return most
}
