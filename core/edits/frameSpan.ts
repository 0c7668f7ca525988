import { say } from '../say.ts'
import type { Key, Part } from '../records/types.ts'
import { isHandKey } from '../shapes/track.ts'

/** Over which frames a part is followed or carried, seen from the playhead. */
export type FrameSpan = 'on' | 'back' | 'both' | 'step' | 'stepBack' | 'end' | 'start' | 'range' | 'again' | 'all'

/** First and last frame of a span, both inclusive, or the sentence that says why there is none. */
export function framesOfSpan(
  span: FrameSpan,
  part: Pick<Part, 'name'>,
  keys: readonly Key[],
  { frame, length, range }: { frame: number; length: number; range: { from: number; to: number } | null },
): { from: number; to: number } | string {
  const hands = keys.filter(isHandKey)
  if (hands.length === 0) return say`${part.name} has no key yet: set it on a frame by hand, then follow it from there.`
  const before = hands.findLast((key) => key.frame <= frame)?.frame
  const after = hands.find((key) => key.frame >= frame)?.frame
  const next = hands.find((key) => key.frame > frame)?.frame ?? length
  const previous = hands.findLast((key) => key.frame < frame)?.frame ?? -1
  const noneBefore = say`There is no key of ${part.name} at frame ${frame} or before it: set it here, or go to frame ${after ?? ''} and follow backwards.`
  const noneAfter = say`There is no key of ${part.name} at frame ${frame} or after it: set it here, or go to frame ${before ?? ''} and follow forwards.`
  switch (span) {
    case 'on':
      return before === undefined ? noneBefore : { from: frame + 1, to: next - 1 }
    case 'end':
      return before === undefined ? noneBefore : { from: frame + 1, to: length - 1 }
    case 'step':
      return before === undefined ? noneBefore : { from: frame + 1, to: frame + 1 }
    case 'back':
      return after === undefined ? noneAfter : { from: previous + 1, to: frame - 1 }
    case 'start':
      return after === undefined ? noneAfter : { from: 0, to: frame - 1 }
    case 'stepBack':
      return after === undefined ? noneAfter : { from: frame - 1, to: frame - 1 }
    case 'both':
      return { from: previous + 1, to: next - 1 }
    case 'all':
      return { from: 0, to: length - 1 }
    case 'range':
      return range
        ? { from: range.from, to: range.to }
        : say`No range is chosen: sweep over frames of the sheet with Shift.`
    case 'again': {
      // Spans next to this key; at an open end as far as it was followed before.
      const followed = keys.filter((key) => !isHandKey(key))
      const first = previous >= 0 ? previous + 1 : (followed.find((key) => key.frame < frame)?.frame ?? frame)
      const last = next < length ? next - 1 : (followed.findLast((key) => key.frame > frame)?.frame ?? length - 1)
      return { from: first, to: last }
    }
  }
}
