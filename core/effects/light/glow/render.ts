import { inflate, intersect, isEmpty, noRect, type Rect, unite } from '../../../geometry/rect.ts'
import { copyArea, type RgbaArea } from '../../../pixels/buffers/picture.ts'
import { Slot } from '../../../pixels/buffers/scratch.ts'
import { blurPicture } from '../../../pixels/filters/blur.ts'
import { span } from '../../../pixels/kernels/interface.ts'
import { type ContextOf, rendererOf } from '../../effect.ts'
import { addCoarse, brightness, coarseGrid, ramp } from '../../shared/tools.ts'
import { glow } from './glow.ts'

const slots = { glowCover: new Slot(), glowSource: new Slot(), glowBlurred: new Slot(), glowWide: new Slot() }

const widest = ({ settings }: ContextOf<typeof glow>) => Math.max(settings.near, settings.far) / 2

/** The whole picture is no shape: of it only the bright places glow. */
const fromShape = ({ settings, everywhere }: ContextOf<typeof glow>) => !everywhere && settings.from === 'shape'

/** From this sigma on, in full-size pixels, light is gathered and blurred on the coarse grid: two of its cells. */
const wideFrom = 8
/** Variance in cells that enlarging the coarse grid adds. */
const enlarged = 1 / 6

interface Halo {
  /** Full-size pixels. */
  sigma: number
  tint: string
  gain: number
}

export const renderGlow = rendererOf(glow, {
  bounds(context) {
    if (context.settings.strength <= 0) return noRect
    const bounds = context.regionBounds()
    return isEmpty(bounds) ? bounds : inflate(bounds, 4 * widest(context) * context.scale)
  },
  seesPicture: (context) => !fromShape(context),
  sampleRadius: (context) => 4 * widest(context) * context.scale,
  draw(context, { data, region, under }) {
    const { settings, scale } = context
    const { strength, share } = settings
    const halos: Halo[] = [
      { sigma: 0, tint: settings.nearColour, gain: settings.core },
      { sigma: settings.near / 2, tint: settings.nearColour, gain: 1 - share },
      { sigma: settings.far / 2, tint: settings.farColour, gain: share },
    ]
    const seen = halos.filter(({ gain }) => gain * strength > 0)
    // On less than the grid's own size its cells would be larger than pixels: then all is done on pixels.
    const isWide = ({ sigma }: Halo) => sigma >= wideFrom && scale >= 0.25
    const wide = seen.filter(isWide)
    const narrow = seen.filter((halo) => !isWide(halo))
    if (narrow.length) addNarrow(context, narrow, { data, region }, under)
    if (wide.length) addWide(context, wide, { data, region }, under)
  },
})

/** What glows around a region, within `pad` pixels: nothing of it is lost that lies beyond the picture. */
const glowing = (context: ContextOf<typeof glow>, region: Rect, pad: number): Rect =>
  intersect(context.regionBounds(), inflate(region, pad))

/** Calls with every pixel of `rect` that glows, by rows and columns of it: with its light, in place until the next one. */
function eachGlowing(
  context: ContextOf<typeof glow>,
  rect: Rect,
  under: RgbaArea | undefined,
  found: (x: number, y: number, light: Float32Array) => void,
): void {
  const cover = context.region(rect, slots.glowCover)
  const shape = fromShape(context)
  const { threshold } = context.settings
  const light = new Float32Array(3)
  for (let y = 0, i = 0; y < rect.height; y++)
    for (let x = 0; x < rect.width; x++, i++) {
      if (cover[i] === 0) continue
      if (shape) light.fill(cover[i]!)
      else {
        const column = rect.x + x - under!.region.x
        const row = rect.y + y - under!.region.y
        if (column < 0 || row < 0 || column >= under!.region.width || row >= under!.region.height) continue
        const at = 4 * (row * under!.region.width + column)
        const share = cover[i]! * ramp(threshold, threshold + 0.1, brightness(context, under!.data, at))
        if (share === 0) continue
        for (let c = 0; c < 3; c++) light[c] = under!.data[at + c]! * share
      }
      found(x, y, light)
    }
}

/** Adds halos to a layer; what is bright is looked for in the picture `under` it. */
type AddHalos = (
  context: ContextOf<typeof glow>,
  halos: readonly Halo[],
  layer: RgbaArea,
  under: RgbaArea | undefined,
) => void

