import { inflate, intersect, isEmpty, noRect, type Rect, unite } from '../../../geometry/rect.ts'
import { copyArea } from '../../../pixels/buffers/picture.ts'
import { Slot } from '../../../pixels/buffers/scratch.ts'
import { blurPicture } from '../../../pixels/filters/blur.ts'
import { span } from '../../../pixels/kernels/interface.ts'
import { type ContextOf, rendererOf } from '../../effect.ts'
import { brightness, ramp } from '../../shared/tools.ts'
import { glow } from './glow.ts'

const slots = { glowCover: new Slot(), glowSource: new Slot(), glowBlurred: new Slot() }

type Rgb = [number, number, number]

const widest = ({ settings }: ContextOf<typeof glow>) => Math.max(settings.near, settings.far) / 2

/** The whole picture is no shape: of it only the bright places glow. */
const fromShape = ({ settings, everywhere }: ContextOf<typeof glow>) => !everywhere && settings.from === 'shape'

export const renderGlow = rendererOf(glow, {
  bounds(context) {
    if (context.settings.strength <= 0) return noRect
    const bounds = context.regionBounds()
    return isEmpty(bounds) ? bounds : inflate(bounds, 4 * widest(context) * context.scale)
  },
  seesPicture: (context) => !fromShape(context),
  sampleRadius: (context) => 4 * widest(context) * context.scale,
  draw(context, { data, region, under }) {
    const { settings, scale, scratch } = context
    const sigmas = [settings.near, settings.far].map((feather) => (feather / 2) * scale)
    const pad = Math.ceil(4 * Math.max(...sigmas))
    // What glows may lie beyond the picture; its light comes in all the same. Where nothing glows nothing is blurred.
    const rect = unite(region, intersect(context.regionBounds(), inflate(region, pad)))
    const cover = context.region(rect, slots.glowCover)
    const source = scratch.floats(slots.glowSource, 4 * rect.width * rect.height, true)
    const shape = fromShape(context)
    const threshold = settings.threshold
    for (let y = 0, i = 0; y < rect.height; y++)
      for (let x = 0; x < rect.width; x++, i++) {
        if (cover[i] === 0) continue
        if (shape) {
          source.fill(cover[i]!, 4 * i, 4 * i + 3)
          continue
        }
        const column = rect.x + x - under!.region.x
        const row = rect.y + y - under!.region.y
        if (column < 0 || row < 0 || column >= under!.region.width || row >= under!.region.height) continue
        const at = 4 * (row * under!.region.width + column)
        const share = cover[i]! * ramp(threshold, threshold + 0.1, brightness(context, under!.data, at))
        for (let c = 0; c < 3; c++) source[4 * i + c] = under!.data[at + c]! * share
      }
    const { strength, share } = settings
    const layers = [
      { sigma: 0, tint: settings.nearColour, gain: settings.core },
      { sigma: sigmas[0]!, tint: settings.nearColour, gain: 1 - share },
      { sigma: sigmas[1]!, tint: settings.farColour, gain: share },
    ]
    for (const { sigma, tint, gain } of layers) {
      if (gain * strength <= 0) continue
      // No light reaches farther than that. Cut at whole cells of the most reduced copy, so that it comes out the same.
      const own = onCells(intersect(rect, inflate(context.regionBounds(), Math.ceil(4 * sigma) + 2)), rect)
      if (isEmpty(own)) continue
      const blurred = scratch.floats(slots.glowBlurred, 4 * own.width * own.height)
      copyArea({ data: source, region: rect }, { data: blurred, region: own })
      blurPicture({ data: blurred, width: own.width, height: own.height }, sigma, 'nothing', scratch)
      const [r, g, b] = context.colour(tint).map((v) => v * gain * strength) as Rgb
      const light = [r, g, b, 0] as const
      const lit = intersect(own, region)
      for (let y = lit.y; y < lit.y + lit.height; y++) {
        const from = 4 * ((y - own.y) * own.width + lit.x - own.x)
        const to = 4 * ((y - region.y) * region.width + lit.x - region.x)
        scratch.kernels.addTinted(span(blurred, from), span(data, to), lit.width, light)
      }
    }
  },
})

/** A part of a rectangle, widened to whole cells of its most reduced copy (16 pixels, see blurPicture). */
function onCells(part: Rect, whole: Rect): Rect {
  if (isEmpty(part)) return part
  const [left, top] = [part.x - whole.x, part.y - whole.y].map((v) => v & ~15) as [number, number]
  const [right, bottom] = [part.x + part.width - whole.x, part.y + part.height - whole.y].map(
    (v) => (v + 15) & ~15,
  ) as [number, number]
  return intersect({ x: whole.x + left, y: whole.y + top, width: right - left, height: bottom - top }, whole)
}
