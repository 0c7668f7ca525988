import { expect, it } from 'vitest'
import { bareContext } from '#lab/support/bareContext.ts'
import type { Rect } from '../../../geometry/rect.ts'
import type { Settings } from '../../../parameters/parameters.ts'
import { Scratch } from '../../../pixels/buffers/scratch.ts'
import { outlineLine } from './outlineLine.ts'
import { renderOutlineLine } from './render.ts'

const region: Rect = { x: 0, y: 0, width: 320, height: 180 }

/** The colour of a line of 12 px around a disc of 50 px in the middle of the picture, at `far` px from its middle towards an angle. */
function drawn(settings: Settings) {
  const scratch = new Scratch()
  const context = bareContext(outlineLine, {
    settings: { width: 12, tint: '#ff0000', second: '#0000ff', ...settings },
    everywhere: false,
    scratch,
    regionBounds: () => ({ x: 110, y: 40, width: 100, height: 100 }),
    region(rect, slot) {
      const cover = scratch.floats(slot, rect.width * rect.height)
      for (let y = 0, i = 0; y < rect.height; y++)
        for (let x = 0; x < rect.width; x++, i++) {
          const far = Math.hypot(rect.x + x + 0.5 - 160, rect.y + y + 0.5 - 90)
          cover[i] = Math.max(0, Math.min(1, 50.5 - far))
        }
      return cover
    },
  })
  const data = new Float32Array(4 * region.width * region.height)
  renderOutlineLine.draw(context, { data, region, holdout: null })
  return (far: number, degrees: number): number[] => {
    const turn = (degrees * Math.PI) / 180
    const [x, y] = [Math.floor(160 + far * Math.cos(turn)), Math.floor(90 + far * Math.sin(turn))]
    const at = 4 * (y * region.width + x)
    return [...data.subarray(at, at + 4)].map((v) => Math.round(20 * v) / 20)
  }
}

it('has one colour all the way unless it is told otherwise', () => {
  const at = drawn({})
  for (const degrees of [-90, 0, 45, 180]) expect(at(50, degrees)).toEqual([1, 0, 0, 1])
  expect(at(60, 0)).toEqual([0, 0, 0, 0])
})
it('turns into the second one outwards, over any number of others', () => {
  const at = drawn({ runs: 'across', between: [{ at: 0.5, colour: '#00ff00' }] })
  for (const degrees of [-90, 30, 180]) {
    const [inner, middle, outer] = [at(45.5, degrees), at(50, degrees), at(54.5, degrees)]
    expect(inner[0]).toBeGreaterThan(0.6)
    expect(middle[1]).toBeGreaterThan(0.8)
    expect(outer[2]).toBeGreaterThan(0.6)
  }
})
it('turns into it from where the angle says to the opposite side, both ways alike and without a seam', () => {
  const at = drawn({ runs: 'around', angle: -90 })
  expect(at(50, -90)).toEqual([1, 0, 0, 1])
  expect(at(50, 90)).toEqual([0, 0, 1, 1])
  expect(at(50, 0)).toEqual([0.5, 0, 0.5, 1])
  expect(at(50, 180)).toEqual(at(50, 0))
  expect(at(50, 89)).toEqual(at(50, 91))
})
