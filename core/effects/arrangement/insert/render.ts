import { fromUnitSquare, inverseOf, mapped } from '../../../geometry/projective.ts'
import { boundsOf, intersect, noRect } from '../../../geometry/rect.ts'
import { resample, resampleAffine } from '../../../pixels/filters/warp.ts'
import { rendererOf } from '../../effect.ts'
import { isAway, wholePicture } from '../../shared/place.ts'
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
      return
    }
    const map = clipMap(clip, size, { size: settings.size, ...placeOf(context) })
    resampleAffine({ data: clip.data, region: source }, { data, region }, map, edge, scratch)
  },
})
