import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { demoMedia } from '#lab/support/places.ts'
import type { Drive } from '../parameters/drives.ts'
import type { TracedPart } from '../shapes/traced.ts'
import { contactsOf, distanceAt, meetingAt } from './contacts.ts'
import { signalReader } from './signals.ts'

const rod = (at: TracedPart['at'], id = 'rod'): TracedPart => ({
  ...{ id, kind: 'rod', role: 'add', settings: { widthHeel: 6, widthTip: 6, reach: 0 } },
  at,
})
const oval = (at: TracedPart['at']): TracedPart => ({ id: 'oval', kind: 'oval', role: 'add', settings: {}, at })
const drive = (signal: Drive['signal'], more: Partial<Drive> = {}): Drive => ({
  ...{ signal, of: 'a', with: 'b', from: [0, 1], to: [0, 1], bend: [0, 0, 1, 1], smooth: 0, lag: 0 },
  ...more,
})
const reader = (a: TracedPart[], b: TracedPart[] = [], length = 40) =>
  signalReader({
    length,
    join: 0,
    brightness: () => null,
    loudness: () => null,
    member: (id) => (id === 'a' ? a : id === 'b' ? b : []),
  })

describe('signals of a rod that turns by 6 degrees a frame about its heel', () => {
  const turning = rod((t) => {
    const angle = (t * 6 * Math.PI) / 180
    return [100, 200, 100 + 80 * Math.cos(angle), 200 + 80 * Math.sin(angle)]
  })
  const { read } = reader([turning])
  it.each([
    ['tipSpeed', (80 * 2 * Math.sin((3 * Math.PI) / 180)) / 1, 0.02],
    ['heelSpeed', 0, 1e-9],
    ['speed', 40 * 2 * Math.sin((3 * Math.PI) / 180), 0.05],
    ['angle', 60, 1e-9],
    ['turning', 6, 1e-6],
    ['length', 80, 1e-9],
    ['x', 100 + 40 * Math.cos(Math.PI / 3), 1e-6],
    ['y', 200 + 40 * Math.sin(Math.PI / 3), 1e-6],
  ] as const)('%s', (signal, value, within) => {
    expect(Math.abs(read(drive(signal), 10)! - value)).toBeLessThanOrEqual(within)
  })
  it('comes late by its lag, and smoothing keeps what does not change', () => {
    expect(read(drive('angle', { lag: 4 }), 10)).toBeCloseTo(36, 9)
    expect(read(drive('length', { smooth: 3 }), 10)).toBeCloseTo(80, 9)
  })
  it('says nothing of somebody who is not there', () => {
    expect(read(drive('speed', { of: 'nobody' }), 10)).toBeNull()
    expect(reader([rod(() => null)]).read(drive('tipSpeed'), 3)).toBeNull()
    expect(read(drive('distance'), 3)).toBeNull()
    expect(read(drive('contact'), 3)).toBeNull()
  })
})

it('the area of an oval is that of the ellipse', () => {
  const { read } = reader([oval(() => [50, 60, 80, 60, 50, 80])])
  expect(read(drive('area'), 0)! / (Math.PI * 30 * 20)).toBeCloseTo(1, 2)
})

describe('contacts', () => {
  /** Two rods side by side: the one on the left swings in, stops dead at `stop`, and springs back. */
  const still = rod(() => [200, 300, 200, 100], 'still')
  const swinging = (stop: number) =>
    rod((t) => {
      const x = t < stop ? 120 + (110 * t) / stop : 230 - 6 * (t - stop)
      return [60, 200, x, 200]
    }, 'swinging')
  it('lie where the swing is stopped, at the crossing, with the speed of the swing', () => {
    const [contact, ...more] = contactsOf([swinging(11)], [still], 30)
    expect(more).toEqual([])
    expect(contact!.frame).toBe(11)
    expect(contact!.x).toBeCloseTo(200, 6)
    expect(contact!.y).toBeCloseTo(200, 6)
    expect(contact!.speed).toBeCloseTo(10, 3)
  })
  it('are not found where props never meet, or overlap without coming together', () => {
    expect(contactsOf([rod((t) => [60, 200, 120 + t, 200])], [still], 30)).toEqual([])
    expect(contactsOf([rod(() => [60, 200, 240, 200])], [still], 30)).toEqual([])
  })
  it('feed a signal: frames since the last one', () => {
    const { read } = reader([swinging(11)], [still], 30)
    expect(read(drive('contact'), 10.9)).toBeNull()
    expect(read(drive('contact'), 14.5)).toBeCloseTo(3.5, 9)
  })
  it('the drawn poles clash when and where the drawing says', () => {
    const truth = JSON.parse(readFileSync(join(demoMedia, 'two-poles.truth.json'), 'utf8')) as {
      rods: { width: number; points: number[][] }[]
      contacts: { frame: number; x: number; y: number }[]
    }
    const [left, right] = truth.rods.map((one) =>
      rod((t) => {
        const i = Math.floor(t)
        const [a, b] = [one.points[i], one.points[Math.min(one.points.length - 1, i + 1)]]
        return a && b ? a.map((v, k) => v + (b[k]! - v) * (t - i)) : null
      }),
    ) as [TracedPart, TracedPart]
    const found = contactsOf([left], [right], 72)
    expect(found).toHaveLength(2)
    for (const [i, { frame, x, y }] of truth.contacts.entries()) {
      expect(Math.abs(found[i]!.frame - frame)).toBeLessThanOrEqual(1)
      const meeting = meetingAt([left], [right], frame)!
      expect(Math.hypot(meeting.x - x, meeting.y - y)).toBeLessThan(1)
    }
  })
  it('the distance is that of the edges: of a rod its width, of an oval its rim', () => {
    const one = oval(() => [100, 100, 120, 100, 100, 120])
    expect(distanceAt([still], [one], 0)).toBeCloseTo(200 - 120 - 3, 0)
    expect(distanceAt([oval(() => [190, 200, 230, 200, 190, 240])], [still], 0)).toBe(0)
  })
})
