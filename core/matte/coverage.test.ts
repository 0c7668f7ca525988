import { Resvg } from '@resvg/resvg-js'
import { Bezier } from 'bezier-js'
import { describe, expect, it } from 'vitest'
import { type ClosedPath, flatten, polygonArea } from '../geometry/path.ts'
import { outline, smoothNodes } from '../shapes/kinds/outline.ts'
import { coverPolygon, matteOf } from './coverage.ts'

const svgPath = (p: ClosedPath) => {
  let d = `M${p[0]} ${p[1]}`
  for (let i = 2; i < p.length; i += 6) d += `C${p.slice(i, i + 6).join(' ')}`
  return `${d}Z`
}

const star = outline.path(
  smoothNodes(
    Array.from({ length: 12 }, (_, i) => [
      80 + Math.cos(i / 2) * (i % 2 ? 30 : 62),
      60 + Math.sin((i * Math.PI) / 6) * (i % 2 ? 28 : 70),
    ]).flat(),
  ),
  {},
)
const round = outline.path(
  smoothNodes(
    Array.from({ length: 12 }, (_, i) => [
      83.3 + 57 * Math.cos((i * Math.PI) / 6),
      61.7 + 43 * Math.sin((i * Math.PI) / 6),
    ]).flat(),
  ),
  {},
)

describe('coverage', () => {
  it('sums to the area of the polygon (shoelace formula)', () => {
    const points = flatten(round)
    const out = new Float32Array(160 * 120)
    coverPolygon(points, { x: 0, y: 0, width: 160, height: 120 }, out)
    const sum = out.reduce((a, b) => a + b, 0)
    expect(Math.abs(sum - Math.abs(polygonArea(points)))).toBeLessThan(0.5)
  })

  it('sums to the area of a Bezier outline within 0.1 per cent (Green’s theorem on bezier-js curves)', () => {
    for (const path of [round, round.map((v, i) => (i % 2 ? v * 0.3 : v * 0.4) + 20.3)]) {
      let exact = 0
      let [x, y] = [path[0]!, path[1]!]
      for (let i = 2; i < path.length; i += 6) {
        const curve = new Bezier(x, y, ...(path.slice(i, i + 6) as [number, number, number, number, number, number]))
        for (let k = 0; k < 200; k++) {
          const [p, d] = [curve.get((k + 0.5) / 200), curve.derivative((k + 0.5) / 200)]
          exact += (p.x * d.y - p.y * d.x) / 2 / 200
        }
        ;[x, y] = [path[i + 4]!, path[i + 5]!]
      }
      const out = new Float32Array(160 * 120)
      coverPolygon(flatten(path), { x: 0, y: 0, width: 160, height: 120 }, out)
      expect(Math.abs(out.reduce((a, b) => a + b, 0) / Math.abs(exact) - 1)).toBeLessThan(0.001)
    }
  })

  it('is exact on half-covered pixels and outside the region', () => {
    const out = new Float32Array(4)
    coverPolygon([-5, -5, 1.5, -5, 1.5, 9, -5, 9], { x: 0, y: 0, width: 2, height: 2 }, out)
    expect([...out]).toEqual([1, 0.5, 1, 0.5])
    coverPolygon([0.25, 0.5, 9, 0.5, 9, 9, 0.25, 9], { x: 0, y: 0, width: 2, height: 2 }, out)
    expect([...out].map((v) => +v.toFixed(4))).toEqual([0.375, 0.5, 0.75, 1])
  })

  it.each([
    ['round', round],
    ['cut by the border', round.map((v, i) => v - (i % 2 ? 40 : 60))],
  ])('agrees with resvg on the same path: %s', (_, path) => {
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="160" height="120"><path d="${svgPath(path)}" fill="#fff"/></svg>`
    const reference = new Resvg(svg).render().pixels
    const out = new Float32Array(160 * 120)
    coverPolygon(flatten(path), { x: 0, y: 0, width: 160, height: 120 }, out)
    let [worst, total] = [0, 0]
    for (let i = 0; i < out.length; i++) {
      const difference = Math.abs(out[i]! - reference[4 * i + 3]! / 255)
      worst = Math.max(worst, difference)
      total += difference
    }
    // resvg samples with 4 lines a pixel (its own rounding): up to a quarter on nearly level edges.
    expect(worst).toBeLessThan(0.26)
    expect(total / out.length).toBeLessThan(0.002)
  })

  it('a feathered matte keeps its area and has its half on the edge', () => {
    const square: ClosedPath = [
      50, 50, 60, 50, 90, 50, 100, 50, 100, 60, 100, 90, 100, 100, 90, 100, 60, 100, 50, 100, 50, 90, 50, 60, 50, 50,
    ]
    const matte = matteOf(square, 10, { x: 0, y: 0, width: 160, height: 160 })
    expect(Math.abs(matte.data.reduce((a, b) => a + b, 0) - 2500)).toBeLessThan(5)
    const at = (x: number, y: number) => matte.data[(y - matte.y) * matte.width + x - matte.x]!
    expect((at(49, 75) + at(50, 75)) / 2).toBeCloseTo(0.5, 2)
    expect(at(75, 75)).toBeCloseTo(1, 3)
  })

  it('does not fail on shapes that cross themselves', () => {
    const out = new Float32Array(160 * 140)
    coverPolygon(flatten(star), { x: 0, y: 0, width: 160, height: 140 }, out)
    expect(Math.max(...out)).toBeLessThanOrEqual(1)
    expect(Math.min(...out)).toBeGreaterThanOrEqual(0)
  })
})
