import { describe, expect, it } from 'vitest'
import { type CutCosts, minimumCut } from './minCut.ts'

/** Numbers from a small generator (mulberry32), the same on every run. */
export function random(seed: number): () => number {
  let a = seed
  return () => {
    a = (a + 0x6d2b79f5) | 0
    let t = Math.imul(a ^ (a >>> 15), 1 | a)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
}

function randomCosts(width: number, height: number, seed: number, whole: boolean): CutCosts {
  const next = random(seed)
  const plane = (most: number) =>
    Float32Array.from({ length: width * height }, () => (whole ? Math.floor(next() * most) : next() * most))
  return {
    ...{ width, height, far: plane(10), near: plane(10) },
    ...{ right: plane(6), down: plane(6), downRight: plane(4), downLeft: plane(4) },
  }
}

function costOf({ width, height, far, near, right, down, downRight, downLeft }: CutCosts, label: ArrayLike<number>) {
  let sum = 0
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x
      sum += label[i] ? near[i]! : far[i]!
      if (x + 1 < width && label[i] !== label[i + 1]) sum += right[i]!
      if (y + 1 < height && label[i] !== label[i + width]) sum += down[i]!
      if (x + 1 < width && y + 1 < height && label[i] !== label[i + width + 1]) sum += downRight[i]!
      if (x > 0 && y + 1 < height && label[i] !== label[i + width - 1]) sum += downLeft[i]!
    }
  return sum
}

describe('the minimum cut of a grid', () => {
  it('is as cheap as the cheapest of all divisions of small grids', () => {
    for (let seed = 1; seed <= 60; seed++) {
      const costs = randomCosts(4, 3, seed, seed % 2 === 0)
      let least = Infinity
      for (let bits = 0; bits < 4096; bits++)
        least = Math.min(
          least,
          costOf(
            costs,
            Array.from({ length: 12 }, (_, i) => (bits >> i) & 1),
          ),
        )
      expect(costOf(costs, minimumCut(costs))).toBeCloseTo(least, 4)
    }
  })

  it('can not be bettered by turning any pixel or any block of a large grid over', () => {
    const costs = randomCosts(120, 90, 7, false)
    const label = minimumCut(costs)
    const least = costOf(costs, label)
    const next = random(3)
    for (let turn = 0; turn < 300; turn++) {
      const other = label.slice()
      const [x, y, w, h] = [next() * 110, next() * 80, 1 + next() * 6, 1 + next() * 6].map(Math.floor) as [
        number,
        number,
        number,
        number,
      ]
      const to = next() < 0.5 ? 1 : 0
      for (let j = y; j < Math.min(90, y + h); j++) other.fill(to, j * 120 + x, j * 120 + Math.min(120, x + w))
      expect(costOf(costs, other)).toBeGreaterThanOrEqual(least - 1e-3)
    }
  })

  it('leaves everything far where nothing asks for the near side', () => {
    const costs = randomCosts(10, 10, 1, false)
    costs.far.fill(0)
    expect(minimumCut(costs).every((side) => side === 0)).toBe(true)
  })
})
