import { Bezier } from 'bezier-js'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { type Cubic, fitSegment, nearestOn, pointOn, split } from '../geometry/bezier.ts'
import { flatten, polygonArea } from '../geometry/path.ts'
import { cornerNodes, isCorner, outline, smoothNodes } from './kinds/outline.ts'
import {
  converted,
  crossesItself,
  fitStroke,
  nearestOnOutline,
  nodeCount,
  segmentOf,
  smoothed,
  withNode,
  withoutNode,
} from './outlineEdit.ts'

const cubic = fc
  .array(fc.integer({ min: -300, max: 300 }), { minLength: 8, maxLength: 8 })
  .map((values) => values as Cubic)
const bezierOf = (c: Cubic) => new Bezier(...c)
const polygon = (points: readonly number[]) => flatten(outline.path(points, {}), 0.01)
/** Farthest that a place of one polygon lies from the other. */
const apart = (a: readonly number[], b: readonly number[]) => {
  let most = 0
  for (let i = 0; i < a.length; i += 2) {
    let least = Infinity
    for (let j = 0; j < b.length; j += 2) {
      const k = (j + 2) % b.length
      const [x, y, dx, dy] = [b[j]!, b[j + 1]!, b[k]! - b[j]!, b[k + 1]! - b[j + 1]!]
      const u = Math.max(0, Math.min(1, ((a[i]! - x) * dx + (a[i + 1]! - y) * dy) / (dx * dx + dy * dy || 1)))
      least = Math.min(least, Math.hypot(x + u * dx - a[i]!, y + u * dy - a[i + 1]!))
    }
    most = Math.max(most, least)
  }
  return most
}
const blob = smoothNodes([100, 40, 180, 60, 210, 130, 160, 200, 80, 190, 40, 110])

describe('segments, held against bezier-js', () => {
  it('lie, are cut and are measured alike', () => {
    fc.assert(
      fc.property(cubic, fc.double({ min: 0.05, max: 0.95, noNaN: true }), (c, t) => {
        const there = bezierOf(c).get(t)
        const [x, y] = pointOn(c, t)
        expect(Math.hypot(x - there.x, y - there.y)).toBeLessThan(1e-6)
        const halves = bezierOf(c).split(t)
        const [left, right] = split(c, t)
        ;[left, right].forEach((half, k) =>
          (k ? halves.right : halves.left).points.forEach((p, i) => {
            expect(half[2 * i]).toBeCloseTo(p.x, 6)
            expect(half[2 * i + 1]).toBeCloseTo(p.y, 6)
          }),
        )
      }),
    )
  })
  it('the closest place is at least as close as any of a thousand that bezier-js samples', () => {
    fc.assert(
      fc.property(cubic, fc.integer({ min: -300, max: 300 }), fc.integer({ min: -300, max: 300 }), (c, x, y) => {
        const sampled = Math.min(
          ...bezierOf(c)
            .getLUT(1000)
            .map((p) => Math.hypot(p.x - x, p.y - y)),
        )
        expect(nearestOn(c, x, y).distance).toBeLessThanOrEqual(sampled + 0.05)
      }),
      { numRuns: 60 },
    )
  })
  it('an outline holds the area that bezier-js integrates', () => {
    // Green's theorem over the exact curves, 200 steps each, as the outside value.
    let area = 0
    for (let i = 0; i < nodeCount(blob); i++) {
      const curve = bezierOf(segmentOf(blob, i))
      for (let k = 0; k < 200; k++) {
        const [p, d] = [curve.get((k + 0.5) / 200), curve.derivative((k + 0.5) / 200)]
        area += (p.x * d.y - p.y * d.x) / 2 / 200
      }
    }
    expect(Math.abs(polygonArea(polygon(blob))) / Math.abs(area)).toBeCloseTo(1, 3)
  })
  it('a curve is found again from places on it', () => {
    const c: Cubic = [10, 10, 60, -40, 160, 90, 220, 20]
    const places = Array.from({ length: 30 }, (_, i) => pointOn(c, i / 29)).flat()
    const unit = (x: number, y: number): [number, number] => [x / Math.hypot(x, y), y / Math.hypot(x, y)]
    const { error } = fitSegment(places, unit(50, -50), unit(-60, 70))
    expect(error).toBeLessThan(0.2)
  })
})

