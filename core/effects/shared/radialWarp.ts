import type { BorderMode } from '../../pixels/buffers/border.ts'
import { warp } from '../../pixels/filters/warp.ts'
import type { EffectContext, WorkingImage } from '../effect.ts'
import { centreOfEffect } from './place.ts'
import { meshStep } from './tools.ts'

/**
 * Draws a picture anew about the middle of the effect: `from` writes where the pixel at (dx, dy) from the middle takes its
 * colour from, as a way from the middle too. `step`: full-size pixels over which it is nearly straight.
 */
export function radialWarp(
  context: EffectContext<{ edge: BorderMode }>,
  image: WorkingImage,
  from: (dx: number, dy: number, out: [number, number]) => void,
  step?: number,
): void {
  const { x: cx, y: cy } = centreOfEffect(context)
  const where = (x: number, y: number, out: [number, number]) => {
    from(x - cx, y - cy, out)
    out[0] += cx
    out[1] += cy
  }
  warp(image, { where, step: meshStep(context, step) }, context.settings.edge, context.scratch)
}
