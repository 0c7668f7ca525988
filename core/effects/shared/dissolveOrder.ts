import type { Rect } from '../../geometry/rect.ts'
import type { SettingsOf } from '../../parameters/builders.ts'
import type { RgbaArea } from '../../pixels/buffers/picture.ts'
import { Slot } from '../../pixels/buffers/scratch.ts'
import { luminanceAt } from '../../pixels/colour/luminance.ts'
import { quickEncoded } from '../../pixels/colour/transfer.ts'
import { cloudField } from '../../pixels/filters/noise.ts'
import { type Rgb, span } from '../../pixels/kernels/interface.ts'
import type { EffectContext } from '../effect.ts'
import { dissolveSettings } from './forms.ts'
import { centreOfEffect } from './place.ts'
import { clip } from './tools.ts'

const slots = { leftOver: new Slot() }

type Going = EffectContext<SettingsOf<typeof dissolveSettings> & { rimColour: string }>

/**
 * How much of each pixel of `region` is left, 0..1, in a buffer of the scratch. `amount`: from 0, nothing gone, to 1, all
 * gone, softness included. `picture`: what is there, over a region that holds this one.
 */
export function leftOver(context: Going, by: string, amount: number, region: Rect, picture: RgbaArea): Float32Array {
  const { settings, scale, scratch, size, light } = context
  const soft = settings.soften
  const gone = amount * (1 + 2 * soft) - soft
  const left = scratch.floats(slots.leftOver, region.width * region.height)
  // A smooth step about what is going, as a ramp of u = (order - low) / span.
  const [low, over] = [gone - soft, 2 * soft]
  const step = (order: number): number => {
    const u = (order - low) / over
    return u <= 0 ? 0 : u >= 1 ? 1 : u * u * (3 - 2 * u)
  }
  if (by === 'evenly') left.fill(1 - clip(amount))
  else if (by === 'noise') {
    cloudField(left, region, {
      size: settings.size * scale,
      seed: settings.seed,
      octaves: 2,
    })
    // Clouds lie about a half: spread to all of the way.
    scratch.kernels.stepNumbers(span(left), left.length, { from: 0.2, ramp: 0.6, low, span: over })
  } else if (by === 'out') {
    const middle = centreOfEffect(context)
    // The farthest corner goes last, wherever the middle is.
    const far = Math.hypot(Math.max(middle.x, size.width - middle.x), Math.max(middle.y, size.height - middle.y))
    for (let y = 0, i = 0; y < region.height; y++) {
      const dy = region.y + y + 0.5 - middle.y
      for (let x = 0; x < region.width; x++, i++) {
        const dx = region.x + x + 0.5 - middle.x
        left[i] = step(Math.sqrt(dx * dx + dy * dy) / far)
      }
    }
  } else
    for (let y = 0, i = 0; y < region.height; y++) {
      let at = 4 * ((region.y + y - picture.region.y) * picture.region.width + region.x - picture.region.x)
      for (let x = 0; x < region.width; x++, i++, at += 4) {
        const v = luminanceAt(picture.data, at)
        const bright = clip(light === 'linear' ? quickEncoded(v) : v)
        left[i] = step(by === 'dark' ? bright : 1 - bright)
      }
    }
  return left
}

/** Light of the burning rim in working values. */
export const rimLight = ({ settings, colour }: Going): Rgb => {
  const [r, g, b] = colour(settings.rimColour)
  const strong = settings.rim * 0.5
  return [r * strong, g * strong, b * strong]
}
