import { describe, expect, it } from 'vitest'
import { drawnRod } from '#lab/support/drawnRod.ts'
import { RodJudge } from './judge.ts'
import { learnedLook } from './look.ts'
import type { RodPath } from './path.ts'
import { atRest, type RodPose } from './pose.ts'
import { asUsual } from './view.ts'
import { change, widthsAlong } from './width.ts'

const colour: [number, number, number] = [190, 118, 140]
const pose = (f: number): RodPose => ({ hx: 50 + 2 * f, hy: 120 - f, angle: -0.7 + 0.02 * f, length: 100 })
const frames = 9

/** A rod that is `width(f)` pixels wide, followed exactly from a key on its first frame. */
function path(width: (f: number) => number, fixed = [0]): RodPath {
  const views = Array.from({ length: frames }, (_, f) =>
    drawnRod({ colour, hand: 10, pose: pose(f - 0.25), to: pose(f + 0.25), width: width(f) }),
  )
  const key = { view: views[0]!, pose: pose(0), motion: atRest }
  const judge = new RodJudge(learnedLook([key], width(0), width(0), 0.5), [key])
  return {
    ...{ views, judge, poses: views.map((_, f) => pose(f)), fixed: views.map((_, f) => fixed.includes(f)) },
    ...{ lengthAt: () => 100, loose: false },
  }
}

describe('how wide a rod is on its frames', () => {
  it.each([
    ['grows', (f: number) => 6 * 1.08 ** f],
    ['shrinks', (f: number) => 9 * 0.94 ** f],
  ])('is found where it %s', (_, width) => {
    const found = widthsAlong(path(width), () => asUsual)
    expect(change(found)).toBe(true)
    found.wide.forEach(({ heel, tip }, f) => {
      const off = (wide: number) => Math.abs(wide / (width(f) / width(0)) - 1)
      expect(off(heel), `heel on ${f}`).toBeLessThan(0.08)
      expect(off(tip), `tip on ${f}`).toBeLessThan(0.08)
    })
  })

  it('is nothing new where it stays', () => {
    expect(
      change(
        widthsAlong(
          path(() => 7),
          () => asUsual,
        ),
      ),
    ).toBe(false)
  })

  it('starts and ends on what hands have set', () => {
    const width = (f: number) => 6 * 1.05 ** f
    // The hand has set its last frame a fourth too wide: that is what it is there, and half as much halfway.
    const last = (1.25 * width(frames - 1)) / width(0)
    const known = (f: number) => (f === 0 ? asUsual : { heel: last, tip: last })
    const { wide } = widthsAlong(path(width, [0, frames - 1]), known)
    expect(wide[0]).toEqual({ heel: expect.closeTo(1, 6), tip: expect.closeTo(1, 6) })
    expect(wide.at(-1)).toEqual({ heel: expect.closeTo(last, 6), tip: expect.closeTo(last, 6) })
    const middle = wide[4]!.tip / (width(4) / width(0))
    expect(middle).toBeGreaterThan(1.05)
    expect(middle).toBeLessThan(1.2)
  })
})
