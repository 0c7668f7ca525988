import { describe, expect, it } from 'vitest'
import { bareContext } from '#lab/support/bareContext.ts'
import type { Settings } from '../../../parameters/parameters.ts'
import type { TracedPart } from '../../../shapes/traced.ts'
import { droplets } from './droplets.ts'
import { addDrop, renderDroplets, surface } from './render.ts'

const size = { width: 320, height: 180 }
const oval = (x: number, y: number, r: number): TracedPart => ({
  ...{ id: 'p', kind: 'oval', settings: {}, role: 'add' },
  at: () => [x, y, x + r, y, x, y + r],
})
const still: Settings = {
  speed: 0,
  inherit: 0,
  gravity: 0,
  drag: 0,
  shine: 0,
  shade: 0,
  grow: 1,
  size: 30,
  rate: 1,
  life: 60,
}
/** What of a picture whose brightness tells its place is seen through drops: red tells across, green down. */
function through(settings: Settings, frame: number, parts = [oval(160, 90, 2)]) {
  const context = bareContext(droplets, { settings: { ...still, ...settings }, parts, frame })
  const data = new Float32Array(4 * size.width * size.height)
  for (let i = 0; i < data.length; i += 4)
    data.set([((i / 4) % size.width) / 400, Math.floor(i / 4 / size.width) / 400, 0.3, 1], i)
  const before = data.slice()
  const region = { x: 0, y: 0, ...size }
  renderDroplets.draw(context, { data, region, holdout: null, under: { data: before, region } })
  const changed = new Set<number>()
  for (let i = 0; i < data.length; i++) if (Math.abs(data[i]! - before[i]!) > 1e-6) changed.add(i >> 2)
  const bounds = renderDroplets.bounds!(context)
  return { data, before, changed, bounds }
}
const at = (x: number, y: number) => y * size.width + x

describe('drops of the picture', () => {
  it('show what lies farther out than they are, most at their edge, and change nothing outside', () => {
    const { data, changed, bounds } = through({}, 30)
    expect(changed.size).toBeGreaterThan(600)
    for (const pixel of changed) {
      const [x, y] = [pixel % size.width, Math.floor(pixel / size.width)]
      expect(x >= bounds.x && x < bounds.x + bounds.width && y >= bounds.y && y < bounds.y + bounds.height).toBe(true)
    }
    const row = [...changed].filter((pixel) => Math.floor(pixel / size.width) === 90).map((pixel) => pixel % size.width)
    const [left, right] = [Math.min(...row), Math.max(...row)]
    // At the right of its middle a drop shows what lies still farther to the right.
    const shift = (x: number) => 400 * data[4 * at(x, 90)]! - x
    expect(shift(right - 3)).toBeGreaterThan(3)
    expect(shift(left + 3)).toBeLessThan(-3)
    expect(Math.abs(shift(right - 3))).toBeGreaterThan(Math.abs(shift(Math.round((left + 3 * right) / 4))))
  })
  it('are as large as they are told, and run together where they nearly meet', () => {
    const region = { x: 100, y: 50, width: 120, height: 60 }
    const fieldOf = (...places: number[]) => {
      const field = new Float32Array(4 * region.width * region.height)
      for (const x of places) addDrop(field, region, { x, y: 80.5, radius: 20, share: 1 })
      return (x: number) => field[4 * (30 * region.width + x - region.x)]!
    }
    const one = fieldOf(150.5)
    expect(one(150)).toBeCloseTo(1, 5)
    // Its surface lies its size away from its middle.
    expect(one(170)).toBeCloseTo(surface, 3)
    // Two whose surfaces are three pixels apart are one.
    expect(one(171)).toBeLessThan(surface)
    expect(fieldOf(150.5, 193.5)(172)).toBeGreaterThan(surface)
    expect(fieldOf(150.5, 215.5)(183)).toBeLessThan(surface)
  })
  it('are the same whatever was looked at before, and others by another seed', () => {
    const [first, again, other] = [
      through({ speed: 6 }, 20),
      through({ speed: 6 }, 20),
      through({ speed: 6, seed: 9 }, 20),
    ]
    expect(again.data).toEqual(first.data)
    expect(other.data).not.toEqual(first.data)
  })
  it('bend nothing where they are told so, and are gone once they have burst', () => {
    expect(through({ bend: 0 }, 30).changed.size).toBe(0)
    expect(through({ rate: 0 }, 30).changed.size).toBe(0)
  })
})
