import { Slot } from '../../../pixels/buffers/scratch.ts'
import { type Affine, resampleAffine } from '../../../pixels/filters/warp.ts'
import { rendererOf } from '../../effect.ts'
import { centreOfEffect } from '../../shared/place.ts'
import { radians } from '../../shared/tools.ts'
import { mirror } from './mirror.ts'

const slots = { mirrored: new Slot() }

export const renderMirror = rendererOf(mirror, {
  sampleRadius: () => Infinity,
  draw(context, { data, region, under }) {
    const { settings, scale, scratch } = context
    const angle = radians(settings.angle)
    // Points from the line to the side that is covered.
    const [nx, ny] = [Math.cos(angle), Math.sin(angle)]
    const middle = centreOfEffect(context)
    const far = nx * middle.x + ny * middle.y + settings.shift * scale
    const map: Affine = [1 - 2 * nx * nx, -2 * nx * ny, -2 * nx * ny, 1 - 2 * ny * ny, 2 * nx * far, 2 * ny * far]
    const mirrored = scratch.floats(slots.mirrored, data.length)
    resampleAffine(under ?? { data, region }, { data: mirrored, region }, map, settings.edge, scratch)
    for (let y = 0, i = 0; y < region.height; y++)
      for (let x = 0; x < region.width; x++, i += 4) {
        if (nx * (region.x + x + 0.5) + ny * (region.y + y + 0.5) <= far) continue
        for (let c = 0; c < 4; c++) data[i + c] = mirrored[i + c]!
      }
  },
})