/** Halos of a few pixels, on the picture's own. */
const addNarrow: AddHalos = (context, halos, { data, region }, under) => {
  const { scale, scratch } = context
  const pad = Math.ceil(4 * scale * Math.max(...halos.map(({ sigma }) => sigma)))
  const lit = glowing(context, region, pad)
  if (isEmpty(lit)) return
  const rect = unite(region, lit)
  const source = scratch.floats(slots.glowSource, 4 * rect.width * rect.height, true)
  const from = 4 * ((lit.y - rect.y) * rect.width + lit.x - rect.x)
  eachGlowing(context, lit, under, (x, y, light) => source.set(light, from + 4 * (y * rect.width + x)))
  for (const { sigma, tint, gain } of halos) {
    const pixels = sigma * scale
    // No light reaches farther than that. Cut at whole cells of the most reduced copy, so that it comes out the same.
    const own = onCells(intersect(rect, inflate(context.regionBounds(), Math.ceil(4 * pixels) + 2)), rect)
    if (isEmpty(own)) continue
    const blurred = scratch.floats(slots.glowBlurred, 4 * own.width * own.height)
    copyArea({ data: source, region: rect }, { data: blurred, region: own })
    blurPicture({ data: blurred, width: own.width, height: own.height }, pixels, 'nothing', scratch)
    const light = lightOf(context, tint, gain)
    const shown = intersect(own, region)
    for (let y = shown.y; y < shown.y + shown.height; y++) {
      const from = 4 * ((y - own.y) * own.width + shown.x - own.x)
      const to = 4 * ((y - region.y) * region.width + shown.x - region.x)
      scratch.kernels.addTinted(span(blurred, from), span(data, to), shown.width, light)
    }
  }
}

/** Wide halos, on the coarse grid. */
const addWide: AddHalos = (context, halos, { data, region }, under) => {
  const { scale, scratch } = context
  const widest = Math.max(...halos.map(({ sigma }) => sigma))
  const reach = Math.ceil(4 * widest * scale)
  const lit = glowing(context, region, reach)
  if (isEmpty(lit)) return
  // Light of what lies beyond the region comes in; what goes out is not seen, but it leads on to the edge.
  const area = intersect(unite(region, lit), inflate(lit, reach))
  const grid = coarseGrid(context, area, widest)
  const { x: left, y: top, width, height } = grid.rect
  const ratio = grid.scale / scale
  const length = 4 * width * height
  const source = scratch.floats(slots.glowSource, length, true)
  const column = Int32Array.from({ length: lit.width }, (_, x) => 4 * (Math.floor((lit.x + x + 0.5) * ratio) - left))
  const share = ratio * ratio
  eachGlowing(context, lit, under, (x, y, light) => {
    const at = 4 * width * (Math.floor((lit.y + y + 0.5) * ratio) - top) + column[x]!
    for (let c = 0; c < 3; c++) source[at + c]! += share * light[c]!
  })
  // What is gathered into cells is spread over them.
  const gathered = (1 - ratio * ratio) / 12
  const all = scratch.floats(slots.glowWide, length, true)
  for (const { sigma, tint, gain } of halos) {
    const blurred = scratch.floats(slots.glowBlurred, length)
    blurred.set(source)
    const cells = Math.sqrt((sigma * grid.scale) ** 2 - enlarged - gathered)
    blurPicture({ data: blurred, width, height }, cells, 'nothing', scratch)
    scratch.kernels.addTinted(span(blurred), span(all), width * height, lightOf(context, tint, gain))
  }
  addCoarse(context, all, grid, data, region, intersect(area, region))
}

/** Alpha stays what it is. */
function lightOf({ settings, colour }: ContextOf<typeof glow>, tint: string, gain: number) {
  const [r, g, b] = colour(tint).map((v) => v * gain * settings.strength) as [number, number, number]
  return [r, g, b, 0] as const
}

/** A part of a rectangle, widened to whole cells of its most reduced copy (16 pixels, see blurPicture). */
function onCells(part: Rect, whole: Rect): Rect {
  if (isEmpty(part)) return part
  const [left, top] = [part.x - whole.x, part.y - whole.y].map((v) => v & ~15) as [number, number]
  const [right, bottom] = [part.x + part.width - whole.x, part.y + part.height - whole.y].map(
    (v) => (v + 15) & ~15,
  ) as [number, number]
  return intersect({ x: whole.x + left, y: whole.y + top, width: right - left, height: bottom - top }, whole)
}
