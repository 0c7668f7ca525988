import type { Rect } from '../../geometry/rect.ts'
import { memberMatte } from '../../matte/partMatte.ts'
import { type Scratch, Slot } from '../../pixels/buffers/scratch.ts'
import { luminanceAt } from '../../pixels/colour/luminance.ts'
import { quickEncoded } from '../../pixels/colour/transfer.ts'
import { blurPicture } from '../../pixels/filters/blur.ts'
import { span } from '../../pixels/kernels/interface.ts'
import { shapesAt, type TracedPart } from '../../shapes/traced.ts'
import type { EffectContext } from '../effect.ts'

const slots = { blurredCover: new Slot(), enlargedCoarseLine: new Slot() }

export const clip = (v: number): number => (v < 0 ? 0 : v > 1 ? 1 : v)
export const mix = (a: number, b: number, u: number): number => a + (b - a) * u
/** 0 up to `low`, 1 from `high` on, smooth between. */
export function ramp(low: number, high: number, v: number): number {
  const u = high <= low ? (v >= high ? 1 : 0) : clip((v - low) / (high - low))
  return u * u * (3 - 2 * u)
}
export const radians = (degrees: number): number => (degrees * Math.PI) / 180

/** Pixels between the nodes of a warp's mesh: four of the full size, or less or more as the map needs it. */
export const meshStep = ({ scale }: EffectContext<unknown>, wanted = 4): number =>
  Math.max(1, Math.round(Math.min(8, wanted) * scale))

/** How bright a luminance looks, 0..1: as it is encoded. */
export const looks = ({ light }: EffectContext<unknown>, luminance: number): number =>
  clip(light === 'linear' ? quickEncoded(luminance) : luminance)
/** How bright a pixel looks, 0..1. */
export const brightness = (context: EffectContext<unknown>, data: Float32Array, i: number): number =>
  looks(context, luminanceAt(data, i))

/** Matte of parts at a time and any scale over `rect`, in the scratch's buffer of `slot`. */
export const coverOfParts = (
  parts: readonly TracedPart[],
  time: number,
  scale: number,
  rect: Rect,
  scratch: Scratch,
  slot: Slot,
): Float32Array => memberMatte(shapesAt(parts, time), scale, rect, scratch, slot)

/** Blurs one channel in place, wide ones too: it rides in a picture. Nothing lies around it. */
export function blurCover(cover: Float32Array, width: number, height: number, sigma: number, scratch: Scratch): void {
  if (sigma < 0.05) return
  const picture = scratch.floats(slots.blurredCover, 4 * width * height)
  for (let i = 0; i < cover.length; i++) picture[4 * i] = cover[i]!
  blurPicture({ data: picture, width, height }, sigma, 'nothing', scratch)
  for (let i = 0; i < cover.length; i++) cover[i] = picture[4 * i]!
}

/**
 * Soft light is worked out on a coarser grid: at a quarter of the full size, whatever the scale of the picture, so that
 * the small picture looks like the large one. The grid covers `rect` (at the context's scale) and `pad` full-size pixels around it.
 */
export function coarseGrid({ scale }: EffectContext<unknown>, rect: Rect, pad: number): { rect: Rect; scale: number } {
  const ratio = 0.25 / scale
  const x = Math.floor((rect.x / scale - pad) / 4) - 2
  const y = Math.floor((rect.y / scale - pad) / 4) - 2
  return {
    scale: 0.25,
    rect: {
      ...{ x, y },
      width: Math.ceil((rect.x + rect.width) * ratio + pad / 4) + 2 - x,
      height: Math.ceil((rect.y + rect.height) * ratio + pad / 4) + 2 - y,
    },
  }
}

/** Adds a coarse picture (RGBA over a grid around `shown`, see {@link coarseGrid}), enlarged bilinearly, to that part of a layer. */
export function addCoarse(
  { scale, scratch }: EffectContext<unknown>,
  coarse: Float32Array,
  grid: { rect: Rect; scale: number },
  data: Float32Array,
  region: Rect,
  shown = region,
): void {
  const ratio = grid.scale / scale
  const { x, y, width } = grid.rect
  const line = scratch.floats(slots.enlargedCoarseLine, 4 * width)
  const places = { x: (shown.x + 0.5) * ratio - x, dx: ratio }
  for (let row = shown.y; row < shown.y + shown.height; row++) {
    const at = (row + 0.5) * ratio - y - 0.5
    const above = Math.floor(at)
    const rows = [4 * width * above, 4 * width * (above + 1)] as const
    const to = 4 * ((row - region.y) * region.width + shown.x - region.x)
    scratch.kernels.mixLines(coarse, rows, at - above, line, 0, 4 * width)
    scratch.kernels.addStretched(span(line), width, places, span(data, to), shown.width, 1)
  }
}