describe('points of an outline', () => {
  it('one that is inserted leaves the curve as it was', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 5 }), fc.double({ min: 0.1, max: 0.9, noNaN: true }), (i, t) => {
        const more = withNode(blob, i, t)
        expect(nodeCount(more)).toBe(7)
        expect(apart(polygon(more), polygon(blob))).toBeLessThan(0.03)
        expect(apart(polygon(blob), polygon(more))).toBeLessThan(0.03)
      }),
      { numRuns: 30 },
    )
  })
  it('one that was inserted and is deleted again is not missed: the neighbours take over', () => {
    const less = withoutNode(withNode(blob, 2, 0.4), 3)
    expect(nodeCount(less)).toBe(6)
    expect(apart(polygon(less), polygon(blob))).toBeLessThan(0.5)
  })
  it('deleted between straight sides leaves a straight side', () => {
    const square = cornerNodes([0, 0, 100, 0, 100, 100, 0, 100])
    expect(withoutNode(square, 1)).toEqual(cornerNodes([0, 0, 100, 100, 0, 100]))
  })
  it('turn into corners and back, one or all', () => {
    const corner = converted(blob, [2], 'corner')
    expect([1, 2, 3].map((i) => isCorner(corner, i))).toEqual([false, true, false])
    expect(converted(corner, [2], 'smooth')).toEqual(blob)
    expect(smoothed(cornerNodes(blob.filter((_, i) => i % 8 < 2)))).toEqual(blob)
  })
  it('roundness draws corners as smooth points would run, without moving them', () => {
    const square = cornerNodes([0, 0, 100, 0, 100, 100, 0, 100])
    const round = flatten(outline.path(square, { roundness: 1 }), 0.01)
    expect(apart(round, polygon(smoothNodes([0, 0, 100, 0, 100, 100, 0, 100])))).toBeLessThan(0.02)
    expect(outline.path(square, { roundness: 0.5 }).slice(0, 2)).toEqual([0, 0])
  })
  it('the closest place of the whole outline is found', () => {
    const [x, y] = pointOn(segmentOf(blob, 4), 0.3)
    const near = nearestOnOutline(blob, x, y)
    expect(near.segment).toBe(4)
    expect(near.t).toBeCloseTo(0.3, 2)
  })
  it('edges that cross are seen', () => {
    expect(crossesItself(polygon(blob))).toBe(false)
    expect(crossesItself([0, 0, 100, 100, 100, 0, 0, 100])).toBe(true)
  })
})

describe('a freehand stroke', () => {
  const tremble = (i: number) => 0.8 * Math.sin(i * 7.3)
  it('around something round becomes few smooth points close to it', () => {
    const stroke = Array.from({ length: 150 }, (_, i) => {
      const a = (i / 150) * 2 * Math.PI
      return [300 + (120 + tremble(i)) * Math.cos(a), 200 + (70 + tremble(i)) * Math.sin(a)]
    }).flat()
    const nodes = fitStroke(stroke, 2)!
    expect(nodeCount(nodes)).toBeLessThanOrEqual(8)
    const exact = Array.from({ length: 400 }, (_, i) => {
      const a = (i / 400) * 2 * Math.PI
      return [300 + 120 * Math.cos(a), 200 + 70 * Math.sin(a)]
    }).flat()
    expect(apart(polygon(nodes), exact)).toBeLessThan(4)
    for (let i = 0; i < nodeCount(nodes); i++) expect(isCorner(nodes, i)).toBe(false)
  })
  it('with sharp turns keeps them as corners', () => {
    const side = (x0: number, y0: number, x1: number, y1: number) =>
      Array.from({ length: 40 }, (_, i) => [x0 + ((x1 - x0) * i) / 40, y0 + ((y1 - y0) * i) / 40]).flat()
    const nodes = fitStroke([...side(0, 0, 200, 0), ...side(200, 0, 200, 120), ...side(200, 120, 0, 0)], 1.5)!
    expect(nodeCount(nodes)).toBeLessThanOrEqual(5)
    expect(apart([0, 0, 200, 0, 200, 120], polygon(nodes))).toBeLessThan(4)
  })
  it('that is no more than a dot is no shape', () => {
    expect(fitStroke([10, 10, 11, 10, 12, 11], 1)).toBeNull()
  })
})
