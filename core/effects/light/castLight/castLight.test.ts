import { bareContext } from '#lab/support/bareContext.ts'
import { describe, expect, it } from 'vitest'
import type { Settings } from '../../../parameters/parameters.ts'
import { settingsAt } from '../../../parameters/values.ts'
import { linearColour } from '../../../pixels/colour/transfer.ts'
import type { TracedPart } from '../../../shapes/traced.ts'
import { blade } from '../blade/blade.ts'
import { castLight } from './castLight.ts'
import { renderCastLight } from './render.ts'

const region = { x: 0, y: 0, width: 320, height: 180 }
/** A rod from (100, 90) to (220, 90). */
const rod: TracedPart = {
  ...{ id: 'rod', kind: 'rod', role: 'add', settings: {} },
  at: () => [100, 90, 220, 90],
}
/** Grey after the light has fallen on it, where blades are on the prop with the given settings and opacities. */
function lit(blades: [settings: Settings, opacity: number][], own: Settings = {}) {
  const context = bareContext(castLight, {
    parts: [rod],
    settings: { strength: 1, distance: 40, haze: 0, ...own },
    cardsThere: (kind) =>
      kind === 'blade'
        ? blades.map(([settings, opacity]) => ({
            settings: settingsAt(blade.parameters, { flicker: 0, ...settings }, 0),
            opacity,
          }))
        : [],
  })
  const data = new Float32Array(region.width * region.height * 4).fill(0.2)
  const bounds = renderCastLight.bounds!(context)
  if (bounds.width) renderCastLight.draw(context, { data, region, holdout: null })
  return {
    bounds,
    at: (x: number, y: number) =>
      [...data.subarray((y * region.width + x) * 4, (y * region.width + x) * 4 + 3)] as [number, number, number],
  }
}
const gain = (rgb: number[]) => rgb.map((v) => v - 0.2) as [number, number, number]

describe('cast light as a blade burns', () => {
  it('has the colour of the blade, not its own', () => {
    const [r, g, b] = gain(lit([[{ outside: '#ff8000' }, 1]], { tint: '#0000ff' }).at(160, 80)) as [
      number,
      number,
      number,
    ]
    const orange = linearColour('#ff8000')
    expect(b).toBeCloseTo(0, 6)
    expect(g / r).toBeCloseTo(orange[1] / orange[0], 4)
  })
  it('is as strong as the blade is, fading with its card', () => {
    const [full] = gain(lit([[{ outside: '#ffffff' }, 1]]).at(160, 80))
    const [half] = gain(lit([[{ outside: '#ffffff', strength: 0.5 }, 1]]).at(160, 80))
    const [faded] = gain(lit([[{ outside: '#ffffff' }, 0.25]]).at(160, 80))
    expect(half / full).toBeCloseTo(0.5, 4)
    expect(faded / full).toBeCloseTo(0.25, 4)
  })
  it('comes from as much of the rod as is lit', () => {
    const whole = lit([[{ outside: '#ffffff' }, 1]])
    const third = lit([[{ outside: '#ffffff', lit: 1 / 3 }, 1]])
    expect(third.at(110, 80)[0]).toBeCloseTo(whole.at(110, 80)[0], 4)
    expect(third.at(215, 80)[0]).toBeLessThan(0.2 + 0.4 * (whole.at(215, 80)[0] - 0.2))
  })
  it('is none where the blade is not lit yet, is out, or its range is over', () => {
    for (const [settings, opacity] of [
      [{ lit: 0 }, 1],
      [{ strength: 0 }, 1],
      [{}, 0],
    ] as [Settings, number][])
      expect(lit([[settings, opacity]]).bounds.width).toBe(0)
  })
  it('is of its own colour where there is no blade, or where that is wanted', () => {
    for (const light of [lit([], { tint: '#00ff00' }), lit([[{ lit: 0 }, 1]], { tint: '#00ff00', source: 'own' })]) {
      const [r, g] = gain(light.at(160, 80))
      expect(r).toBeCloseTo(0, 6)
      expect(g).toBeGreaterThan(0.01)
    }
  })
})
