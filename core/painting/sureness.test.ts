import { describe, expect, it } from 'vitest'
import type { Grid } from './grid.ts'
import { changeOf, matteSureness, weakEdge } from './sureness.ts'

const [width, height] = [60, 40]
const upTo = (x: number) => Uint8Array.from({ length: width * height }, (_, i) => Number(i % width < x))

describe('how sure a carried matte is', () => {
  it('falls with what was not there before', () => {
    expect(changeOf(upTo(30), upTo(30))).toEqual({ kept: 1, grown: 0 })
    const { kept, grown } = changeOf(upTo(30), upTo(24))
    expect(kept).toBeCloseTo(0.8, 5)
    // Less what rounding does, which by itself is no growth.
    expect(grown).toBeCloseTo(Math.log(1201 / 961) - 0.015, 5)
    expect(changeOf(upTo(60), upTo(60)).grown).toBe(0)
    expect(changeOf(upTo(0), upTo(0)).kept).toBe(0)
  })
  it('is high where all is as on the known frame, and low from either sign alone', () => {
    const good = { kept: 0.97, grown: 0, weaker: 0 }
    expect(matteSureness(good)).toBeGreaterThan(0.9)
    // A lamp post is taken along, or let go; half of the edge runs where nothing is to be seen; a fifth changes at once.
    for (const bad of [{ grown: Math.log(2) }, { grown: -Math.log(2) }, { weaker: 0.5 }])
      expect(matteSureness({ ...good, ...bad })).toBeLessThan(0.3)
    expect(matteSureness({ ...good, kept: 0.8, grown: 0.2 })).toBeLessThan(0.5)
    // An edge that is clearer than it was is no worse.
    expect(matteSureness({ ...good, weaker: -0.5 })).toBe(matteSureness(good))
  })
  it('knows the share of an edge along which both sides look the same', () => {
    const grid = (lumaOf: (x: number, y: number) => number): Grid => ({
      ...{ x: 0, y: 0, width, height, step: 2 },
      luma: Float32Array.from({ length: width * height }, (_, i) => lumaOf(i % width, Math.floor(i / width))),
      u: new Float32Array(width * height).fill(128),
      v: new Float32Array(width * height).fill(128),
    })
    const wall = (x: number) => (x < 30 ? 60 : 160)
    expect(weakEdge(grid(wall), upTo(30))).toBe(0)
    expect(
      weakEdge(
        grid(() => 60),
        upTo(30),
      ),
    ).toBe(1)
    // The lower half of the wall can not be told from what stands before it.
    expect(
      weakEdge(
        grid((x, y) => (y < 20 ? wall(x) : 60)),
        upTo(30),
      ),
    ).toBeCloseTo(0.5, 1)
    // Beside the wall it runs through what is all the same.
    expect(weakEdge(grid(wall), upTo(40))).toBe(1)
    expect(weakEdge(grid(wall), upTo(0))).toBe(0)
  })
})
