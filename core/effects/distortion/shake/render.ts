import { noise1 } from '../../../pixels/filters/noise.ts'
import { movedFirst, turnAbout, warpAffine } from '../../../pixels/filters/warp.ts'
import { rendererOf } from '../../effect.ts'
import { radians } from '../../shared/tools.ts'
import { shake } from './shake.ts'

export const renderShake = rendererOf(shake, {
  sampleRadius: () => Infinity,
  redraws: true,
  draw({ settings, scale, scratch, frame, since, size }, image) {
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
    const map = movedFirst(back, -shiftX, -shiftY)
    warpAffine(image, map, settings.edge, scratch)
  },
})
