import { fromUnitSquare, inverseOf, mapped } from '../../../geometry/projective.ts'
import { boundsOf, intersect, noRect } from '../../../geometry/rect.ts'
import { resample, resampleAffine } from '../../../pixels/filters/warp.ts'
import { type ContextOf, rendererOf } from '../../effect.ts'
import type { RgbaArea } from '../../../pixels/buffers/picture.ts'
import { isAway, wholePicture } from '../../shared/place.ts'
import { ramp } from '../../shared/tools.ts'
import { clipFrame, clipMap, pinCorners, placeOf } from '../../shared/placement.ts'
import { insert } from './insert.ts'

export const renderInsert = rendererOf(insert, {
  bounds(context) {
    if (!context.settings.clip || isAway(context)) return noRect
    // On a pin only within its corners, as far as they are a picture at all.
    const corners = pinCorners(context)
    if (corners) return intersect(boundsOf(corners, 1), wholePicture(context))
    const clip =
      context.settings.edge === 'nothing'
        ? context.sizeOf(clipFrame(context.settings, Math.round(context.frame), context.rateOf))
        : null
    if (!clip) return wholePicture(context)
    const { x, y } = placeOf(context)
    // However it is turned.
    const far = (context.size.width * context.settings.size * Math.hypot(1, clip.height / clip.width)) / 2 + 2
    return intersect(boundsOf([x, y], far), wholePicture(context))
  },
  needs: (settings, frame, _length, rateOf) => (settings.clip ? [clipFrame(settings, frame, rateOf)] : []),
  draw(context, { data, region }) {
    const { settings, size, frame, scratch } = context
    const clip = context.picture(clipFrame(settings, Math.round(frame), context.rateOf))
    if (!clip) return
    const edge = settings.edge
    const source = { x: 0, y: 0, width: clip.width, height: clip.height }
    const corners = pinCorners(context)
    if (corners) {
      const map = fromUnitSquare(corners)
      const back = map && inverseOf(map)
      if (!back) return
      resample(
        { data: clip.data, region: source },
        { data, region },
        {
          where: (x, y, out) => {
            const [u, v] = mapped(back, x, y)
            out[0] = u * clip.width
            out[1] = v * clip.height
          },
          step: 1,
        },
        'nothing',
        scratch,
      )
      // How far apart its sides lie in the picture: a place's share of that is how far from the edge it is.
      const across = (sideOf(corners, 0, 1) + sideOf(corners, 3, 2)) / 2
      const down = (sideOf(corners, 0, 3) + sideOf(corners, 1, 2)) / 2
      return fadeIn(context, { data, region }, (x, y) => {
        const [u, v] = mapped(back, x, y)
        return Math.min(across * Math.min(u, 1 - u), down * Math.min(v, 1 - v))
      })
    }
    const map = clipMap(clip, size, { size: settings.size, ...placeOf(context) })
    resampleAffine({ data: clip.data, region: source }, { data, region }, map, edge, scratch)
    if (edge !== 'nothing') return
    const [a, b, c, d, e, f] = map
    const perPixel = Math.hypot(a, b)
    fadeIn(context, { data, region }, (x, y) => {
      const [u, v] = [a * x + c * y + e, b * x + d * y + f]
      return Math.min(u, clip.width - u, v, clip.height - v) / perPixel
    })
  },
})

/** Length of a pin's side between two of its corners, in pixels at scale. */
const sideOf = (corners: readonly number[], i: number, j: number): number =>
  Math.hypot(corners[2 * i]! - corners[2 * j]!, corners[2 * i + 1]! - corners[2 * j + 1]!)

/** Lets a layer fade in over the soft edge; `inside`: how far within its edge a place lies, in pixels at scale. */
function fadeIn(
  { settings, scale }: ContextOf<typeof insert>,
  { data, region }: RgbaArea,
  inside: (x: number, y: number) => number,
): void {
  const soft = settings.soft * scale
  if (soft <= 0) return
  for (let y = 0, i = 0; y < region.height; y++)
    for (let x = 0; x < region.width; x++, i += 4) {
      const share = ramp(0, soft, inside(region.x + x + 0.5, region.y + y + 0.5))
      if (share < 1) for (let c = i; c < i + 4; c++) data[c]! *= share
    }
}
