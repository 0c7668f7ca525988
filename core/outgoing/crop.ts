import { say } from '../say.ts'
import { inflate, intersect, isEmpty, noRect, type Rect, unite } from '../geometry/rect.ts'
import { boundsOfCover, regionBounds } from '../render/region.ts'
import type { Scene } from '../render/scene.ts'
import type { Whose } from './whose.ts'

/**
 * The pixels that a matte or cut-out needs on frames `from` up to `to`, at a scale of the plate (1, 1/2 or 1/4) and within a picture of
 * `size`: even places and sizes, as video has them. All of the picture where nothing is to be seen.
 */
export function cropOf(
  scene: Scene,
  whose: Whose,
  { from, to }: { from: number; to: number },
  scale: number,
  size: { width: number; height: number },
): Rect {
  const whole = { x: 0, y: 0, ...size }
  let needed: Rect = noRect
  for (let frame = from; frame < to; frame++) {
    const box =
      'side' in whose
        ? regionBounds(scene, whose, frame, scale, whole)
        : boundsOfCover(scene, 'channels' in whose ? whose.channels.flat() : whose, frame, scale)
    needed = unite(needed, intersect(inflate(box, isEmpty(box) ? 0 : 1), whole))
  }
  return isEmpty(needed) ? whole : even(needed, size)
}

/** The smallest around a rectangle that begins and ends at even pixels, as far as the picture goes. */
function even({ x, y, width, height }: Rect, size: { width: number; height: number }): Rect {
  const [left, top] = [x & ~1, y & ~1]
  const [right, bottom] = [(x + width + 1) & ~1, (y + height + 1) & ~1]
  return { x: left, y: top, width: Math.min(right, size.width) - left, height: Math.min(bottom, size.height) - top }
}

/** Where a cropped picture lies in the plate, in words. */
export const cropWords = ({ x, y, width, height }: Rect): string =>
  say`cropped to ${width} × ${height}, from ${x} right and ${y} down`
