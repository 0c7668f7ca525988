import { describe, expect, it } from 'vitest'
import { flatten } from '../geometry/path.ts'
import { partKind } from '../shapes/registry.ts'
import { onPlate, shapesOfSvg, type SvgElement, type SvgMatrix, timesMatrix } from './svg.ts'

const still: SvgMatrix = [1, 0, 0, 1, 0, 0]
const element = (name: string, attributes: Record<string, string>, matrix = still, called = ''): SvgElement => ({
  ...{ name, called, attributes, matrix },
})
const path = (d: string, matrix = still) => shapesOfSvg([element('path', { d }, matrix, 'wing')])
/** Nodes alone, without their handles. */
const nodesOf = (points: readonly number[]) => points.filter((_, i) => i % 8 < 2)
const edgeOf = (points: readonly number[]) => flatten(partKind('outline').path(points, {}), 0.05)

describe('shapes of a drawing', () => {
  it('a path of lines is an outline with its corners, whether it is closed by a letter or by coming back', () => {
    const square = [10, 10, 110, 10, 110, 60, 10, 60]
    for (const d of ['M10 10H110V60H10Z', 'm10,10 l100,0 0,50 -100,0z', 'M10 10 110 10 110 60 10 60 10 10']) {
      const [one] = path(d)
      expect(one).toMatchObject({ kind: 'outline', name: 'wing', role: 'add' })
      expect(nodesOf(one!.points), d).toEqual(square)
    }
  })
  // SVG 2, chapter 9.3: a quadratic curve, a smooth one and an arc are cubic ones; a circle of four arcs is a circle.
  it('curves of every letter lie where the standard puts them', () => {
    const circle = path('M150 100A50 50 0 0 1 50 100A50 50 0 0 1 150 100Z')[0]!
    const edge = edgeOf(circle.points)
    for (let i = 0; i < edge.length; i += 2) expect(Math.hypot(edge[i]! - 100, edge[i + 1]! - 100)).toBeCloseTo(50, 0)
    const bow = edgeOf(path('M0 0Q50 100 100 0L50 -50Z')[0]!.points)
    // The middle of a quadratic curve: a quarter of its ends, half of its handle.
    expect(Math.max(...bow.filter((_, i) => i % 2 === 1))).toBeCloseTo(50, 1)
    const smooth = edgeOf(path('M0 0C0 50 50 50 50 0S100 -50 100 0L50 -90Z')[0]!.points)
    const at75 = Math.min(
      ...smooth.flatMap((v, i) => (i % 2 && Math.abs(smooth[i - 1]! - 75) < 3 ? [Math.abs(v + 37.5)] : [])),
    )
    expect(at75).toBeLessThan(1)
  })
  it('a hole cuts from what it lies in', () => {
    const [whole, hole] = path('M0 0H100V100H0Z M20 20V80H80V20Z')
    expect([whole!.role, hole!.role, hole!.name]).toEqual(['add', 'cut', 'wing 2'])
    expect(path('M0 0H100V100H0Z M200 0H300V100H200Z')[1]!.role).toBe('add')
  })
  it('circles are ovals, lines are rods, rectangles and polygons outlines; all go where they are moved', () => {
    const turned: SvgMatrix = [0, 1, -1, 0, 500, 20]
    const [oval, rod, rect, polygon] = shapesOfSvg([
      element('ellipse', { cx: '10', cy: '20', rx: '8', ry: '4' }, turned),
      element('line', { x1: '0', y1: '0', x2: '100', y2: '10' }, turned),
      element('rect', { x: '0', y: '0', width: '30', height: '20' }),
      element('polygon', { points: '0,0 10,0 10,10' }),
    ])
    expect(oval).toMatchObject({ kind: 'oval', points: [480, 30, 480, 38, 476, 30] })
    expect(rod).toMatchObject({ kind: 'rod', points: [500, 20, 490, 120] })
    expect(nodesOf(rect!.points)).toEqual([0, 0, 30, 0, 30, 20, 0, 20])
    expect(nodesOf(polygon!.points)).toEqual([0, 0, 10, 0, 10, 10])
  })
  it('matrices follow each other: the inner one first', () => {
    const [shift, grow]: [SvgMatrix, SvgMatrix] = [
      [1, 0, 0, 1, 5, 6],
      [2, 0, 0, 2, 0, 0],
    ]
    expect(timesMatrix(shift, grow)).toEqual([2, 0, 0, 2, 5, 6])
    expect(timesMatrix(grow, shift)).toEqual([2, 0, 0, 2, 10, 12])
  })
  it('units of the drawing are pixels of the plate where both are as large; else it is laid in the middle', () => {
    const plate = { width: 1280, height: 720 }
    expect(onPlate({ x: 0, y: 0, ...plate }, plate)).toEqual([1, 0, 0, 1, 0, 0])
    expect(onPlate({ x: 10, y: 0, width: 100, height: 100 }, plate)).toEqual([7.2, 0, 0, 7.2, 208, 0])
    expect(onPlate(null, plate)).toEqual(still)
  })
})

describe('a drawing that can not be taken says why', () => {
  it.each([
    ['no shape', [element('text', {})], /no shape in this drawing/],
    ['a path that is none', [element('path', { d: 'M10 10 Lxyz' }, still, 'wing')], /path of wing can not be read/],
    ['too many points', [element('path', { d: `M0 0${'l1 1 1 -1'.repeat(300)}l0 900z` })], /at most 375 fit/],
    ['too many shapes', Array.from({ length: 201 }, () => element('circle', { r: '5' })), /201 shapes; at most 200/],
    [
      'a million points',
      [element('path', { d: `M0 0${'l1 1 1 -1'.repeat(5e5)}z` }, still, 'wing')],
      /wing has far more points/,
    ],
    ['a polygon of as many', [element('polygon', { points: '1,2 '.repeat(1e6) })], /polygon has far more points/],
    [
      'shapes without end',
      Array.from({ length: 6000 }, () => element('path', { d: 'M0 0h9v9z' })),
      /6000 shapes; at most/,
    ],
    ['places that are none', [element('circle', { r: '1e9' })], /no number, or far outside/],
  ])('%s', (_, elements, sentence) => {
    expect(() => shapesOfSvg(elements)).toThrow(sentence)
  })
})
