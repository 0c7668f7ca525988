import { expect, it } from 'vitest'
import { bareContext } from '#lab/support/bareContext.ts'
import { Scratch } from '../../../pixels/buffers/scratch.ts'
import { glow } from './glow.ts'
import { renderGlow } from './render.ts'

/** Abramowitz and Stegun, Handbook of Mathematical Functions, 7.1.26, its figures from memory: off by 1.5e-7 at most. */
function erf(x: number): number {
  const t = 1 / (1 + 0.3275911 * Math.abs(x))
  const sum = ((((1.061405429 * t - 1.453152027) * t + 1.421413741) * t - 0.284496736) * t + 0.254829592) * t
  return Math.sign(x) * (1 - sum * Math.exp(-x * x))
}

// A step under a Gaussian is its integral. The step lies on a whole pixel at every scale.
it.each([
  [1, 12],
  [1, 30],
  [1, 90],
  [0.5, 30],
  [0.5, 90],
  [0.375, 90],
  [0.25, 90],
  [0.125, 90],
])(
  'at %f of the size a halo of %i px is what a Gaussian makes of a shape, up to the edge of the picture',
  (scale, far) => {
    const [width, height] = [320 * scale, 160 * scale]
    const edge = 160 * scale
    const whole = { x: 0, y: 0, width, height }
    // The shape goes on beyond the picture, to the left and above and below it.
    const beyond = 400 * scale
    const scratch = new Scratch()
    const context = bareContext(glow, {
      scratch,
      ...{ scale, size: { width, height }, blend: 'add' },
      settings: { farColour: '#ffffff', far, share: 1, core: 0 },
      region: ({ x: left, width: across, height: down }, slot) => {
        const cover = scratch.floats(slot, across * down)
        for (let i = 0; i < cover.length; i++) cover[i] = Number(left + (i % across) < edge)
        return cover
      },
      regionBounds: () => ({ x: -beyond, y: -beyond, width: beyond + edge, height: height + 2 * beyond }),
      everywhere: false,
    })
    const data = new Float32Array(4 * width * height)
    renderGlow.draw(context as never, { data, region: whole, holdout: null })
    const sigma = (far / 2) * scale
    for (const y of [0, height / 2, height - 1])
      for (let x = 0; x < width; x++) {
        const expected = 0.5 * (1 - erf((x + 0.5 - edge) / (sigma * Math.SQRT2)))
        for (let c = 0; c < 3; c++) expect(Math.abs(data[4 * (y * width + x) + c]! - expected)).toBeLessThan(0.01)
      }
  },
)
