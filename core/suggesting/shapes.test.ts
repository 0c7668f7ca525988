import { describe, expect, it } from 'vitest'
import { coverAt } from '../pixels/buffers/raster.ts'
import { isCorner, nodeNumbers } from '../shapes/kinds/outline.ts'
import type { Detected } from './detected.ts'
import {
  closerBox,
  handMatte,
  lidOutline,
  lookedAt,
  movedBy,
  personMatte,
  sameAs,
  sharedBox,
  smoothedOver,
  tilesOf,
} from './shapes.ts'

const detected = (fields: Partial<Detected>): Detected => ({
  ...{ what: 'faces', confidence: 1, box: [0, 0, 10, 10], places: [], lines: {}, mask: null },
  ...fields,
})

describe('An eye', () => {
  it('becomes an outline of eight points: two corners, and three on either lid in their order', () => {
    // Sixteen places around an almond, begun somewhere on the upper lid.
    const places = Array.from({ length: 16 }, (_, i) => {
      const a = ((i + 5) / 16) * 2 * Math.PI
      return [100 + 30 * Math.cos(a), 60 + 9 * Math.sin(a)]
    }).flat()
    const face = detected({ places, lines: { 'left eye': Array.from({ length: 16 }, (_, i) => i) } })
    const points = lidOutline(face, 'left eye')
    expect(points).toHaveLength(8 * nodeNumbers)
    const nodes = Array.from({ length: 8 }, (_, i) => [points[i * nodeNumbers]!, points[i * nodeNumbers + 1]!] as const)
    const xs = nodes.map(([x]) => x)
    expect(Math.abs(xs[0]! - xs[4]!)).toBeCloseTo(60, 5)
    expect([0, 4].map((i) => isCorner(points, i))).toEqual([true, true])
    expect([1, 2, 3, 5, 6, 7].some((i) => isCorner(points, i))).toBe(false)
    // One lid lies above the corners, the other below, and neither turns back.
    const side = (i: number) => Math.sign(nodes[i]![1] - 60)
    expect(new Set([1, 2, 3].map(side)).size).toBe(1)
    expect(side(6)).toBe(-side(2))
    const way = Math.sign(xs[4]! - xs[0]!)
    expect([1, 2, 3, 4].every((i) => (xs[i]! - xs[i - 1]!) * way > 0)).toBe(true)
  })
})

describe('A hand', () => {
  it('is covered from the wrist to the tips of its fingers, with room between spread ones', () => {
    // A spread hand, wrist below; numbered from the thumb's root to the little finger's tip.
    const rays = [-70, -25, 0, 22, 48].map((degrees) => (degrees * Math.PI) / 180)
    const places = [100, 180]
    rays.forEach((a, finger) => {
      const root = finger === 0 ? 30 : 60
      for (let k = 0; k < 4; k++) {
        const r = root + 18 * k
        places.push(100 + r * Math.sin(a), 180 - r * Math.cos(a))
      }
    })
    const matte = handMatte(detected({ what: 'hands', places }), { width: 240, height: 220 })!
    for (let i = 0; i < 21; i++) expect(coverAt(matte, places[2 * i]!, places[2 * i + 1]!)).toBe(1)
    expect(coverAt(matte, 100, 140)).toBe(1)
    const between = (-12.5 * Math.PI) / 180
    expect(coverAt(matte, 100 + 108 * Math.sin(between), 180 - 108 * Math.cos(between))).toBe(0)
  })
})

