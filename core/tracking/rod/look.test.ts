import { pictureOnly, viewNumbers } from '../../pixels/kernels/station.ts'
import { describe, expect, it } from 'vitest'
import { drawnRod } from '#lab/support/drawnRod.ts'
import { colourParts, placesSay, rodFit } from './evidence.ts'
import { emergenceOf, learnedLook, likelyShutter, type LookKey, stepAt } from './look.ts'
import { atRest, motionBetween, movedAcross, type RodPose, slid, turnedAtHeel } from './pose.ts'
import type { RodView } from './view.ts'

const pose: RodPose = { hx: 40, hy: 110, angle: -0.5, length: 110 }
const colour: [number, number, number] = [190, 120, 140]
const shutter = 0.5
const resting = drawnRod({ pose, width: 6, colour })
const key = (given: Partial<LookKey> = {}): LookKey => ({ view: resting, pose, motion: atRest, ...given })
const learned = (keys: LookKey[], width = 6) => learnedLook(keys, width, width, shutter)
const middle = (values: Float32Array, k: number) => values[3 * (colourParts / 2) + k]!

describe('the look that hand keys teach', () => {
  it('has the colour and the width of the rod', () => {
    const look = learned([key()])
    for (const k of [0, 1, 2]) expect(Math.abs(middle(look.colour, k) - colour[k]!)).toBeLessThan(3)
    expect(look.widthHeel).toBe(6)
    expect(look.told).toBeGreaterThan(0.7)
    expect(Math.abs(look.tipShort)).toBeLessThanOrEqual(1)
  })
  it('measures a width that was left much too large, or too small', () => {
    const width = (set: number) => learned([key()], set).widthHeel
    expect(Math.abs(width(10) - 6)).toBeLessThan(1.6)
    expect(Math.abs(width(3.5) - 6)).toBeLessThan(1.6)
  })
  it('knows the colour under the blur of a fast key', () => {
    const to = turnedAtHeel(pose, 0.25)
    const view = drawnRod({ pose, to, width: 6, colour })
    const middlePose = turnedAtHeel(pose, 0.125)
    // The shutter is open over half of a frame.
    const motion = { ...motionBetween(pose, to), angle: 0.25 / shutter }
    const look = learned([{ view, pose: middlePose, motion }])
    for (const k of [0, 1, 2]) expect(Math.abs(middle(look.colour, k) - colour[k]!)).toBeLessThan(14)
    expect(rodFit(view, look, middlePose, motion)).toBeGreaterThan(0.7)
  })
  it('is learned from what lies beside the rod where nothing is known of what stands behind it', () => {
    const unknown = (view: RodView): RodView => {
      const data = view.data.slice()
      for (let at = 0; at < data.length; at += viewNumbers) data.set([0, 0, 0, 0, pictureOnly], at + 3)
      return { ...view, data }
    }
    const blind = unknown(resting)
    const look = learned([key({ view: blind })])
    for (const k of [0, 1, 2]) expect(Math.abs(middle(look.colour, k) - colour[k]!)).toBeLessThan(6)
    expect(look.told).toBeGreaterThan(0.5)
    // Looking around quickly finds it, too.
    for (const every of [1, 3]) {
      const fit = (one: RodPose) => rodFit(blind, look, one, atRest, every)
      expect(fit(pose)).toBeGreaterThan(0.4)
      expect(fit(movedAcross(pose, 12))).toBeLessThan(0.1)
    }
  })
  it('is not spoilt by a key whose ends a hand has set a little beside it', () => {
    const beside = turnedAtHeel(movedAcross(pose, 1.5), -1.5 / pose.length)
    const look = learned([key({ pose: beside })])
    for (const k of [0, 1, 2]) expect(Math.abs(middle(look.colour, k) - colour[k]!)).toBeLessThan(4)
    expect(look.widthHeel).toBe(6)
  })
  it('tells nothing where no rod lies, and little is believed of one key among three', () => {
    const astray = key({ pose: { ...pose, hy: 60, angle: 0.1 } })
    expect(learned([astray]).told).toBeLessThan(0.3)
    const look = learned([key(), astray, key({ pose: { ...pose, length: 109 } })])
    for (const k of [0, 1, 2]) expect(Math.abs(middle(look.colour, k) - colour[k]!)).toBeLessThan(4)
  })
  it('ends where the keys that show it say it ends; one key that was set too long does not move that', () => {
    const long = { ...pose, length: 120 }
    expect(Math.abs(learned([key({ pose: long })]).tipShort - 10)).toBeLessThan(2.5)
    expect(Math.abs(learned([key(), key({ pose: long })]).tipShort)).toBeLessThanOrEqual(1)
  })
})

