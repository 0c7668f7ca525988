import { rendererOf } from '../../effect.ts'
import { centreOfEffect, wholePicture } from '../../shared/place.ts'
import { along, colourWay } from '../../shared/stops.ts'
import { fill } from './fill.ts'

export const renderFill = rendererOf(fill, {
  bounds: wholePicture,
  draw(context, { data, region }) {
    const { settings, size } = context
    const gain = settings.light
    const [a, b, c, d] = [settings.first, settings.second, settings.third, settings.fourth].map((hex) =>
      context.colour(hex).map((v) => v * gain),
    ) as [number[], number[], number[], number[]]
    const form = settings.form
    if (form === 'one') {
      data.set([...a, 1])
      // Doubled until all is filled: copying is faster than writing pixel by pixel.
      for (let done = 4; done < data.length; done *= 2) data.copyWithin(done, 0, Math.min(done, data.length - done))
      return
    }
    const way = colourWay(context, settings.first, settings.between, settings.second)
    const centre = centreOfEffect(context)
    const length = Math.max(1, settings.size * size.height)
    const angle = (settings.angle * Math.PI) / 180
    const [ux, uy] = [Math.cos(angle) / length, Math.sin(angle) / length]
    const clip = (v: number) => (v < 0 ? 0 : v > 1 ? 1 : v)
    for (let y = 0, i = 0; y < region.height; y++)
      for (let x = 0; x < region.width; x++, i += 4) {
        const px = region.x + x + 0.5
        const py = region.y + y + 0.5
        const u =
          form === 'line'
            ? clip(0.5 + (px - centre.x) * ux + (py - centre.y) * uy)
            : form === 'round'
              ? clip((2 * Math.hypot(px - centre.x, py - centre.y)) / length)
              : form === 'corners'
                ? clip(px / size.width)
                : 0
        const v = form === 'corners' ? clip(py / size.height) : 0
        for (let k = 0; k < 3; k++) {
          if (form !== 'corners') {
            data[i + k] = along(way, u, k) * gain
            continue
          }
          const top = a[k]! + (b[k]! - a[k]!) * u
          data[i + k] = top + (c[k]! + (d[k]! - c[k]!) * u - top) * v
        }
        data[i + 3] = 1
      }
  },
})