describe('A person', () => {
  it('is enlarged from its mask without a shift, and what is hardly there is left out', () => {
    const mask = { width: 8, height: 8, data: new Uint8Array(64), box: [0, 0, 64, 64] as const }
    for (let y = 2; y < 6; y++) for (let x = 3; x < 6; x++) mask.data[8 * y + x] = 255
    mask.data[0] = 40
    const matte = personMatte(detected({ what: 'people', mask }), { width: 64, height: 64 })!
    expect(coverAt(matte, 36, 32)).toBe(1)
    expect(coverAt(matte, 4, 4)).toBe(0)
    // Half cover lies where the mask turns: at 24 and 48 across, 16 and 48 down.
    for (const [x, y] of [
      [24, 32],
      [48, 32],
      [36, 16],
      [36, 48],
    ] as const)
      expect(Math.abs(coverAt(matte, x, y) - 0.5), `${x} ${y}`).toBeLessThan(0.1)
    expect(coverAt(matte, 20, 32)).toBe(0)
    expect(coverAt(matte, 52, 32)).toBe(0)
    expect(personMatte(detected({}), { width: 64, height: 64 })).toBeNull()
  })

  it('that was found in a part of the picture lies there in the whole, also where the part is cut off', () => {
    const mask = { width: 8, height: 8, data: new Uint8Array(64).fill(255), box: [0, 0, 32, 16] as const }
    const one = movedBy(detected({ what: 'people', mask, box: [4, 2, 8, 6], places: [1, 2] }), 40, -8)
    expect(one).toMatchObject({ box: [44, -6, 48, -2], places: [41, -6] })
    const matte = personMatte(one, { width: 64, height: 64 })!
    expect(matte).toMatchObject({ x: 40, y: 0, width: 24, height: 8 })
    expect(closerBox([20, 20, 30, 24], 0.5, { width: 100, height: 60 })).toEqual([15, 15, 35, 29])
    expect(closerBox([20, 20, 30, 24], 2.5, { width: 100, height: 60 })).toEqual([0, 0, 55, 49])
    expect(closerBox([0, 10, 60, 50], 0.3, { width: 100, height: 60 })).toBeNull()
  })
})

describe('What is small', () => {
  it('lies whole in one of the parts that are looked at, wherever it is', () => {
    for (const size of [
      { width: 1280, height: 720 },
      { width: 720, height: 1280 },
      { width: 640, height: 480 },
      { width: 100, height: 900 },
    ]) {
      const tiles = tilesOf(size)
      expect(tiles.length).toBeLessThanOrEqual(6)
      const [w, h] = [Math.max(...[size.width, size.height]) / 4, Math.min(size.width, size.height) / 4]
      for (let x = 0; x + w <= size.width; x += 17)
        for (let y = 0; y + h <= size.height; y += 17)
          if (!tiles.some((t) => t[0] <= x && t[1] <= y && t[2] >= x + w && t[3] >= y + h))
            throw new Error(`${x}, ${y} of ${size.width} x ${size.height} is cut by all parts`)
    }
  })

  it('is the same where two boxes share a third of what both cover', () => {
    expect(sharedBox([0, 0, 10, 10], [0, 0, 10, 10])).toBe(1)
    expect(sharedBox([0, 0, 10, 10], [5, 0, 15, 10])).toBeCloseTo(1 / 3)
    expect(sharedBox([0, 0, 10, 10], [10, 0, 20, 10])).toBe(0)
  })
})

describe('Over the frames of a shot', () => {
  it('the same one is the nearest, and nobody where all are far away', () => {
    const at = (x: number, y: number) => detected({ box: [x, y, x + 20, y + 20] })
    expect(sameAs(at(100, 100), [at(300, 100), at(106, 103), at(115, 100)])).toEqual(at(106, 103))
    expect(sameAs(at(100, 100), [at(300, 100)])).toBeNull()
    expect(sameAs(at(100, 100), [])).toBeNull()
  })

  it('a trembling is halved, a steady motion and both ends stay', () => {
    const steady = new Map([0, 8, 16, 24].map((frame) => [frame, [frame, 2 * frame]]))
    expect([...smoothedOver(steady)]).toEqual([...steady])
    const trembling = new Map([0, 8, 16, 24].map((frame, k) => [frame, [10 + (k % 2 ? 1 : -1), 0]]))
    const values = [...smoothedOver(trembling).values()].map(([x]) => x)
    expect(values).toEqual([9, 10, 10, 11])
  })

  it('frames are looked at on both sides of the chosen one, evenly', () => {
    expect(lookedAt(10, 24, 8)).toEqual([2, 10, 18])
    expect(lookedAt(0, 1, 8)).toEqual([0])
  })
})