describe('how long the shutter is open', () => {
  /** A key of a rod that turns by a quarter within a frame, of which the shutter sees so much. */
  const turning = (open: number): LookKey => {
    const by = 0.3 * open
    const view = drawnRod({ pose, to: turnedAtHeel(pose, by), width: 6, colour })
    return { view, pose: turnedAtHeel(pose, by / 2), motion: { ...atRest, angle: 0.3 } }
  }
  it('shows on a key whose motion is known, from bright light to dim', () => {
    for (const open of [0.04, 0.2, 0.5, 0.9]) {
      const found = likelyShutter([turning(open)], 6, 6, shutter)
      expect(Math.abs(found - open), `open for ${open}`).toBeLessThan(0.04 + 0.25 * open)
    }
  })
  it('is the usual one where no key moves, or no motion is known', () => {
    expect(likelyShutter([key()], 6, 6, shutter)).toBe(shutter)
    expect(likelyShutter([{ view: resting, pose }], 6, 6, shutter)).toBe(shutter)
  })
})

describe('a pose', () => {
  const look = learned([key()])
  it('fits where the rod is, less beside it, and not at all elsewhere', () => {
    const fit = (one: RodPose) => rodFit(resting, look, one, atRest)
    expect(fit(pose)).toBeGreaterThan(0.5)
    expect(fit(movedAcross(pose, 3))).toBeLessThan(fit(pose) - 0.15)
    expect(fit(movedAcross(pose, 30))).toBeLessThan(0.1)
    expect(fit(turnedAtHeel(pose, 0.1))).toBeLessThan(fit(pose) - 0.2)
  })
  it('is told by its blur: the motion that the shutter saw fits best', () => {
    const to = turnedAtHeel(pose, 0.3)
    const view = drawnRod({ pose, to, width: 6, colour })
    const fit = (angle: number) => rodFit(view, look, turnedAtHeel(pose, 0.15), { ...atRest, angle: angle / shutter })
    expect(fit(0.3)).toBeGreaterThan(fit(0) + 0.2)
    expect(fit(0.3)).toBeGreaterThan(fit(0.6) + 0.05)
  })
})

describe('where a rod comes out of the hand', () => {
  it('is where its own colour begins', () => {
    const view = drawnRod({ pose, width: 6, colour, hand: 12 })
    const look = learned([key({ view })])
    const { at, step } = emergenceOf(key({ view }), look)
    expect(Math.abs(at - 12)).toBeLessThan(3)
    expect(step).toBeGreaterThan(0.4)
  })
})

describe('a step', () => {
  it('is the more that the places behind it say, and nothing beyond what was read', () => {
    const says = Float32Array.from({ length: 40 }, (_, i) => (i < 20 ? 0.1 : 0.9))
    expect(stepAt(says, 20)).toBeCloseTo(0.8)
    expect(stepAt(says, 10)).toBeCloseTo(0)
    for (const i of [-5, 0, 2, 38, 40, 60]) expect(stepAt(says, i)).toBe(0)
    expect(stepAt(new Float32Array(40).fill(NaN), 20)).toBe(0)
  })
  it('is read along a rod from places that lie in the picture', () => {
    const out = slid(pose, -80)
    const says = placesSay(resting, learned([key()]), out, atRest, 0, 1, 30)
    expect(says.every(Number.isNaN)).toBe(true)
  })
})
