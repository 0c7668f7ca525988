import type { Rect } from '../../geometry/rect.ts'
import { blurPicture } from '../../pixels/filters/blur.ts'
import { quickEncoded } from '../../pixels/colour/transfer.ts'
import type { Scratch } from '../../pixels/buffers/scratch.ts'
import { memberMatte } from '../../matte/partMatte.ts'
import { shapesAt } from '../../shapes/traced.ts'
import type { EffectContext, TracedPart } from '../effect.ts'

export const clip = (v: number): number => (v < 0 ? 0 : v > 1 ? 1 : v)
export const mix = (a: number, b: number, u: number): number => a + (b - a) * u
/** 0 up to `low`, 1 from `high` on, smooth between. */
export function ramp(low: number, high: number, v: number): number {
  const u = high <= low ? (v >= high ? 1 : 0) : clip((v - low) / (high - low))
  return u * u * (3 - 2 * u)
}
export const radians = (degrees: number): number => (degrees * Math.PI) / 180

/** Pixels between the nodes of a warp's mesh: four of the full size, or less or more as the map needs it. */
export const meshStep = ({ scale }: EffectContext, wanted = 4): number =>
  Math.max(1, Math.round(Math.min(8, wanted) * scale))

/** BT.709 luminance of the pixel at number `i`. */
export const luminance = (data: Float32Array, i: number): number =>
  0.2126 * data[i]! + 0.7152 * data[i + 1]! + 0.0722 * data[i + 2]!

/** How bright a pixel looks, 0..1: its luminance as it is encoded. */
export const brightness = ({ light }: EffectContext, data: Float32Array, i: number): number => {
  const v = luminance(data, i)
  return clip(light === 'linear' ? quickEncoded(v) : v)
}

export const grown = (rect: Rect, by: number): Rect => {
  const pad = Math.ceil(by)
  return { x: rect.x - pad, y: rect.y - pad, width: rect.width + 2 * pad, height: rect.height + 2 * pad }
}

/** Matte of parts at a time and any scale over `rect`, in the scratch's buffer `name`. */
export const coverOfParts = (
  parts: readonly TracedPart[],
  time: number,
  scale: number,
  rect: Rect,
  scratch: Scratch,
  name: string,
): Float32Array => memberMatte(shapesAt(parts, time), scale, rect, scratch, name)

/** Blurs one channel in place, wide ones too: it rides in a picture. Nothing lies around it. */
export function blurCover(cover: Float32Array, width: number, height: number, sigma: number, scratch: Scratch): void {
  if (sigma < 0.05) return
  const picture = scratch.floats('blurred cover', 4 * width * height)
  for (let i = 0; i < cover.length; i++) picture[4 * i] = cover[i]!
  blurPicture(picture, width, height, sigma, sigma, 'nothing', scratch)
  for (let i = 0; i < cover.length; i++) cover[i] = picture[4 * i]!
}

/**
 * Soft light is worked out on a coarser grid: at a quarter of the full size, whatever the scale of the picture, so that
 * the small picture looks like the large one. The grid covers `rect` (at the context's scale) and `pad` full-size pixels around it.
 */
export function coarseGrid({ scale }: EffectContext, rect: Rect, pad: number): { rect: Rect; scale: number } {
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

/** Adds a coarse picture (RGBA over its grid), enlarged bilinearly, times `gain` to a layer. */
export function addCoarse(
  { scale, scratch }: EffectContext,
  coarse: Float32Array,
  grid: { rect: Rect; scale: number },
  data: Float32Array,
  region: Rect,
  gain = 1,
): void {
  const ratio = grid.scale / scale
  const line = scratch.floats('enlarged coarse line', 4 * region.width)
  const { width, height } = grid.rect
  for (let y = 0; y < region.height; y++) {
    const from = {
      x: (region.x + 0.5) * ratio - grid.rect.x,
      y: (region.y + y + 0.5) * ratio - grid.rect.y,
      ...{ dx: ratio, dy: 0 },
    }
    scratch.kernels.sampleLine(coarse, width, height, from, 'nothing', line, 0, region.width)
    scratch.kernels.addScaled(line, 0, data, 4 * y * region.width, 4 * region.width, gain)
  }
}
