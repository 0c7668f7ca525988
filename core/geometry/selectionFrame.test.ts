import { describe, expect, it } from 'vitest'
import { openCv } from '#lab/support/openCv.ts'
import { snapToEdge } from '../pixels/filters/edgeSnap.ts'
import { frameAround, frameMap, gripPlace } from './selectionFrame.ts'
import { bestSimilarity, inverse, moved, power } from './similarity.ts'

const box = frameAround([0, 0, 100, 0, 100, 50, 0, 50], null)!
const centre = { x: 50, y: 25 }

describe('the frame around chosen points', () => {
  it('stands around them with its pivot in the middle, unless it was put elsewhere', () => {
    expect(box).toEqual({ left: 0, top: 0, right: 100, bottom: 50, pivotX: 50, pivotY: 25 })
    expect(frameAround([0, 0, 10, 10], { x: 3, y: 4 })).toMatchObject({ pivotX: 3, pivotY: 4 })
    expect(frameAround([5, 5], null)).toBeNull()
    expect(gripPlace(box, { u: 1, v: 0.5 }, 0)).toEqual([100, 25])
  })
  it('turns about the pivot, in steps of 15 degrees when held even', () => {
    const quarter = frameMap(box, 'turn', 'stretch', { x: 50, y: -10 }, { x: 90, y: 25 }, false)
    const [x, y] = quarter(100, 25)
    expect([x, y].map((v) => +v.toFixed(9))).toEqual([50, 75])
    const stepped = frameMap(box, 'turn', 'stretch', { x: 90, y: 25 }, { x: 90, y: 36 }, true)
    expect(Math.atan2(stepped(90, 25)[1] - 25, stepped(90, 25)[0] - 50)).toBeCloseTo(Math.PI / 12, 9)
  })
  it('grows by a corner, evenly when held', () => {
    const corner = { u: 1, v: 1 } as const
    const from = { x: 100, y: 50 }
    expect(frameMap(box, corner, 'stretch', from, { x: 150, y: 50 }, false)(0, 0)).toEqual([-50, 0])
    expect(frameMap(box, corner, 'stretch', from, { x: 150, y: 50 }, true)(0, 0)).toEqual([-50, -25])
  })
  it('stretches, shears and bends by a side', () => {
    const side = { u: 0.5, v: 0 } as const
    const from = { x: 50, y: 0 }
    expect(frameMap(box, side, 'stretch', from, { x: 50, y: -25 }, false)(20, 50)).toEqual([20, 75])
    expect(frameMap(box, side, 'shear', from, { x: 60, y: 0 }, false)(0, 50)).toEqual([-10, 50])
    const bend = frameMap(box, side, 'bend', from, { x: 50, y: -12 }, false)
    expect([bend(0, 25), bend(50, 25), bend(100, 25)]).toEqual([
      [0, 25],
      [50, 13],
      [100, 25],
    ])
  })
  it('does nothing wild where the pivot lies on the grip', () => {
    const map = frameMap(
      { ...box, pivotX: 100, pivotY: 50 },
      { u: 1, v: 1 },
      'stretch',
      { x: 100, y: 50 },
      centre,
      false,
    )
    expect(map(10, 10)).toEqual([10, 10])
  })
})

describe('similarities', () => {
  it('the best one is the least-squares solution that OpenCV finds', async () => {
    const { cv } = await openCv()
    const from = [0, 0, 120, 10, 90, 80, -20, 60]
    const to = [300, 200, 330, 320, 255, 300, 240, 185]
    const rows = from.flatMap((v, i) => (i % 2 ? [v, from[i - 1]!, 0, 1] : [v, -from[i + 1]!, 1, 0]))
    const [left, right, found] = [
      cv.matFromArray(8, 4, cv.CV_64F, rows),
      cv.matFromArray(8, 1, cv.CV_64F, to),
      new cv.Mat(),
    ]
    cv.solve(left, right, found, cv.DECOMP_SVD)
    const { ar, ai, br, bi } = bestSimilarity(from, to)
    const [a, b, tx, ty] = found.data64F as Float64Array
    ;[
      [ar, a],
      [ai, b],
      [br, tx],
      [bi, ty],
    ].forEach(([mine, its]) => expect(mine).toBeCloseTo(its!, 2))
  })
  it('run back and forth and for a share of their way', () => {
    const s = bestSimilarity([0, 0, 10, 0], [5, 5, 5, 25])
    const points = [3, 4, -7, 2]
    moved(inverse(s), moved(s, points)).forEach((v, i) => expect(v).toBeCloseTo(points[i]!, 9))
    const twice = moved(power(s, 0.5), moved(power(s, 0.5), points))
    twice.forEach((v, i) => expect(v).toBeCloseTo(moved(s, points)[i]!, 9))
  })
})

describe('points that go to edges', () => {
  /** A step at x = 20.3, softened as a lens does. */
  const luma = (x: number, _y: number) => 40 + 120 / (1 + Math.exp(-(x + 0.5 - 20.3) / 0.6))
  it('find the edge to a fraction of a pixel', () => {
    const edge = snapToEdge(luma, 16, 12.5, 8)!
    expect(edge.x).toBeCloseTo(20.3, 1)
    expect(edge.strength).toBeGreaterThan(20)
  })
  it('find none where there is none, or none near enough', () => {
    expect(snapToEdge(() => 90, 16, 12, 8)).toBeNull()
    expect(snapToEdge(luma, 5, 12, 8)).toBeNull()
  })
})
