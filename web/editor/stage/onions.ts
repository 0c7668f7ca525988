import type { Part } from '#core/records/types.ts'
import { keyBefore } from '#core/shapes/track.ts'
import type { useBench } from '../bench.ts'

/** Shapes of the neighbouring keys or frames of a part, the nearest strongest. */
export function onionShapes(bench: ReturnType<typeof useBench>, part: Part) {
  const { by, count, strength } = bench.onions
  const { keys } = bench.track(part)
  const before = keyBefore(keys, bench.seen - 1)
  const after = keyBefore(keys, bench.seen) + 1
  const frames = Array.from({ length: count }, (_, i) =>
    by === 'frames' ? [bench.seen - 1 - i, bench.seen + 1 + i] : [keys[before - i]?.frame, keys[after + i]?.frame],
  )
  return frames.flatMap((pair, i) =>
    pair.flatMap((frame) => {
      const points = frame === undefined ? null : bench.shape(part, frame)
      return points ? [{ frame: frame!, points, strength: strength * (1 - i / count) }] : []
    }),
  )
}
