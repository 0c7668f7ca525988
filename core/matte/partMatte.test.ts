import polygonClipping from 'polygon-clipping'
import { describe, expect, it } from 'vitest'
import { openCv } from '#lab/support/openCv.ts'
import { flatten, polygonArea } from '../geometry/path.ts'
import { Scratch, Slot } from '../pixels/buffers/scratch.ts'
import type { Role } from '../records/types.ts'
import { cornerNodes, outline, smoothNodes } from '../shapes/kinds/outline.ts'
import { coverPolygon } from './coverage.ts'
import { type MattePart, memberMatte, shapeMatte } from './partMatte.ts'

const slots = { test: new Slot() }

const frame = { x: 0, y: 0, width: 200, height: 160 }
const square = (x: number, y: number, side: number) => cornerNodes([x, y, x + side, y, x + side, y + side, x, y + side])
const part = (points: number[], role: Role = 'add', settings = {}): MattePart => ({
  ...{ kind: 'outline', role, points, settings: { feather: 0, grow: 0, opacity: 1, ...settings } },
})
const matteOf = (...parts: MattePart[]) => memberMatte(parts, 1, frame, new Scratch(), slots.test).slice()
const sum = (data: Float32Array) => data.reduce((a, b) => a + b, 0)
const ring = (points: number[]) => [
  Array.from({ length: points.length / 8 }, (_, i): [number, number] => [points[8 * i]!, points[8 * i + 1]!]),
]

describe('a member’s matte', () => {
  const [a, b] = [square(40.3, 30.7, 60), square(75.6, 50.2, 60)]
  const area = (shapes: ReturnType<typeof polygonClipping.union>) =>
    shapes.reduce((all, [outer]) => all + Math.abs(polygonArea(outer!.slice(0, -1).flat())), 0)

  it('adds, cuts and limits to the areas that polygon-clipping computes', () => {
    const within = (value: number, exact: number) => expect(Math.abs(value / exact - 1)).toBeLessThan(0.003)
    within(sum(matteOf(part(a), part(b))), area(polygonClipping.union(ring(a), ring(b))))
    within(sum(matteOf(part(a), part(b, 'cut'))), area(polygonClipping.difference(ring(a), ring(b))))
    within(sum(matteOf(part(a), part(b, 'limit'))), area(polygonClipping.intersection(ring(a), ring(b))))
  })
  it('works in the order of its parts', () => {
    const first = sum(matteOf(part(a), part(b, 'cut'), part(b)))
    const last = sum(matteOf(part(a), part(b), part(b, 'cut')))
    expect(first).toBeGreaterThan(last + 3000)
    expect(sum(matteOf(part(b, 'cut'), part(b, 'limit')))).toBe(0)
  })
  it('opacity weakens what a part does', () => {
    const full = matteOf(part(a))
    expect(sum(matteOf(part(a, 'add', { opacity: 0.4 }))) / sum(full)).toBeCloseTo(0.4, 4)
    const half = matteOf(part(a), part(a, 'cut', { opacity: 0.5 }))
    expect(half[60 * 200 + 70]).toBeCloseTo(0.5, 5)
    expect(matteOf(part(a), part(b, 'limit', { opacity: 0.25 }))[50 * 200 + 50]).toBeCloseTo(0.75, 5)
  })
  it('parts that are not there count for nothing', () => {
    expect(sum(matteOf({ ...part(a), points: null }))).toBe(0)
    expect(sum(matteOf(part(a), { ...part(b, 'cut'), points: null }))).toBeCloseTo(sum(matteOf(part(a))), 6)
  })
})

describe('growing and shrinking', () => {
  const blob = smoothNodes([60, 30, 120, 36, 140, 80, 110, 130, 60, 120, 40, 74])
  it('moves the edge as OpenCV’s distance transform says', async () => {
    const { cv } = await openCv()
    const hard = new Float32Array(200 * 160)
    coverPolygon(flatten(outline.path(blob, {})), frame, hard)
    const distances = (inside: boolean) => {
      const from = new cv.Mat(160, 200, cv.CV_8U)
      hard.forEach((v, i) => (from.data[i] = v >= 0.5 === inside ? 255 : 0))
      const to = new cv.Mat()
      cv.distanceTransform(from, to, cv.DIST_L2, cv.DIST_MASK_PRECISE)
      return Float32Array.from(to.data32F as Float32Array)
    }
    const [within, without] = [distances(true), distances(false)]
    for (const grow of [9, -7]) {
      const matte = matteOf(part(blob, 'add', { grow }))
      let wrong = 0
      for (let i = 0; i < matte.length; i++) {
        // Distance to the nearest pixel of the other side: a pixel more than to the edge itself, roughly.
        const away = grow > 0 ? without[i]! - 0.5 - grow : -grow - (within[i]! - 0.5)
        if (away < -1.5 && matte[i]! < 0.99) wrong++
        if (away > 1.5 && matte[i]! > 0.01) wrong++
      }
      expect(wrong).toBe(0)
    }
  })
  it('a grown circle has the area of the larger circle', () => {
    const k = 0.5522847498
    const circle = [0, 1, 2, 3].flatMap((i) => {
      const [c, s] = [
        [1, 0],
        [0, 1],
        [-1, 0],
        [0, -1],
      ][i]!
      const [x, y] = [100 + 30 * c!, 80 + 30 * s!]
      const [dx, dy] = [-s! * 30 * k, c! * 30 * k]
      return [x, y, x - dx, y - dy, x + dx, y + dy, x, y]
    })
    for (const grow of [12, 0, -10])
      expect(sum(matteOf(part(circle, 'add', { grow }))) / (Math.PI * (30 + grow) ** 2)).toBeCloseTo(1, 2)
  })
})

describe('an edge that fades on one side only', () => {
  const soft = square(60, 40, 70)
  // The right side fades over 24 px outwards: the soft places of its two corners lie there.
  for (const node of [1, 2]) soft[8 * node + 6]! += 24
  const matte = matteOf(part(soft))
  const at = (x: number, y: number) => matte[y * 200 + x]!

  it('fades evenly there and stays hard elsewhere', () => {
    expect(at(128, 75)).toBeCloseTo(1, 2)
    expect(at(141, 75)).toBeCloseTo(0.52, 1)
    expect(at(152, 75)).toBeLessThan(0.1)
    expect(at(156, 75)).toBe(0)
    expect([at(58, 75), at(62, 75)]).toEqual([0, 1])
    for (let x = 131; x < 154; x++) expect(at(x, 75)).toBeGreaterThanOrEqual(at(x + 1, 75))
  })
  it('is the same picture at half size, made smaller', () => {
    const half = shapeMatte('outline', soft, { feather: 0 }, 0.5, { x: 0, y: 0, width: 100, height: 80 })
    const value = (x: number, y: number) => half.data[(y - half.y) * half.width + x - half.x] ?? 0
    for (const x of [40, 66, 69, 73]) {
      const mean = (at(2 * x, 74) + at(2 * x + 1, 74) + at(2 * x, 75) + at(2 * x + 1, 75)) / 4
      expect(value(x, 37)).toBeCloseTo(mean, 1)
    }
  })
})
