import { Slot } from '../../../pixels/buffers/scratch.ts'
import { resampleAffine, turnAbout } from '../../../pixels/filters/warp.ts'
import { span } from '../../../pixels/kernels/interface.ts'
import { rendererOf } from '../../effect.ts'
import { centreOfEffect } from '../../shared/place.ts'
import { radians } from '../../shared/tools.ts'
import { spinBlur } from './spinBlur.ts'

const slots = { sharp: new Slot(), spinBlur: new Slot(), spinBlurBack: new Slot() }

/** Each pass doubles the number of samples: 2^6 along the way. */
const passes = 6

export const renderSpinBlur = rendererOf(spinBlur, {
  sampleRadius: () => Infinity,
  draw(context, { data, region }) {
    const { settings, scratch, scale } = context
    const { x: cx, y: cy } = centreOfEffect(context)
    const spin = settings.way === 'spin'
    const whole = spin ? radians(settings.spin) : Math.log1p(settings.zoom)
    if (whole < 1e-5) return
    const keep = settings.keep * scale
    const sharp = keep > 0 ? scratch.floats(slots.sharp, data.length) : null
    sharp?.set(data)
    let from = data
    let to = scratch.floats(slots.spinBlur, data.length)
    for (let k = 0; k < passes; k++) {
      // The mean of a picture and itself moved by half, a quarter, an eighth ... of the way.
      const step = whole / 2 ** (k + 1)
      if (spin) {
        const other = scratch.floats(slots.spinBlurBack, data.length)
        resampleAffine(
          { data: from, region },
          { data: to, region },
          turnAbout(cx, cy, step / 2, 1),
          'mirrored',
          scratch,
        )
        resampleAffine(
          { data: from, region },
          { data: other, region },
          turnAbout(cx, cy, -step / 2, 1),
          'mirrored',
          scratch,
        )
        scratch.kernels.mixInto(span(other), span(to), to.length, 0.5)
      } else {
        resampleAffine(
          { data: from, region },
          { data: to, region },
          turnAbout(cx, cy, 0, Math.exp(-step)),
          'mirrored',
          scratch,
        )
        scratch.kernels.mixInto(span(from), span(to), to.length, 0.5)
      }
      ;[from, to] = [to, from]
    }
    if (from !== data) data.set(from)
    if (sharp)
      for (let y = 0, i = 0; y < region.height; y++)
        for (let x = 0; x < region.width; x++, i += 4) {
          const r = Math.hypot(region.x + x + 0.5 - cx, region.y + y + 0.5 - cy)
          const share = Math.max(0, Math.min(1, (1.5 * keep - r) / (0.5 * keep)))
          if (share) for (let c = 0; c < 4; c++) data[i + c]! += (sharp[i + c]! - data[i + c]!) * share
        }
  },
})
