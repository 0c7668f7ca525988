import type { Rect } from '../geometry/rect.ts'
import { cloudField } from '../image/noise.ts'
import { centreOfEffect } from './place.ts'
import { choice, number, plain, seedNumber, word } from './describe.ts'
import type { EffectContext } from './kind.ts'
import { brightness, clip, ramp } from './tools.ts'

/** In which order the pixels of a picture go: what dissolving into a colour and into the next shot have in common. */
export const goingBy = {
  noise: 'noise',
  dark: 'brightness, dark first',
  bright: 'brightness, bright first',
}
export const goingSettings = {
  size: number('size', 'Flake', 'px', [2, 400, 1], 40, 'Size of the flakes of noise.'),
  soften: number('soften', 'Softness', '%', [0.005, 1, 0.005], 0.12, 'How softly it goes.'),
  rim: number('rim', 'Burning rim', '×', [0, 20, 0.1], 3, 'Light of the rim where it goes.'),
  seed: seedNumber,
}
export const goingChoice = (ways: Record<string, string>) => choice('by', 'By', ways, 'What goes first.')

/** How much of a pixel is left, 0..1, and how much of it burns. */
export interface Going {
  left: number
  burning: number
}

/**
 * Calls `each` with every pixel of `region` that has begun to go, by its number. `amount`: from 0, nothing gone, to 1, all
 * gone, softness included. `picture`: what is there, over `around`, which holds the region.
 */
export function eachGoing(
  context: EffectContext,
  by: string,
  amount: number,
  region: Rect,
  picture: { data: Float32Array; region: Rect },
  each: (pixel: number, going: Going) => void,
): void {
  const { settings, scale, scratch, size } = context
  const soft = plain(settings, goingSettings.soften)
  const gone = amount * (1 + 2 * soft) - soft
  const noise = by === 'noise' ? scratch.floats('going noise', region.width * region.height) : null
  if (noise)
    cloudField(noise, region, plain(settings, goingSettings.size) * scale, plain(settings, goingSettings.seed), 2)
  const middle = centreOfEffect(context)
  // The farthest corner goes last, wherever the middle is.
  const far = Math.hypot(Math.max(middle.x, size.width - middle.x), Math.max(middle.y, size.height - middle.y))
  const going: Going = { left: 1, burning: 0 }
  for (let y = 0, pixel = 0; y < region.height; y++)
    for (let x = 0; x < region.width; x++, pixel++) {
      let order = 0.5
      if (noise) order = ramp(0.2, 0.8, noise[pixel]!)
      else if (by === 'out') order = Math.hypot(region.x + x + 0.5 - middle.x, region.y + y + 0.5 - middle.y) / far
      else if (by !== 'evenly') {
        const at = (region.y + y - picture.region.y) * picture.region.width + region.x + x - picture.region.x
        const bright = brightness(context, picture.data, 4 * at)
        order = by === 'dark' ? bright : 1 - bright
      }
      going.left = by === 'evenly' ? 1 - clip(amount) : ramp(gone - soft, gone + soft, order)
      if (going.left === 1) continue
      going.burning = by === 'evenly' ? 0 : 4 * going.left * (1 - going.left)
      each(pixel, going)
    }
}

/** Light of the burning rim in working values. */
export const rimLight = (context: EffectContext, tint: { name: string; default: string }): number[] =>
  context.colour(word(context.settings, tint)).map((v) => v * plain(context.settings, goingSettings.rim) * 0.5)
