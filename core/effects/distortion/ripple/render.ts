import { cloudsFrom } from '../../../pixels/filters/noise.ts'
import { warp } from '../../../pixels/filters/warp.ts'
import { rendererOf } from '../../effect.ts'
import { centreOfEffect } from '../../shared/place.ts'
import { meshStep } from '../../shared/tools.ts'
import { ripple } from './ripple.ts'

export const renderRipple = rendererOf(ripple, {
  sampleRadius: ({ settings, scale }) => settings.amount * scale + 2,
  redraws: true,
  draw(context, image) {
    const { settings, scale, scratch, frame } = context
    const { x: cx, y: cy } = centreOfEffect(context)
    const amount = settings.amount * scale
    const size = settings.size * scale
    const run = (settings.speed * scale * frame) / size
    const form = settings.form
    const radius = settings.radius * scale
    const [across, down] = [cloudsFrom(settings.seed, 2), cloudsFrom(settings.seed + 500, 2)]
    warp(
      image,
      {
        where: (x, y, out) => {
          if (form === 'rings') {
            const [dx, dy] = [x - cx, y - cy]
            const r = Math.sqrt(dx * dx + dy * dy)
            const fall = r < radius ? 1 - r / radius : 0
            const push = r > 0 ? (amount * fall * Math.sin(2 * Math.PI * (r / size - run))) / r : 0
            out[0] = x + dx * push
            out[1] = y + dy * push
          } else if (form === 'waves') {
            out[0] = x + amount * Math.sin(2 * Math.PI * (y / size - run))
            out[1] = y + amount * 0.4 * Math.sin(2 * Math.PI * (x / size / 1.7 - run))
          } else {
            const [nx, ny] = [x / size, y / size / 1.6 + run]
            out[0] = x + amount * 2 * (across(nx, ny) - 0.5)
            out[1] = y + amount * (down(nx, ny) - 0.5)
          }
        },
        step: meshStep(context, settings.size >= 64 ? 8 : settings.size / 12),
      },
      settings.edge,
      scratch,
    )
  },
})
