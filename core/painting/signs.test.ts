import { describe, expect, it } from 'vitest'
import type { Grid } from './grid.ts'
import { JumpWatch, signsOf, sureness } from './signs.ts'

const [width, height] = [60, 40]
/** A grid whose left part is darker than its right by so many levels. */
const grid = (step: number): Grid =>
  ({
    ...{ x: 0, y: 0, width, height, step: 1 },
    luma: Float32Array.from({ length: width * height }, (_, i) => (i % width < 30 ? 100 : 100 + step)),
    u: new Float32Array(width * height),
    v: new Float32Array(width * height),
  }) as Grid
const upTo = (x: number) => Uint8Array.from({ length: width * height }, (_, i) => Number(i % width < x))

describe('how sure a carried matte is', () => {
  it('falls where its edge leaves that of the picture, or the picture has none', () => {
    expect(sureness(signsOf(grid(60), upTo(30), upTo(30)))).toBe(1)
    expect(sureness(signsOf(grid(60), upTo(34), upTo(34)))).toBe(0)
    expect(sureness(signsOf(grid(4), upTo(30), upTo(30)))).toBe(0)
  })
  it('falls with what was not there before', () => {
    const signs = signsOf(grid(60), upTo(30), upTo(24))
    expect(signs.kept).toBeCloseTo(0.8, 5)
    expect(signs.grown).toBeCloseTo(Math.log(30 / 24), 2)
    expect(sureness(signs)).toBeCloseTo(0.8, 5)
  })
  it('stays low after the area has doubled, until it is what it was', () => {
    const watch = new JumpWatch()
    expect(watch.after(0.02, 0.95)).toBe(0.95)
    // A lamp post is taken along, carried on, and let go.
    expect(watch.after(Math.log(2), 0.5)).toBe(0.45)
    expect(watch.after(0.01, 0.97)).toBe(0.45)
    expect(watch.after(0.01, 0.3)).toBe(0.3)
    expect(watch.after(-Math.log(2), 0.5)).toBe(0.5)
    expect(watch.after(0, 0.96)).toBe(0.96)
    // What grows slowly, as who comes nearer does, is no jump.
    for (let i = 0; i < 20; i++) expect(watch.after(0.1, 0.9)).toBe(0.9)
  })
})
