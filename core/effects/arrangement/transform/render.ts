import { Slot } from '../../../pixels/buffers/scratch.ts'
import { movedFirst, resampleAffine, turnAbout } from '../../../pixels/filters/warp.ts'
import { span } from '../../../pixels/kernels/interface.ts'
import { rendererOf } from '../../effect.ts'
import { centreOfEffect, wholePicture } from '../../shared/place.ts'
import { radians } from '../../shared/tools.ts'
import { transform } from './transform.ts'

const slots = { layerCover: new Slot(), movedLayer: new Slot(), layerWhereItWent: new Slot() }

export const renderTransform = rendererOf(transform, {
  bounds: wholePicture,
  sampleRadius: () => Infinity,
  draw(context, { data, region }) {
    const { settings, scale, scratch } = context
    const cover = context.region(region, slots.layerCover)
    const layer = scratch.floats(slots.movedLayer, data.length, true)
    scratch.kernels.layRow(true, span(data), span(layer), cover.length, 1, span(cover))
    if (settings.behind === 'black')
      for (let i = 0; i < cover.length; i++) if (cover[i]) for (let c = 0; c < 3; c++) data[4 * i + c]! *= 1 - cover[i]!
    const { x: cx, y: cy } = centreOfEffect(context)
    const angle = radians(settings.turn)
    const [shiftX, shiftY] = [settings.x * scale, settings.y * scale]
    const back = turnAbout(cx, cy, -angle, 1 / settings.size)
    const moved = scratch.floats(slots.layerWhereItWent, data.length)
    resampleAffine(
      { data: layer, region },
      { data: moved, region },
      movedFirst(back, -shiftX, -shiftY),
      'nothing',
      scratch,
    )
    scratch.kernels.layRow(true, span(moved), span(data), cover.length, 1, null)
  },
})
