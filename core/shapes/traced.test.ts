import { describe, expect, it } from 'vitest'
import type { Raster } from '../pixels/buffers/raster.ts'
import { Records } from '../records/records.ts'
import type { Media } from '../records/types.ts'
import { makePaintedKey, makePart } from './make.ts'
import { isTold, tracedPart } from './riding.ts'
import { motionBetween, pointsBetween } from './traced.ts'

/** Pixels of an ellipse about (x, y) with half axes a and b, turned by degrees. */
function ellipse(x: number, y: number, a: number, b: number, degrees: number): Raster {
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)]
  const data = Uint8Array.from({ length: 200 * 160 }, (_, i) => {
    const [dx, dy] = [(i % 200) + 0.5 - x, Math.floor(i / 200) + 0.5 - y]
    return ((dx * c + dy * s) / a) ** 2 + ((dy * c - dx * s) / b) ** 2 <= 1 ? 255 : 0
  })
  return { x: 0, y: 0, width: 200, height: 160, data }
}
function painted(...frames: Raster[]) {
  const part = makePart({ id: 'p', member: 'm', name: 'paint', kind: 'painted', order: 1 })
  const records = new Records([
    { type: 'media', id: 'clip' } as Media,
    { type: 'shot', id: 's', media: 'clip', name: 'Shot', order: 1, in: 0, out: 10, join: 0 },
    { type: 'member', id: 'm', shot: 's', name: 'm', kind: 'performer', colour: 0, order: 1 },
    part,
    ...frames.map((raster, i) => makePaintedKey('p', i, raster, null)),
  ])
  return tracedPart(records, part)
}
const turnOf = ({ ar, ai }: { ar: number; ai: number }) => (Math.atan2(ai, ar) * 180) / Math.PI

describe('how a painted part moves', () => {
  it('is the way, the growth and the turn of what is drawn', () => {
    const part = painted(ellipse(70, 80, 50, 18, 10), ellipse(95, 70, 60, 21.6, 35))
    const motion = motionBetween(part, 0, 1)!
    expect(turnOf(motion)).toBeCloseTo(25, 0)
    expect(Math.hypot(motion.ar, motion.ai)).toBeCloseTo(1.2, 2)
    const at = (x: number, y: number) => [
      motion.ar * x - motion.ai * y + motion.br,
      motion.ai * x + motion.ar * y + motion.bi,
    ]
    expect(at(70, 80)[0]).toBeCloseTo(95, 0)
    expect(at(70, 80)[1]).toBeCloseTo(70, 0)
  })
  it('has no turn where it is round, whichever way its axes happen to lie', () => {
    const part = painted(ellipse(70, 80, 40, 39, 0), ellipse(80, 80, 39, 40, 20))
    expect(Math.abs(turnOf(motionBetween(part, 0, 1)!))).toBeLessThan(0.01)
    expect(motionBetween(part, 0, 1)!.br).toBeCloseTo(10, 0)
  })
  it('goes straight between two frames, and is nothing where it is away', () => {
    const part = painted(ellipse(70, 80, 50, 18, 0), ellipse(80, 80, 50, 18, 0))
    expect(pointsBetween(part, 0.25)![0]).toBeCloseTo(72.5, 1)
    expect(motionBetween(part, 0, 0.5)!.br).toBeCloseTo(5, 1)
    expect(motionBetween(part, 0, 7)).toBeNull()
  })
})

it('where a member is is told by a shape of it, or by its being away; who has no key is nowhere', () => {
  const raster: Raster = { x: 0, y: 0, width: 4, height: 4, data: new Uint8Array(16).fill(255) }
  const records = new Records([
    makePart({ id: 'matte', member: 'm', name: 'matte', kind: 'painted', order: 1 }),
    makePart({ id: 'empty', member: 'nobody', name: 'arm', kind: 'outline', order: 1 }),
    makePaintedKey('matte', 3, raster, null),
    { type: 'away', id: 'a', part: 'matte', from: 6, to: 8 },
  ])
  expect([2, 3, 4, 6, 8, 9].map((frame) => isTold(records, 'm', frame))).toEqual([
    false,
    true,
    false,
    true,
    true,
    false,
  ])
  expect(isTold(records, 'nobody', 5)).toBe(true)
})
