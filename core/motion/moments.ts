import { adding, centreOf, edgeOf, type TracedPart } from '../shapes/traced.ts'
import type { Contact } from './contacts.ts'
import type { MomentSource } from './momentSources.ts'

/** A frame (a real number) at which something happens, and how strongly, above 0 up to 1. */
export interface Moment {
  frame: number
  strength: number
}

/** What moments are read from: a shot of `length` frames, the next one running already from `joinStart` on (its length for a cut). */
export interface MomentShot {
  length: number
  joinStart: number
  member(id: string): readonly TracedPart[]
  contacts(one: string, other: string): readonly Contact[]
}

/** Moments of a member (`of`), with another where the source is between two; in rising order. */
export function momentsOf(shot: MomentShot, source: MomentSource, of: string, other: string): Moment[] {
  switch (source) {
    case 'frames':
      return []
    case 'join':
      return shot.joinStart < shot.length ? [{ frame: shot.joinStart, strength: 1 }] : []
    case 'contacts': {
      const found = of && other ? shot.contacts(of, other) : []
      const most = Math.max(0, ...found.map(({ speed }) => speed))
      return found.map(({ frame, speed }) => ({ frame, strength: speed / most }))
    }
    case 'comes':
    case 'goes':
      return presence(shot.member(of), shot.length, source)
    case 'landings':
      return landings(bottomOf(shot.member(of), shot.length))
    case 'swings':
      return swings(speedsOf(pathOf(shot.member(of), shot.length)))
    case 'turns':
      return turns(pathOf(shot.member(of), shot.length))
    case 'stops':
      return stops(speedsOf(pathOf(shot.member(of), shot.length)))
  }
}

/** Slower than this (pixels a frame) is no motion that is heard. */
const slowest = 3
/** A swing reaches this share of the fastest, and its speed sinks by so much of it on both sides. */
const share = 0.3
const sinks = 0.15
/** Frames over which what is hidden is taken to go straight on. */
const hidden = 6

/** Coordinates on every frame, one after the other in two lists; NaN where there is nothing. */
interface Path {
  x: Float64Array
  y: Float64Array
}

/** Where what swings is on every frame: a rod's tip, else the middle. */
function pathOf(parts: readonly TracedPart[], length: number): Path {
  const out = { x: new Float64Array(length).fill(NaN), y: new Float64Array(length).fill(NaN) }
  const rod = parts.find((part) => part.kind === 'rod')
  for (let f = 0; f < length; f++) {
    const points = rod?.at(f)
    const place = rod ? points && { x: points[2]!, y: points[3]! } : centreOf(parts, f)
    if (place) [out.x[f], out.y[f]] = [place.x, place.y]
  }
  return { x: bridged(out.x), y: bridged(out.y) }
}

/** The lowest place of a member on every frame, in pixels down. */
function bottomOf(parts: readonly TracedPart[], length: number): Float64Array {
  return bridged(
    Float64Array.from({ length }, (_, f) => {
      let most = -Infinity
      for (const part of adding(parts)) {
        const edge = edgeOf(part, f)
        for (let i = 1; edge && i < edge.length; i += 2) most = Math.max(most, edge[i]!)
      }
      return most === -Infinity ? NaN : most
    }),
  )
}

/** Short gaps filled straight, and all of it smoothed a little: a hand's tracing trembles. */
function bridged(values: Float64Array): Float64Array {
  const filled = values.slice()
  for (let f = 0; f < filled.length; f++) {
    if (!Number.isNaN(filled[f]!)) continue
    let end = f
    while (end < filled.length && Number.isNaN(filled[end]!)) end++
    if (f > 0 && end < filled.length && end - f <= hidden)
      for (let k = f; k < end; k++)
        filled[k] = filled[f - 1]! + ((values[end]! - filled[f - 1]!) * (k - f + 1)) / (end - f + 1)
    f = end
  }
  return filled.map((value, f) => {
    if (Number.isNaN(value)) return NaN
    let [sum, weight] = [0, 0]
    for (let k = -2; k <= 2; k++) {
      const other = filled[f + k]
      if (other === undefined || Number.isNaN(other)) continue
      const w = Math.exp(-(k * k) / 1.28)
      sum += w * other
      weight += w
    }
    return sum / weight
  })
}

/** Change of a value from frame to frame, by what is known on both sides. */
function change(values: Float64Array, f: number): number {
  const [before, after] = [values[f - 1] ?? NaN, values[f + 1] ?? NaN]
  const now = values[f]!
  if (Number.isNaN(before)) return after - now
  return Number.isNaN(after) ? now - before : (after - before) / 2
}

