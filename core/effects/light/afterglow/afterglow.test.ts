import { bareContext } from '#lab/support/bareContext.ts'
import { describe, expect, it } from 'vitest'
import type { Settings } from '../../../parameters/parameters.ts'
import type { TracedPart } from '../../../shapes/traced.ts'
import { afterglow } from './afterglow.ts'
import { renderAfterglow } from './render.ts'

/** An upright rod that goes 8 px to the right on every frame, at 100 on frame 0. */
const rod: TracedPart = {
  ...{ id: 'rod', kind: 'rod', role: 'add', settings: { widthHeel: 8, widthTip: 8 } },
  at: (time) => [100 + 8 * time, 150, 100 + 8 * time, 30],
}

/** The trail on nothing on frame 10, and its red and blue along the row in the middle, in pixels of the full size. */
function trail(settings: Settings, scale = 1) {
  const [width, height] = [320 * scale, 180 * scale]
  const context = bareContext(afterglow, {
    ...{ parts: [rod], frame: 10, scale, size: { width, height } },
    settings: { young: '#ff0000', old: '#0000ff', length: 10, fade: 1, breakup: 0, ...settings },
  })
  const region = { x: 0, y: 0, width, height }
  const data = new Float32Array(4 * width * height)
  renderAfterglow.draw(context, { data, region, holdout: null })
  const at = (x: number) => 4 * (Math.floor(90 * scale) * width + Math.floor(x * scale))
  return { red: (x: number) => data[at(x)]!, blue: (x: number) => data[at(x) + 2]! }
}

describe('an afterglow', () => {
  it.each([0, 10, 40])('turns its colour steadily from its young end to its old one, softened by %s px', (soften) => {
    const { red, blue } = trail({ soften })
    let before = NaN
    let [first, last] = [NaN, NaN]
    for (let x = 0; x < 320; x++) {
      const light = red(x) + blue(x)
      if (light < 0.01) continue
      const share = red(x) / light
      // A frame is 8 px, a tenth of the way: no pixel goes further, not at the rims either.
      if (!Number.isNaN(before)) expect(Math.abs(share - before), `at ${x}`).toBeLessThan(0.1)
      before = share
      if (Number.isNaN(first)) first = share
      last = share
    }
    expect(first).toBeLessThan(0.25)
    expect(last).toBeGreaterThan(0.75)
  })
  it('fades with its age, and is there on no frame before it', () => {
    const { red, blue } = trail({ soften: 10 })
    const light = (x: number) => red(x) + blue(x)
    expect(light(170)).toBeGreaterThan(light(140))
    expect(light(140)).toBeGreaterThan(light(110))
    expect(light(220)).toBe(0)
    // Its width at half of the light that stands over it: a line of 80 px, softened, ends where it began.
    expect(light(60)).toBe(0)
  })
  it('worked out in cells of some pixels it is what it is pixel by pixel', () => {
    // A quarter of the size has cells of one pixel.
    const [whole, small] = [trail({ soften: 40 }), trail({ soften: 40 }, 0.25)]
    for (let x = 60; x < 240; x += 8)
      for (const channel of ['red', 'blue'] as const) {
        // The middle of the small pixel lies between two of the large ones.
        const there = (whole[channel](x + 1) + whole[channel](x + 2)) / 2
        expect(Math.abs(there - small[channel](x)), `${channel} at ${x}`).toBeLessThan(0.01)
      }
  })
})
