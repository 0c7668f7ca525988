import { describe, expect, it } from 'vitest'
import { drawnRod } from '#lab/support/drawnRod.ts'
import { settleAlong } from './along.ts'
import { easeAlong } from './ease.ts'
import { RodJudge } from './judge.ts'
import { likelyLines } from './lines.ts'
import { learnedLook, type LookKey } from './look.ts'
import type { RodPath } from './path.ts'
import { atRest, farthest, movedAcross, type RodPose, slid, tipOf, turnedAtHeel } from './pose.ts'
import { close, refine, wide } from './refine.ts'

const colour: [number, number, number] = [190, 118, 140]
const rod = { width: 6, colour, hand: 10 }
const truth = (f: number): RodPose => ({ hx: 50 + 3 * f, hy: 120 - 2 * f, angle: -0.7 + 0.03 * f, length: 100 })
const frames = 9
const views = Array.from({ length: frames }, (_, f) => drawnRod({ ...rod, pose: truth(f) }))
const key: LookKey = { view: views[0]!, pose: truth(0), motion: atRest }
const look = learnedLook([key], 6, 6, 0.5)
const judge = new RodJudge(look, [key])
const still = { stopped: () => false, did: () => {}, breathe: () => Promise.resolve() }
const path = (poses: RodPose[], loose = false, seen = views): RodPath => ({
  ...{ views: seen, poses, judge, lengthAt: () => 100, loose },
  fixed: poses.map((_, f) => f === 0),
})
const off = ({ poses }: RodPath) => poses.map((pose, f) => farthest(pose, truth(f)))
const worst = (of: RodPath) => Math.max(...off(of))

describe('a path', () => {
  it('that has slid along the rod is put where hand and tip are', () => {
    const own = path(views.map((_, f) => (f === 0 ? truth(0) : slid(truth(f), 9 * Math.sin(f)))))
    expect(worst(own)).toBeGreaterThan(7)
    settleAlong(own, wide(false))
    settleAlong(own, close)
    expect(worst(own)).toBeLessThan(2)
  })
  it('whose length changes is given it where it may change', () => {
    const growing = (f: number): RodPose => ({ ...truth(f), length: 100 - 4 * f })
    const seen = views.map((_, f) => drawnRod({ ...rod, pose: growing(f) }))
    const own = path(
      seen.map((_, f) => truth(f)),
      true,
      seen,
    )
    settleAlong(own, wide(true))
    settleAlong(own, close)
    own.poses.forEach((pose, f) => expect(Math.abs(pose.length - growing(f).length), `frame ${f}`).toBeLessThan(3))
  })
  it('is made exact across and along; a key stays, and every frame is counted', async () => {
    const own = path(views.map((_, f) => (f === 0 ? truth(0) : turnedAtHeel(movedAcross(slid(truth(f), 5), 2), 0.03))))
    let did = 0
    await refine(own, [wide(false), close], { ...still, did: (more) => (did += more) })
    expect(own.poses[0]).toEqual(truth(0))
    expect(off(own).sort((a, b) => a - b)[frames >> 1]).toBeLessThan(1)
    expect(worst(own)).toBeLessThan(2.5)
    expect(did).toBeCloseTo((2 * frames) / 5)
  })
  it('is left as it is from where it is told to stop', async () => {
    const before = views.map((_, f) => slid(truth(f), f && 5))
    const own = path([...before])
    await refine(own, [wide(false)], { ...still, stopped: () => true })
    expect(own.poses).toEqual(before)
  })
  it('goes on evenly over frames that do not say how far it has slid', () => {
    // Hand and tip are hidden on three frames: only the middle of the rod shows.
    const blind = views.map((view, f) => {
      if (f < 3 || f > 5) return view
      const data = Uint8Array.from(view.data)
      const [tx, ty] = tipOf(truth(f))
      for (let y = 0, at = 0; y < view.height; y++)
        for (let x = 0; x < view.width; x++, at += 8)
          if (Math.hypot(x - truth(f).hx, y - truth(f).hy) < 32 || Math.hypot(x - tx, y - ty) < 32)
            for (let k = 0; k < 3; k++) data[at + k] = data[at + 3 + k]!
      return { ...view, data }
    })
    const own = path(
      views.map((_, f) => (f >= 3 && f <= 5 ? slid(truth(f), 8) : truth(f))),
      false,
      blind,
    )
    easeAlong(own)
    own.poses.forEach((pose, f) => expect(farthest(pose, truth(f)), `frame ${f}`).toBeLessThan(2.5))
  })
})

describe('the whole frame', () => {
  it('shows where the rod lies, whichever way round', () => {
    const lines = likelyLines(views[4]!, look, 100, 4)
    const near = lines.filter((pose) => farthest(pose, truth(4)) < 16)
    expect(near.length).toBeGreaterThan(0)
    const bare = { ...views[4]!, data: Uint8Array.from(views[4]!.data) }
    for (let at = 0; at < bare.data.length; at += 8) bare.data.copyWithin(at, at + 3, at + 6)
    expect(likelyLines(bare, look, 100, 4)).toEqual([])
  })
})
