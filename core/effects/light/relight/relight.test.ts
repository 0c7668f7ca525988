import { describe, expect, it } from 'vitest'
import { bareContext } from '#lab/support/bareContext.ts'
import type { Settings } from '../../../parameters/parameters.ts'
import type { Slot } from '../../../pixels/buffers/scratch.ts'
import { Scratch } from '../../../pixels/buffers/scratch.ts'
import type { Rect } from '../../../geometry/rect.ts'
import { relight } from './relight.ts'
import { renderRelight } from './render.ts'

const size = { width: 320, height: 180 }
/** A disc around the middle of the picture, with an edge of a pixel. */
const disc = (radius: number) => (rect: Rect, scratch: Scratch, slot: Slot) => {
  const cover = scratch.floats(slot, rect.width * rect.height)
  for (let y = 0, i = 0; y < rect.height; y++)
    for (let x = 0; x < rect.width; x++, i++) {
      const far = Math.hypot(rect.x + x + 0.5 - 160, rect.y + y + 0.5 - 90)
      cover[i] = Math.max(0, Math.min(1, radius + 0.5 - far))
    }
  return cover
}
/** By how much light a grey picture gets brighter at a place: the lamp is white and stands at the middle unless told. */
function lit(settings: Settings, radius = 1000) {
  const scratch = new Scratch()
  const context = bareContext(relight, {
    settings: { tint: '#ffffff', ...settings },
    ...{ scratch, everywhere: false, region: (rect, slot) => disc(radius)(rect, scratch, slot) },
  })
  const data = new Float32Array(4 * size.width * size.height).fill(0.2)
  renderRelight.draw(context, { data, region: { x: 0, y: 0, ...size }, holdout: null })
  return (x: number, y: number) => data[4 * (y * size.width + x)]! / 0.2
}

describe('a lamp in the picture', () => {
  it('lights a flat wall by the cosine of where it falls from and the square of its distance (Lambert 1760)', () => {
    const at = lit({ strength: 1, before: 100, reach: 100, relief: 0 })
    // At its foot half is left of one stop more; as far aside as it hangs before, a third of it at 45 degrees.
    expect(at(160, 90)).toBeCloseTo(1.5, 2)
    expect(at(260, 90)).toBeCloseTo(1 + Math.SQRT1_2 / 3, 2)
    // Behind the wall it lights nothing of it.
    expect(lit({ strength: 1, before: -100, reach: 100, relief: 0 })(160, 90)).toBeCloseTo(1, 6)
  })
  it('brightens the side that is turned to it, more than the one that is turned away', () => {
    const settings = { strength: 2, before: 20, reach: 4000, round: 30, x: -120 }
    const [left, right] = [lit(settings, 50), lit({ ...settings, x: 120 }, 50)]
    const [near, far] = [left(114, 90), left(206, 90)]
    expect(near).toBeGreaterThan(2)
    expect(far).toBeCloseTo(1, 2)
    // The middle of a body is flat: little of what comes from the side falls on it.
    expect(left(160, 90)).toBeGreaterThan(far)
    expect(left(160, 90)).toBeLessThan(near)
    // From the other side it is the same, mirrored.
    expect(right(205, 90)).toBeCloseTo(near, 1)
    expect(right(113, 90)).toBeCloseTo(far, 2)
  })
  it('lights the rim alone from behind, and takes light from what is turned away', () => {
    const behind = lit({ strength: 2, before: -40, reach: 4000, round: 30, x: -120 }, 50)
    expect(behind(112, 90)).toBeGreaterThan(1.5)
    expect(behind(160, 90)).toBeCloseTo(1, 6)
    const shaded = lit({ strength: 0, shade: 0.6, before: 0, reach: 4000, round: 30, x: -120 }, 50)
    expect(shaded(206, 90)).toBeCloseTo(0.4, 2)
    expect(shaded(114, 90)).toBeGreaterThan(0.7)
  })
})
