import { noRect } from '../../../geometry/rect.ts'
import { Slot } from '../../../pixels/buffers/scratch.ts'
import { fitted } from '../../../pixels/filters/fit.ts'
import { hashed } from '../../../pixels/filters/noise.ts'
import { rendererOf } from '../../effect.ts'
import { centreOfEffect, wholePicture } from '../../shared/place.ts'
import { brightness, clip, mix, radians, ramp } from '../../shared/tools.ts'
import { blockScatter } from './blockScatter.ts'

const slots = { scattered: new Slot(), scatterCover: new Slot() }

const clipTo = (v: number, low: number, high: number) => (v < low ? low : v > high ? high : v)

export const renderBlockScatter = rendererOf(blockScatter, {
  bounds: (context) =>
    context.settings.amount > 0 && context.regionBounds().width > 0 ? wholePicture(context) : noRect,
  sampleRadius: () => Infinity,
  needs: (settings, frame) => (settings.behind === 'next' ? [{ media: 'next', frame }] : []),
  draw(context, { data, region }) {
    const { settings, scale, scratch, size } = context
    // Blocks lie on the plate's own grid: every scale cuts the same ones.
    const side = settings.size * scale
    const source = scratch.floats(slots.scattered, data.length)
    source.set(data)
    const cover = context.region(region, slots.scatterCover)
    const stay = settings.stay
    const next = settings.behind === 'next' ? context.picture({ media: 'next', frame: context.frame }) : null
    const behind = next && fitted(next, size, scratch)
    if (stay < 1)
      for (let y = 0, i = 0; y < region.height; y++)
        for (let x = 0; x < region.width; x++, i++) {
          const share = (1 - stay) * cover[i]!
          if (share === 0) continue
          const from = 4 * ((region.y + y) * size.width + region.x + x)
          for (let c = 0; c < 3; c++) data[4 * i + c] = mix(data[4 * i + c]!, behind ? behind[from + c]! : 0, share)
        }
    const bounds = context.regionBounds()
    const middle = context.parts.length
      ? centreOfEffect(context)
      : {
          x: Math.max(0, bounds.x) + Math.min(size.width, bounds.width) / 2,
          y: Math.max(0, bounds.y) + Math.min(size.height, bounds.height) / 2,
        }
    const amount = settings.amount * scale
    const { threshold, even } = settings
    const angle = radians(settings.angle)
    const { drift, spread, seed, glow } = settings
    const tint = context.colour(settings.tint)
    for (let row = 0; row * side < region.height; row++)
      for (let column = 0; column * side < region.width; column++) {
        const block = {
          left: Math.round(column * side),
          top: Math.round(row * side),
          right: Math.min(region.width, Math.round((column + 1) * side)),
          bottom: Math.min(region.height, Math.round((row + 1) * side)),
        }
        const bright = meanOf(block, cover, region.width, (i) => brightness(context, source, 4 * i))
        if (bright === null || bright <= threshold) continue
        const chance = (k: number) => hashed(column, row, seed + k)
        const far = mix(ramp(threshold, Math.min(1, threshold + 0.6), bright), 1, even) * (0.5 + chance(1))
        const [bx, by] = [(column + 0.5) * side, (row + 0.5) * side]
        const out = Math.atan2(by - middle.y, bx - middle.x) + spread * Math.PI * (2 * chance(2) - 1)
        const dx = amount * far * (Math.cos(out) + drift * Math.cos(angle))
        const dy = amount * far * (Math.sin(out) + drift * Math.sin(angle))
        const gone = clip(Math.hypot(dx, dy) / Math.max(1, 1.5 * amount))
        const ratio = 1 - settings.shrink * gone
        const light = glow * gone
        const half = { x: ((block.right - block.left) / 2) * ratio, y: ((block.bottom - block.top) / 2) * ratio }
        const centre = { x: (block.left + block.right) / 2 + dx, y: (block.top + block.bottom) / 2 + dy }
        const [x0, x1] = [
          Math.max(0, Math.round(centre.x - half.x)),
          Math.min(region.width, Math.round(centre.x + half.x)),
        ]
        const [y0, y1] = [
          Math.max(0, Math.round(centre.y - half.y)),
          Math.min(region.height, Math.round(centre.y + half.y)),
        ]
        for (let y = y0; y < y1; y++)
          for (let x = x0; x < x1; x++) {
            const sx = clipTo(
              Math.floor((x + 0.5 - centre.x) / ratio + (block.left + block.right) / 2),
              block.left,
              block.right - 1,
            )
            const sy = clipTo(
              Math.floor((y + 0.5 - centre.y) / ratio + (block.top + block.bottom) / 2),
              block.top,
              block.bottom - 1,
            )
            const from = sy * region.width + sx
            const share = cover[from]!
            if (share === 0) continue
            const to = 4 * (y * region.width + x)
            for (let c = 0; c < 3; c++) {
              const v = source[4 * from + c]! * (1 + light * tint[c]!) + 0.15 * light * tint[c]! * bright
              data[to + c] = mix(data[to + c]!, v, share)
            }
          }
      }
  },
})

/** Mean of a value over a block, weighted by its cover; null where less than a quarter of it is covered. */
function meanOf(
  { left, top, right, bottom }: { left: number; top: number; right: number; bottom: number },
  cover: Float32Array,
  width: number,
  value: (i: number) => number,
): number | null {
  let [sum, weight] = [0, 0]
  for (let y = top; y < bottom; y++)
    for (let x = left; x < right; x++) {
      const i = y * width + x
      if (!cover[i]) continue
      sum += cover[i]! * value(i)
      weight += cover[i]!
    }
  return weight > 0.25 * (right - left) * (bottom - top) ? sum / weight : null
}
