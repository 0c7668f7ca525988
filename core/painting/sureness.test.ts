import { describe, expect, it } from 'vitest'
import { changeOf, JumpWatch } from './sureness.ts'

const upTo = (x: number) => Uint8Array.from({ length: 60 * 40 }, (_, i) => Number(i % 60 < x))

describe('how sure a carried matte is', () => {
  it('falls with what was not there before', () => {
    expect(changeOf(upTo(30), upTo(30))).toEqual({ kept: 1, grown: 0 })
    const { kept, grown } = changeOf(upTo(30), upTo(24))
    expect(kept).toBeCloseTo(0.8, 5)
    expect(grown).toBeCloseTo(Math.log(30 / 24), 2)
    expect(changeOf(upTo(0), upTo(0)).kept).toBe(0)
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
