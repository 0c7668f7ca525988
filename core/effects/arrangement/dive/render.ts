import { noRect } from '../../../geometry/rect.ts'
import { memberMatte } from '../../../matte/partMatte.ts'
import { Slot } from '../../../pixels/buffers/scratch.ts'
import { type Affine, resampleAffine, warpAffine } from '../../../pixels/filters/warp.ts'
import { cornerNodes } from '../../../shapes/kinds/outline.ts'
import { edgeOf } from '../../../shapes/traced.ts'
import { rendererOf } from '../../effect.ts'
import { centreOfEffect, isAway, wholePicture } from '../../shared/place.ts'
import { clipFrame, clipMap } from '../../shared/placement.ts'
import { mix } from '../../shared/tools.ts'
import { dive } from './dive.ts'

const slots = { diveHole: new Slot(), diveThrough: new Slot() }

/** Magnification after so many doublings. */
export const zoomOf = (depth: number): number => 2 ** depth

export const renderDive = rendererOf(dive, {
  bounds: (context) =>
    isAway(context) || (context.settings.depth <= 0 && !context.settings.clip) ? noRect : wholePicture(context),
  sampleRadius: () => Infinity,
  needs: (settings, frame, _length, rateOf) => (settings.clip ? [clipFrame(settings, frame, rateOf)] : []),
  draw(context, { data, region, under }) {
    const { settings, scale, size, frame, scratch } = context
    const zoom = zoomOf(settings.depth)
    // Into the first of its parts: of two eyes into one, not between them.
    const parts = context.parts.filter((part) => part.role === 'add' && part.at(frame)).slice(0, 1)
    const hole = centreOfEffect({ ...context, parts })
    const map = diveMap(hole, size, zoom)
    if (zoom > 1) warpAffine({ data, region, under }, map, 'mirrored', scratch)
    const clip = settings.clip ? context.picture(clipFrame(settings, Math.round(frame), context.rateOf)) : null
    if (!clip) return
    // The hole's own outline is carried through the camera, not its pixels: its edge is sharp at any depth.
    const carry = (points: readonly number[]) => points.map((v, i) => ((v * scale - map[4 + (i % 2)]!) * zoom) / scale)
    const seen = parts.map((part) => {
      const points = part.at(frame)
      if (!part.raster) return { ...part, points: points && carry(points), raster: null }
      const edge = edgeOf(part, frame)
      return { ...part, kind: 'outline', points: edge && cornerNodes(carry(edge)), raster: null }
    })
    const cover = memberMatte(seen, scale, region, scratch, slots.diveHole)
    const through = scratch.floats(slots.diveThrough, data.length)
    const back = clipMap(clip, size, { size: settings.size, x: size.width / 2, y: size.height / 2 })
    const source = { x: 0, y: 0, width: clip.width, height: clip.height }
    resampleAffine({ data: clip.data, region: source }, { data: through, region }, back, 'mirrored', scratch)
    for (let i = 0; i < cover.length; i++) {
      const share = cover[i]!
      if (share) for (let c = 0; c < 4; c++) data[4 * i + c] = mix(data[4 * i + c]!, through[4 * i + c]!, share)
    }
  },
})

/**
 * The picture seen by the diving camera: pixel to pixel. The middle of the hole goes from its own place to that of the
 * picture as the magnification grows, and stays there.
 */
export function diveMap(hole: { x: number; y: number }, size: { width: number; height: number }, zoom: number): Affine {
  const [mx, my] = [size.width / 2, size.height / 2]
  const [tx, ty] = [mx + (hole.x - mx) / zoom, my + (hole.y - my) / zoom]
  return [1 / zoom, 0, 0, 1 / zoom, hole.x - tx / zoom, hole.y - ty / zoom]
}