const speedsOf = ({ x, y }: Path): Float64Array => x.map((_, f) => Math.hypot(change(x, f), change(y, f)) || 0)

/** Peaks that stand out: what lies between two of them sinks by a share of the highest. */
function swings(speeds: Float64Array): Moment[] {
  const top = Math.max(0, ...speeds)
  if (top < slowest) return []
  const out: Moment[] = []
  let [best, low] = [-1, 0]
  for (let f = 0; f <= speeds.length; f++) {
    const speed = speeds[f] ?? 0
    if (best >= 0 && speed > speeds[best]!) best = f
    else if (best >= 0 && speed < speeds[best]! - sinks * top) {
      if (speeds[best]! >= share * top) out.push({ frame: peakAt(speeds, best), strength: speeds[best]! / top })
      best = -1
      low = speed
    } else if (best < 0) {
      low = Math.min(low, speed)
      if (speed > low + sinks * top) best = f
    }
  }
  // One that the shot ends in, before it has sunk.
  if (best >= 0 && best < speeds.length && speeds[best]! >= share * top)
    out.push({ frame: best, strength: speeds[best]! / top })
  return out
}

/** The top of the parabola through a peak and its neighbours. */
function peakAt(values: Float64Array, f: number): number {
  const [a, b, c] = [values[f - 1], values[f]!, values[f + 1]]
  if (a === undefined || c === undefined) return f
  const bend = a - 2 * b + c
  return bend < 0 ? f + Math.max(-0.5, Math.min(0.5, (0.5 * (a - c)) / bend)) : f
}

/** Where it goes back after having gone one way: slowest between two swings of opposite directions. */
function turns(path: Path): Moment[] {
  const speeds = speedsOf(path)
  const peaks = swings(speeds)
  return peaks.slice(1).flatMap((after, i): Moment[] => {
    const before = peaks[i]!
    const [from, to] = [Math.round(before.frame), Math.round(after.frame)]
    const direction = (f: number) => [change(path.x, f), change(path.y, f)] as const
    const [ax, ay] = direction(from)
    const [bx, by] = direction(to)
    const back = (ax * bx + ay * by) / (Math.hypot(ax, ay) * Math.hypot(bx, by) || 1)
    if (back > -0.2) return []
    let least = from
    for (let f = from; f <= to; f++) if (speeds[f]! < speeds[least]!) least = f
    return [{ frame: least, strength: Math.min(before.strength, after.strength) }]
  })
}

/** Where a swing has come to rest: nearly nothing is left of its speed, for two frames at least. */
function stops(speeds: Float64Array): Moment[] {
  const peaks = swings(speeds)
  return peaks.flatMap((peak, i): Moment[] => {
    const from = Math.round(peak.frame)
    const until = peaks[i + 1] ? Math.round(peaks[i + 1]!.frame) : speeds.length
    const rest = Math.max(1.5, 0.15 * speeds[from]!)
    for (let f = from; f + 1 < until; f++)
      if (speeds[f]! <= rest && speeds[f + 1]! <= rest) return [{ frame: f, strength: peak.strength }]
    return []
  })
}

/** Where it has come down: its lowest place sinks fast, and then no more. */
function landings(bottom: Float64Array): Moment[] {
  const down = bottom.map((value, f) => (Number.isNaN(value) ? 0 : change(bottom, f)))
  const top = Math.max(0, ...down)
  if (top < slowest) return []
  const out: Moment[] = []
  let fastest = 0
  for (let f = 0; f < down.length; f++) {
    fastest = Math.max(fastest, down[f]!)
    if (fastest < share * top || fastest < slowest) {
      if (down[f]! <= 0) fastest = 0
      continue
    }
    if (down[f]! > 0.25 * fastest) continue
    out.push({ frame: f, strength: fastest / top })
    fastest = 0
  }
  return out
}

/** First or last frames of every stretch in which some part is there. */
function presence(parts: readonly TracedPart[], length: number, which: 'comes' | 'goes'): Moment[] {
  const there = (f: number) => f >= 0 && f < length && adding(parts).some((part) => part.raster?.(f) ?? part.at(f))
  const out: Moment[] = []
  for (let f = 0; f < length; f++)
    if (there(f) && !there(which === 'comes' ? f - 1 : f + 1)) out.push({ frame: f, strength: 1 })
  return out
}
