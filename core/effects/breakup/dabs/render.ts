import { Slot } from '../../../pixels/buffers/scratch.ts'
import { luminanceAt } from '../../../pixels/colour/luminance.ts'
import { blurPicture } from '../../../pixels/filters/blur.ts'
import { hashed } from '../../../pixels/filters/noise.ts'
import { rendererOf } from '../../effect.ts'
import { looks, mix } from '../../shared/tools.ts'
import { dabs } from './dabs.ts'

const slots = { unpainted: new Slot(), luminance: new Slot() }

export const renderDabs = rendererOf(dabs, {
  sampleRadius: ({ settings, scale }) => 2 * settings.size * scale + 4,
  draw(context, { data, region }) {
    const { settings, scale, scratch, frame } = context
    const { width, height } = region
    if (width < 2 || height < 2) return
    const source = scratch.floats(slots.unpainted, data.length)
    source.set(data)
    // A brush takes up the colour around its middle, not that of one grain.
    const blur = 0.12 * settings.size * scale
    blurPicture({ data: source, width, height }, blur, 'stretched', scratch)
    const luminance = scratch.floats(slots.luminance, width * height)
    for (let i = 0; i < luminance.length; i++) luminance[i] = luminanceAt(source, 4 * i)
    const paint = new Float32Array(3)
    const layers = Math.round(settings.layers)
    const strength = settings.strength
    const slim = 1 - settings.slim
    const vary = settings.vary
    const seed = settings.seed + 613 * Math.floor(frame / settings.hold)
    for (let layer = 0; layer < layers; layer++) {
      const size = (settings.size * scale) / 1.6 ** layer
      // A grid on the whole picture, shaken: every scale and every region paints the same strokes.
      const step = size * 0.55
      const firstRow = Math.floor((region.y - size) / step)
      const lastRow = Math.ceil((region.y + height + size) / step)
      const firstColumn = Math.floor((region.x - size) / step)
      const lastColumn = Math.ceil((region.x + width + size) / step)
      // Rows in an order of chance, so that strokes do not lie like tiles.
      for (let turn = 0; turn < 3; turn++)
        for (let row = firstRow; row <= lastRow; row++)
          for (let column = firstColumn; column <= lastColumn; column++) {
            const chance = (k: number) => hashed(column, row, seed + 100 * layer + k)
            if (Math.floor(3 * chance(1)) !== turn) continue
            const cx = (column + chance(2)) * step - region.x
            const cy = (row + chance(3)) * step - region.y
            const reach = size / 8
            const bright = (dx: number, dy: number) =>
              looks(context, sampled(luminance, width, height, cx + dx, cy + dy))
            const gx = bright(reach, 0) - bright(-reach, 0)
            const gy = bright(0, reach) - bright(0, -reach)
            // Along the edge in the picture; where there is hardly one, chance turns the stroke.
            const any = 2 * Math.PI * chance(4)
            const angle = Math.atan2(gy + 0.01 * Math.sin(any), gx + 0.01 * Math.cos(any)) + Math.PI / 2
            const play = 1 + vary * (2 * chance(5) - 1)
            const [c, s] = [Math.cos(angle), Math.sin(angle)]
            const long = size / 2
            const short = Math.max(0.7, long * slim)
            const x0 = Math.max(0, Math.floor(cx - long))
            const x1 = Math.min(width, Math.ceil(cx + long))
            const y0 = Math.max(0, Math.floor(cy - long))
            const y1 = Math.min(height, Math.ceil(cy + long))
            takePaint(source, width, height, cx, cy, paint)
            const [r, g, b] = [paint[0]! * play, paint[1]! * play, paint[2]! * play]
            for (let y = y0; y < y1; y++) {
              const dy = y + 0.5 - cy
              for (let x = x0, to = 4 * (y * width + x0); x < x1; x++, to += 4) {
                const dx = x + 0.5 - cx
                const u = (dx * c + dy * s) / long
                const v = (dy * c - dx * s) / short
                const left = 1 - u * u - v * v
                if (left <= 0) continue
                const share = left < 0.5 ? 2 * left * strength : strength
                data[to]! += (r - data[to]!) * share
                data[to + 1]! += (g - data[to + 1]!) * share
                data[to + 2]! += (b - data[to + 2]!) * share
              }
            }
          }
    }
  },
})

/** Colour of the picture at a place, bilinearly, into `out`. */
function takePaint(source: Float32Array, width: number, height: number, x: number, y: number, out: Float32Array): void {
  const gx = Math.max(0, Math.min(width - 1.001, x - 0.5))
  const gy = Math.max(0, Math.min(height - 1.001, y - 0.5))
  const [i, j] = [gx | 0, gy | 0]
  const at = 4 * (j * width + i)
  for (let c = 0; c < 3; c++) {
    const top = mix(source[at + c]!, source[at + 4 + c]!, gx - i)
    out[c] = mix(top, mix(source[at + 4 * width + c]!, source[at + 4 * width + 4 + c]!, gx - i), gy - j)
  }
}

/** The same of one number a pixel. */
function sampled(source: Float32Array, width: number, height: number, x: number, y: number): number {
  const gx = Math.max(0, Math.min(width - 1.001, x - 0.5))
  const gy = Math.max(0, Math.min(height - 1.001, y - 0.5))
  const i = gx | 0
  const j = gy | 0
  const at = j * width + i
  const top = mix(source[at]!, source[at + 1]!, gx - i)
  return mix(top, mix(source[at + width]!, source[at + width + 1]!, gx - i), gy - j)
}
