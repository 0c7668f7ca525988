import { describe, expect, it } from 'vitest'
import { Chance } from '#lab/support/chance.ts'
import { bestWay, type Candidate, changeCosts, lengthCosts } from './path.ts'
import { motionBetween, type RodPose } from './pose.ts'

const at = (hx: number, hy: number, angle = 0, length = 80): RodPose => ({ hx, hy, angle, length })

/** What a whole way is worth, added up frame by frame. */
function worth(way: readonly Candidate[], costOfLength: Parameters<typeof bestWay>[1]): number {
  let sum = 0
  way.forEach(({ own, pose }, f) => {
    sum += own
    if (f > 0) sum -= costOfLength(f, pose.length, way[f - 1]!.pose.length)
    if (f > 1) {
      const [a, b] = [way[f - 2]!.pose, way[f - 1]!.pose]
      sum -= changeCosts(motionBetween(a, b), motionBetween(b, pose), b)
    }
  })
  return sum
}

/** Every way there is. */
const everyWay = (frames: readonly (readonly Candidate[])[]): Candidate[][] =>
  frames.reduce<Candidate[][]>((ways, list) => ways.flatMap((way) => list.map((one) => [...way, one])), [[]])

describe('the best way through candidates', () => {
  const costOfLength = (_: number, length: number, before: number) => lengthCosts(length, before, 80, true)
  it('is worth as much as the best of all ways that there are', () => {
    for (let seed = 1; seed < 30; seed++) {
      const chance = new Chance(seed)
      const random = () => chance.between(0, 1)
      const frames = Array.from({ length: 6 }, () =>
        Array.from({ length: 1 + Math.floor(4 * random()) }, () => ({
          pose: at(100 * random(), 100 * random(), 6 * random(), 60 + 40 * random()),
          own: random(),
        })),
      )
      const chosen = bestWay(frames, costOfLength).map((k, f) => frames[f]![k]!)
      const best = Math.max(...everyWay(frames).map((way) => worth(way, costOfLength)))
      expect(worth(chosen, costOfLength)).toBeCloseTo(best, 9)
    }
  })
  it('goes on evenly past a frame where something else looks more like it', () => {
    const even = Array.from({ length: 24 }, (_, f) => [{ pose: at(10 * f, 50), own: 0.7 }])
    const frames = even.map((list, f) => (f === 3 ? [...list, { pose: at(160, 20), own: 0.95 }] : list))
    expect(bestWay(frames, costOfLength)).toEqual(frames.map(() => 0))
    // Where it stays there, it is believed.
    const jumped = even.map((list, f) => (f < 3 ? list : [...list, { pose: at(130 + 10 * f, 20), own: 0.95 }]))
    expect(bestWay(jumped, costOfLength).slice(-3)).toEqual([1, 1, 1])
  })
  it('of one frame, and of two, is what they show best', () => {
    const list = [0.2, 0.9, 0.5].map((own, i) => ({ pose: at(i, 0), own }))
    expect(bestWay([list], costOfLength)).toEqual([1])
    expect(bestWay([list, list], costOfLength)).toEqual([1, 1])
  })
})

describe('what changes cost', () => {
  it('is nothing for an even motion, and grows slowly with what changes', () => {
    const even = { hx: 5, hy: 2, angle: 0.1, length: 0 }
    expect(changeCosts(even, even, at(0, 0))).toBe(0)
    const costs = [1, 2, 4, 8, 16].map((by) => changeCosts(even, { ...even, hx: 5 + by }, at(0, 0)))
    for (let i = 1; i < costs.length; i++) expect(costs[i]!).toBeGreaterThan(costs[i - 1]!)
    // A sudden stop costs less than the square of a slow one: hands stop dead.
    expect(costs[4]! / costs[2]!).toBeLessThan(16)
  })
  it('of a length: a stiff rod pays more for it than one that comes towards the camera', () => {
    expect(lengthCosts(80, 80, 80, false)).toBe(0)
    expect(lengthCosts(70, 71, 80, false)).toBeGreaterThan(2 * lengthCosts(70, 71, 80, true))
  })
})
