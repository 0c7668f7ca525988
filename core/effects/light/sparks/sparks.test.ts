import { expect, it } from 'vitest'
import { flashAt } from '../flash/render.ts'
import { flight } from '../../shared/fliers.ts'

it('a spark flies as the equation of motion says: gravity, and a drag in proportion to its speed', () => {
  for (const drag of [0, 0.08, 0.4]) {
    let [x, y, vx, vy] = [3, 7, 9, -12]
    const start = { x, y, vx, vy }
    // Midpoint steps of the differential equation, small enough to be exact to a hundredth of a pixel.
    const h = 1e-3
    for (let i = 0; i < 20 / h; i++) {
      const [mx, my] = [vx - (drag * vx * h) / 2, vy + ((0.5 - drag * vy) * h) / 2]
      x += mx * h
      y += my * h
      vx -= drag * mx * h
      vy += (0.5 - drag * my) * h
    }
    const at = flight(start, 20, 0.5, drag)
    expect(at.x).toBeCloseTo(x, 1)
    expect(at.y).toBeCloseTo(y, 1)
  }
})

it('a flash: nothing one frame before, full on the contact, gone two frames later (common practice, no source)', () => {
  expect([-1, -0.01, 0, 1, 2, 3].map((age) => flashAt(age, 2))).toEqual([0, 0, 1, 0.5, 0, 0])
})
