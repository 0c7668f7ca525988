import { cornersOf, inflate, intersect, isEmpty, noRect, type Rect, unite } from '../../../geometry/rect.ts'
import { identity, inverse, type Similarity } from '../../../geometry/similarity.ts'
import { Slot } from '../../../pixels/buffers/scratch.ts'
import { resampleAffine } from '../../../pixels/filters/warp.ts'
import { span } from '../../../pixels/kernels/interface.ts'
import { adding, motionBetween } from '../../../shapes/traced.ts'
import { type ContextOf, rendererOf } from '../../effect.ts'
import { coverOfParts } from '../../shared/tools.ts'
import { motionBlur } from './motionBlur.ts'

const slots = { smearSum: new Slot(), smearCut: new Slot(), smearMoved: new Slot(), smearCover: new Slot() }

const boundsOfPart = (part: ContextOf<typeof motionBlur>['parts'][number], time: number, scale: number): Rect => {
  const pixels = part.raster?.(time)
  const points = pixels ? cornersOf(pixels) : part.at(time)
  if (!points) return noRect
  let [l, t, r, b] = [Infinity, Infinity, -Infinity, -Infinity]
  for (let i = 0; i < points.length; i += 2) {
    l = Math.min(l, points[i]! * scale)
    r = Math.max(r, points[i]! * scale)
    t = Math.min(t, points[i + 1]! * scale)
    b = Math.max(b, points[i + 1]! * scale)
  }
  // Handles and the third point of an oval lie within twice its box.
  const pad = Math.max(r - l, b - t) * (part.kind === 'oval' ? 0.6 : 0.2) + 20 * scale
  return {
    x: Math.floor(l - pad),
    y: Math.floor(t - pad),
    width: Math.ceil(r - l + 2 * pad) + 1,
    height: Math.ceil(b - t + 2 * pad) + 1,
  }
}

export const renderMotionBlur = rendererOf(motionBlur, {
  bounds(context) {
    const half = context.settings.shutter / 720
    let rect: Rect = noRect
    for (const time of [context.frame - half, context.frame, context.frame + half])
      for (const part of adding(context.parts)) {
        const points = part.at(time)
        if (points) rect = unite(rect, boundsOfPart(part, time, context.scale))
      }
    return isEmpty(rect) ? rect : inflate(rect, 4)
  },
  sampleRadius: () => 8,
  draw(context, { data, region }) {
    const { settings, scale, frame, scratch, parts } = context
    const count = Math.round(settings.samples)
    const shutter = settings.shutter / 360
    if (shutter <= 0) return
    const size = region.width * region.height
    // Premultiplied cut-outs of every part, each moved along its own motion, summed; what they leave shows the picture.
    const sum = scratch.floats(slots.smearSum, 4 * size, true)
    const cut = scratch.floats(slots.smearCut, 4 * size)
    const moved = scratch.floats(slots.smearMoved, 4 * size)
    for (const part of adding(parts)) {
      if (!part.at(frame)) continue
      const cover = coverOfParts([part], frame, scale, region, scratch, slots.smearCover)
      for (let i = 0; i < size; i++) for (let c = 0; c < 4; c++) cut[4 * i + c] = data[4 * i + c]! * cover[i]!
      for (let k = 0; k < count; k++) {
        const motion = motionTo(context, part, frame + shutter * ((k + 0.5) / count - 0.5))
        const { ar, ai, br, bi } = inverse(motion ?? identity)
        // Only where the part can be at that moment.
        const box = intersect(boundsOfPart(part, frame + shutter * ((k + 0.5) / count - 0.5), scale), region)
        if (isEmpty(box)) continue
        resampleAffine(
          { data: cut, region },
          { data: moved, region: box },
          [ar, ai, -ai, ar, br, bi],
          'nothing',
          scratch,
        )
        for (let y = 0; y < box.height; y++) {
          const to = 4 * ((box.y + y - region.y) * region.width + box.x - region.x)
          scratch.kernels.addScaled(span(moved, 4 * y * box.width), span(sum, to), 4 * box.width, 1 / count)
        }
      }
    }
    for (let i = 0; i < 4 * size; i += 4) {
      const a = sum[i + 3]!
      if (a <= 0) continue
      // Parts that overlap are counted once.
      const share = a > 1 ? 1 / a : 1
      for (let c = 0; c < 4; c++) data[i + c] = data[i + c]! * (1 - a * share) + sum[i + c]! * share
    }
  },
})

/** The motion of a part from the frame to a time close to it, in pixels at the scale; null where it is not there. */
function motionTo(
  { frame, scale }: ContextOf<typeof motionBlur>,
  part: ContextOf<typeof motionBlur>['parts'][number],
  time: number,
): Similarity | null {
  const motion = motionBetween(part, frame, time)
  return motion && { ...motion, br: motion.br * scale, bi: motion.bi * scale }
}
