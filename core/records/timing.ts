import type { Between, Shot, TimePiece } from './types.ts'
import { shotLength } from './types.ts'

/** A place in a clip: one of its frames, or, where that is no whole number, something between two of them. */
export interface ClipPlace {
  frame: number
  between: Between
}

type Timed = Pick<Shot, 'in' | 'out' | 'timing'>

/** What counts as a whole frame of a clip. */
const whole = 1e-4

/** The pieces of a shot, also of one that runs as it was filmed. */
export const piecesOf = (shot: Timed): readonly TimePiece[] =>
  shot.timing ?? [{ from: shot.in, step: 1, length: shot.out - shot.in, between: 'repeated' }]

/** Place in the clip of the frame `at` of a piece, counted from the piece's first one. */
export function placeWithin({ from, step, between }: TimePiece, at: number): number {
  const place = from + step * at
  const near = Math.round(place)
  if (Math.abs(place - near) < whole) return near
  // A frame is shown again until the next one, whichever way it runs.
  return between !== 'repeated' ? place : step < 0 ? Math.ceil(place) : Math.floor(place)
}

/** Where in its clip a frame of a shot lies; of one before or after the shot, where the nearest one does. */
export function clipPlace(shot: Timed, frame: number): ClipPlace {
  const at = Math.max(0, Math.min(shotLength(shot) - 1, frame))
  if (!shot.timing) return { frame: shot.in + at, between: 'repeated' }
  let start = 0
  for (const piece of shot.timing) {
    if (at < start + piece.length || piece === shot.timing.at(-1))
      return { frame: Math.max(0, placeWithin(piece, at - start)), between: piece.between }
    start += piece.length
  }
  throw new Error('a shot without pieces')
}

/** The frame of the clip that is nearest to what a frame of a shot shows. */
export const clipFrame = (shot: Timed, frame: number): number => Math.round(clipPlace(shot, frame).frame)

/**
 * When every frame of a shot is shown, and when its last one ends, in seconds from its first: as the clip's own `times` say
 * where it runs as it was filmed, else evenly at the clip's `rate`. `length + 1` numbers.
 */
export function shownTimes(shot: Timed, times: readonly number[], rate: number): number[] {
  const length = shotLength(shot)
  if (shot.timing) return Array.from({ length: length + 1 }, (_, i) => i / rate)
  const from = times[shot.in] ?? 0
  const out = Array.from({ length: length + 1 }, (_, i) => (times[shot.in + i] ?? NaN) - from)
  // Nothing comes behind the clip's last frame: it lasts as long as its rate says.
  if (Number.isNaN(out[length]!)) out[length] = out[length - 1]! + 1 / rate
  return out
}

/** The frames of its clip that a shot is made from: the first, and the one after the last. */
export function clipRange(shot: Timed): { from: number; to: number } {
  let [from, to] = [Infinity, -Infinity]
  for (const piece of piecesOf(shot))
    for (const at of [0, piece.length - 1]) {
      const place = Math.max(0, placeWithin(piece, at))
      from = Math.min(from, Math.floor(place))
      to = Math.max(to, Math.ceil(place) + 1)
    }
  return { from, to }
}

/** The first frame of a shot that shows just a frame of its clip, by that. */
export function framesShowing(shot: Timed): Map<number, number> {
  const out = new Map<number, number>()
  for (let frame = 0; frame < shotLength(shot); frame++) {
    const { frame: place } = clipPlace(shot, frame)
    if (Number.isInteger(place) && !out.has(place)) out.set(place, frame)
  }
  return out
}

/** Names the frames that a shot shows: what was worked out for another cut of it is not of these. */
export const cutOf = ({ in: first, out, timing }: Timed): string => JSON.stringify([first, out, timing ?? null])
