import { type ClosedPath, flatten } from '../../../geometry/path.ts'
import { fromUnitSquare, mapped } from '../../../geometry/projective.ts'
import { boundsOf, intersect, isEmpty, noRect, unite } from '../../../geometry/rect.ts'
import { coverPolygons } from '../../../matte/coverage.ts'
import { Slot } from '../../../pixels/buffers/scratch.ts'
import { setText } from '../../../text/layout.ts'
import { type ContextOf, rendererOf } from '../../effect.ts'
import { wholePicture } from '../../shared/place.ts'
import { pinCorners, placeOf } from '../../shared/placement.ts'
import { words } from './words.ts'

const slots = { words: new Slot() }

export const renderWords = rendererOf(words, {
  bounds: (context) =>
    polygonsOf(context).reduce((all, polygon) => unite(all, intersect(boundsOf(polygon, 1), wholePicture(context))), {
      ...noRect,
    }),
  draw(context, { data, region }) {
    if (isEmpty(region)) return
    const { settings, scratch } = context
    const cover = scratch.floats(slots.words, region.width * region.height)
    coverPolygons(polygonsOf(context), region, cover)
    const tint = context.colour(settings.tint).map((v) => v * settings.light)
    for (let i = 0, to = 0; i < cover.length; i++, to += 4) {
      const share = cover[i]!
      if (share === 0) continue
      for (let k = 0; k < 3; k++) data[to + k] = tint[k]! * share
      data[to + 3] = share
    }
  },
})

/** The words' outlines as polygons in pixels at the effect's scale. */
function polygonsOf(context: ContextOf<typeof words>): number[][] {
  const { settings, scale } = context
  const paths = setText(settings.text, settings)
  const polygons = paths.map((path: ClosedPath) => flatten(path, 0.05))
  const corners = pinCorners(context)
  const { x, y, turn } = placeOf(context)
  const [c, s] = [Math.cos(turn), Math.sin(turn)]
  if (!corners) {
    const turned = (points: number[]) =>
      points.map((_, i) =>
        i % 2 ? y + scale * (s * points[i - 1]! + c * points[i]!) : x + scale * (c * points[i]! - s * points[i + 1]!),
      )
    return polygons.map(turned)
  }
  // On the pin a pixel is one where its sides, taken in the mean, are as long as they look.
  const map = fromUnitSquare(corners)
  if (!map) return []
  const side = (i: number, k: number) =>
    Math.hypot(corners[2 * k]! - corners[2 * i]!, corners[2 * k + 1]! - corners[2 * i + 1]!) / scale
  const [wide, high] = [(side(0, 1) + side(3, 2)) / 2, (side(1, 2) + side(0, 3)) / 2]
  const [dx, dy] = [settings.x, settings.y]
  return polygons.map((points) => {
    const out: number[] = []
    for (let i = 0; i < points.length; i += 2) {
      const [px, py] = [c * points[i]! - s * points[i + 1]! + dx, s * points[i]! + c * points[i + 1]! + dy]
      out.push(...mapped(map, 0.5 + px / wide, 0.5 + py / high))
    }
    return out
  })
}
