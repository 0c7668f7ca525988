import { Slot } from '../../pixels/buffers/scratch.ts'
import { span } from '../../pixels/kernels/interface.ts'
import { resampleAffine, turnAbout } from '../../pixels/filters/warp.ts'
import { choice, number, plain, word } from '../../parameters/builders.ts'
import { aboutSomebody } from '../shared/forms.ts'
import type { EffectKind } from '../effect.ts'
import { centreOfEffect } from '../shared/place.ts'
import { radians } from '../shared/tools.ts'

const slots = { sharp: new Slot(), spinBlur: new Slot(), spinBlurBack: new Slot() }

const p = {
  way: choice('way', 'Way', { zoom: 'zoom', spin: 'spin' }, 'Away from the middle, or around it.'),
  zoom: number('zoom', 'Zoom', '%', [0, 3, 0.01], 0.25, 'How much larger the picture is at the end of the blur.'),
  spin: number('spin', 'Spin', '°', [0, 180, 1], 12, 'How far the picture turns during the blur.'),
  keep: number('keep', 'Sharp within', 'px', [0, 2000, 1], 0, 'Radius about the middle that stays sharp.'),
}

/** Each pass doubles the number of samples: 2^6 along the way. */
const passes = 6

export const spinBlur: EffectKind = {
  kind: 'spinBlur',
  title: 'Zoom and spin blur',
  summary: 'The picture streams away from a member, or whirls around it.',
  group: 'Blur',
  ...aboutSomebody,
  parameters: Object.values(p),
  sentence: (settings) => [
    { text: 'Blur by' },
    { setting: settings.way === 'spin' ? 'spin' : 'zoom' },
    { setting: 'way' },
    { text: 'about' },
    { field: 'target' },
    { field: 'region' },
    { field: 'range' },
  ],
  looks: () => Infinity,
  render(context, { data, region }) {
    const { settings, scratch, scale } = context
    const { x: cx, y: cy } = centreOfEffect(context)
    const spin = word(settings, p.way) === 'spin'
    const whole = spin ? radians(plain(settings, p.spin)) : Math.log1p(plain(settings, p.zoom))
    if (whole < 1e-5) return
    const keep = plain(settings, p.keep) * scale
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
}
