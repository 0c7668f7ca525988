import { noise1 } from '../../../pixels/filters/noise.ts'
import { type Affine, movedFirst, turnAbout, warpAffine } from '../../../pixels/filters/warp.ts'
import { type ContextOf, rendererOf } from '../../effect.ts'
import { radians } from '../../shared/tools.ts'
import { affineShading } from '../../shared/warpShading.ts'
import { shake } from './shake.ts'

export const renderShake = rendererOf(shake, {
  sampleRadius: () => Infinity,
  redraws: true,
  draw(context, image) {
    warpAffine(image, mapOf(context), context.settings.edge, context.scratch)
  },
  shade: (context) => affineShading(mapOf(context), context.settings.edge),
})

/** Where pixels take their colour from at the frame. */
function mapOf({ settings, scale, frame, since, size }: ContextOf<typeof shake>): Affine {
  const falloff = settings.falloff
  const left = falloff > 0 ? Math.exp((-3 * Math.max(0, since)) / falloff) : 1
  const seed = settings.seed
  const time = frame * settings.rate
  const chance = (k: number) => 2 * noise1(time, seed + 1000 * k) - 1
  const shiftX = chance(1) * settings.amount * scale * left
  const shiftY = chance(2) * settings.amount * scale * left
  const angle = radians(chance(3) * settings.turn * left)
  const zoom = 1 / (1 + Math.abs(chance(4)) * settings.zoom * left)
  const [cx, cy] = [size.width / 2, size.height / 2]
  const back = turnAbout(cx, cy, -angle, zoom)
  return movedFirst(back, -shiftX, -shiftY)
}
