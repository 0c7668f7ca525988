import type { Part } from '#core/records/types.ts'
import { keyBefore } from '#core/shapes/track.ts'
import { useOpenShot } from '../openShot.ts'
import type { useViewing } from '../viewing.ts'

/** Shapes of the neighbouring keys or frames of a part, the nearest strongest. `seen`: the frame that they stand around. */
export function onionShapes(
  part: Part,
  seen: number,
  { by, count, strength }: ReturnType<typeof useViewing>['onions'],
) {
  const opened = useOpenShot()
  const { keys } = opened.track(part)
  const before = keyBefore(keys, seen - 1)
  const after = keyBefore(keys, seen) + 1
  const frames = Array.from({ length: count }, (_, i) =>
    by === 'frames' ? [seen - 1 - i, seen + 1 + i] : [keys[before - i]?.frame, keys[after + i]?.frame],
  )
  return frames.flatMap((pair, i) =>
    pair.flatMap((frame) => {
      const points = frame === undefined ? null : opened.shape(part, frame)
      return points ? [{ frame: frame!, points, strength: strength * (1 - i / count) }] : []
    }),
  )
}
