import { describe, expect, it } from 'vitest'
import { makeEffect } from '../effects/make.ts'
import { isCurve } from '../parameters/parameters.ts'
import { makeKey } from '../records/make.ts'
import { Records } from '../records/records.ts'
import { clipPlace, clipRange, framesShowing } from '../records/timing.ts'
import { type AnyRecord, type Part, type Shot, shotLength, type Tween } from '../records/types.ts'
import { makePaintedKey, makePart } from '../shapes/make.ts'
import { trackOf } from '../shapes/riding.ts'
import { isAway, shapeAt } from '../shapes/track.ts'
import { cutTo, heldFor, retime, type Retiming, runAt as runOf, type Speed } from './retime.ts'

const shot: Shot = { type: 'shot', id: 's', media: 'm', name: 'Shot', order: 1, in: 10, out: 50, join: 0 }
/** A rod that swings up, stops, and comes down faster. */
const swing = [
  [0, 0],
  [8, 20],
  [14, 70],
  [20, 90],
  [31, 90],
  [39, -30],
] as const
const rod = ([frame, degrees]: readonly [number, number]) => {
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)]
  return makeKey('p', frame, [100 + frame, 200, 100 + frame + 80 * c, 200 - 80 * s])
}
const swinging = (tween: Tween, more: AnyRecord[] = []): Records =>
  new Records([
    shot,
    { type: 'member', id: 'c', shot: 's', name: 'Prop', kind: 'prop', colour: 0, order: 1 },
    { ...makePart({ id: 'p', member: 'c', name: 'shaft', kind: 'rod', order: 1 }), tween, hold: false },
    ...swing.map(rod),
    ...more,
  ])
/** Its clip has 60 frames. */
const runAt = (of: Shot, speed: Speed) => runOf(of, speed, 60)
let made = 0
const newId = () => `new${made++}`
const now = (records: Records) => records.get('shot', 's')!
function apply(records: Records, retiming: Retiming) {
  records.apply(retime(records, now(records), retiming, newId))
  return now(records)
}
const part = (records: Records): Part => records.get('part', 'p')!
/** Places in the clip of all frames. */
const places = (one: Shot) => Array.from({ length: shotLength(one) }, (_, frame) => clipPlace(one, frame).frame)
const half: Speed = { from: 8, to: 20, speed: 0.5, backwards: false, between: 'blended' }

/** The farthest (plate pixels) that a frame's shape lies from where it was on what the frame shows. */
function farthest(before: Records, after: Records): number {
  const [old, track] = [trackOf(before, part(before)), trackOf(after, part(after))]
  return Math.max(
    ...places(now(after)).map((place, frame) => {
      const [was, is] = [shapeAt(old, place - shot.in), shapeAt(track, frame)]
      if (!was || !is) return was === is ? 0 : Infinity
      return Math.max(...was.map((v, i) => Math.abs(v - is[i]!)))
    }),
  )
}

describe('the places of frames', () => {
  it('are those of the clip while nobody changes them', () => {
    expect(places(shot).slice(0, 3)).toEqual([10, 11, 12])
    expect(clipPlace(shot, 500).frame).toBe(49)
  })
  it('stand still for as long as a frame is held', () => {
    const held = apply(swinging('arc'), heldFor(shot, 5, 3))
    expect(places(held).slice(4, 10)).toEqual([14, 15, 15, 15, 15, 16])
    expect(shotLength(held)).toBe(43)
  })
  it('come at half of their distance where they run at half speed, and each twice where they are repeated', () => {
    const blended = apply(swinging('arc'), runAt(shot, half))
    expect(places(blended).slice(7, 12)).toEqual([17, 18, 18.5, 19, 19.5])
    expect(shotLength(blended)).toBe(53)
    const repeated = apply(swinging('arc'), runAt(shot, { ...half, between: 'repeated' }))
    expect(places(repeated).slice(7, 12)).toEqual([17, 18, 18, 19, 19])
  })
  it('run backwards, and so does the clip that they are made from', () => {
    const back = apply(swinging('arc'), runAt(shot, { ...half, from: 0, to: 39, speed: 2, backwards: true }))
    expect(places(back).slice(0, 3)).toEqual([49, 47, 45])
    expect(shotLength(back)).toBe(20)
    expect(clipRange(back)).toEqual({ from: 11, to: 50 })
    expect(framesShowing(back).get(45)).toBe(2)
    const slowly = apply(swinging('arc'), runAt(shot, { ...half, backwards: true, between: 'repeated' }))
    expect(places(slowly).slice(7, 13)).toEqual([17, 30, 30, 29, 29, 28])
  })
  it('are as they were filmed again when they run at their own speed, or are let go', () => {
    const records = swinging('arc')
    const slow = apply(records, runAt(shot, { ...half, to: 30, speed: 0.25 }))
    const again = apply(records, runAt(slow, { ...half, from: 8, to: 99, speed: 1 }))
    expect(again.timing).toBeNull()
    expect([again.in, again.out]).toEqual([10, 50])
    const held = apply(records, heldFor(again, 39, 12))
    expect(apply(records, runAt(held, { ...half, from: 40, to: 51, speed: 1 })).timing).toBeNull()
  })
  it('end with the clip where nothing comes behind it, or before it', () => {
    const last: Shot = { ...shot, out: 60 }
    const slow = runAt(last, { ...half, from: 40, to: 49, speed: 0.25 })
    expect(slow.shows.length - 40).toBe(37)
    expect(runAt(last, { ...half, from: 40, to: 49, speed: 0.25, between: 'repeated' }).shows.length - 40).toBe(40)
    const first: Shot = { ...shot, in: 0 }
    expect(runAt(first, { ...half, from: 0, to: 9, backwards: true }).shows.length - 40).toBe(19)
  })
  it('come each once again, in their order, where a piece of many ways runs as it was filmed', () => {
    const records = swinging('arc')
    apply(records, heldFor(shot, 12, 5))
    apply(records, runAt(now(records), { ...half, from: 20, to: 30, speed: 1, backwards: true }))
    apply(records, runAt(now(records), { ...half, from: 33, to: 40 }))
    const again = apply(records, runAt(now(records), { ...half, from: 0, to: 99, speed: 1 }))
    expect([again.in, again.out, again.timing]).toEqual([10, 50, null])
    const keys = records.childrenOf('key', 'p').filter((key) => (key.followed ?? null) === null)
    expect(keys.map((key) => key.frame)).toEqual(swing.map(([frame]) => frame))
  })
  it('are refused with a sentence where they can not be', () => {
    expect(() => runAt(shot, { ...half, speed: 0 })).toThrow('Frames run at 2 to 2000 % of their speed')
    expect(() => heldFor(shot, 3, 0)).toThrow('one frame more at least')
    expect(() => heldFor(shot, 3, 20_000)).toThrow('10000 are the most')
  })
})

describe('what is traced', () => {
  const changes: [string, (shot: Shot) => Retiming][] = [
    ['held in the middle of a swing', (one) => heldFor(one, 11, 7)],
    ['held on a key', (one) => heldFor(one, 14, 5)],
    ['at half speed', (one) => runAt(one, half)],
    ['at a speed that meets few whole frames', (one) => runAt(one, { ...half, speed: 0.37 })],
    ['each frame shown three times', (one) => runAt(one, { ...half, speed: 1 / 3, between: 'repeated' })],
    ['three times as fast', (one) => runAt(one, { ...half, from: 3, to: 35, speed: 3 })],
    ['backwards', (one) => runAt(one, { ...half, speed: 1, backwards: true })],
    ['backwards and slowly, to the end', (one) => runAt(one, { ...half, to: 39, speed: 0.4, backwards: true })],
    ['cut shorter', (one) => cutTo(one, 15, 40)],
  ]
  for (const tween of ['arc', 'straight', 'eased', 'held'] as const)
    it.each(changes)(`lies where it lay, ${tween} between its keys: %s`, (_, change) => {
      const [before, after] = [swinging(tween), swinging(tween)]
      apply(after, change(shot))
      // A quarter of a pixel is what keys are set for, and a thousandth is how they are kept.
      expect(farthest(before, after)).toBeLessThan(0.252)
    })
  it('needs few keys for that: a swing at half speed those that it had, and one where the speed changes between two', () => {
    const records = swinging('straight')
    apply(records, runAt(shot, half))
    const keys = records.childrenOf('key', 'p')
    expect(keys.length).toBeLessThanOrEqual(swing.length + 1)
    expect(keys.filter((key) => (key.followed ?? null) === null)).toHaveLength(swing.length)
    expect(keys.map((key) => key.frame)).toContain(8 + 2 * 6)
  })
  it('is away on the frames that show where it was away, and nowhere else', () => {
    const records = swinging('arc', [{ type: 'away', id: 'a', part: 'p', from: 12, to: 15 }])
    const back = apply(records, runAt(shot, { ...half, to: 30, backwards: true }))
    const track = trackOf(records, part(records))
    for (const [frame, place] of places(back).entries()) {
      const was = Math.round(place - shot.in)
      // Halfway between two frames it is either.
      if (Number.isInteger(place)) expect(isAway(track, frame), `frame ${frame}`).toBe(was >= 12 && was <= 15)
    }
  })
  it('comes to be nowhere where it was not', () => {
    const records = swinging('arc')
    for (const frame of [0, 8]) records.apply({ put: [], remove: [{ type: 'key', id: `p@${frame}` }] })
    apply(records, runAt(shot, { ...half, from: 6, to: 20, speed: 1, backwards: true }))
    const track = trackOf(records, part(records))
    // Frames 6 to 20 backwards: what was on 14 to 20 is on 6 to 12, then nothing until 21 follows on 20.
    expect([5, 6, 12, 13, 20, 21].map((frame) => shapeAt(track, frame) !== null)).toEqual([
      ...[false, true, true, false, false, true],
    ])
  })
  it('keeps painted mattes on their pictures, with the strokes that they were grown from', () => {
    const painted = [4, 5, 6].map((frame) =>
      makePaintedKey('q', frame, { x: frame, y: 5, width: 2, height: 1, data: Uint8Array.of(9, 255) }, null),
    )
    const records = swinging('arc', [
      makePart({ id: 'q', member: 'c', name: 'matte', kind: 'painted', order: 2 }),
      ...painted,
      { type: 'stroke', id: 'w', part: 'q', frame: 5, order: 1, wanted: true, size: 9, points: [1, 2] },
    ])
    apply(records, heldFor(shot, 5, 2))
    const keys = records.childrenOf('key', 'q')
    expect(keys.map((key) => [key.frame, key.matte?.x])).toEqual([
      [4, 4],
      [5, 5],
      [6, 5],
      [7, 5],
      [8, 6],
    ])
    expect(records.get('stroke', 'w')!.frame).toBe(5)
  })
})

describe('what happens on frames', () => {
  const lit = { keys: [4, 12, 30].map((frame) => ({ frame, value: frame / 50, ease: 'eased' as const })) }
  const card = makeEffect({ id: 'e', shot: 's', kind: 'blade', order: 1, target: 'c', settings: { lit } })
  const more: AnyRecord[] = [
    {
      ...{ ...card, range: { from: 10, to: 25, fadeIn: 2, fadeOut: 2 } },
      behindRange: { from: 10, to: 25, fadeIn: 0, fadeOut: 0 },
    },
    { type: 'mark', id: 'n', shot: 's', frame: 30, note: 'the turn' },
  ]
  const state = (records: Records) => {
    const { range, behindRange, settings } = records.get('effect', 'e')!
    // A cover's frames go as the card's own do.
    expect([behindRange!.from, behindRange!.to]).toEqual([range!.from, range!.to])
    const frames = isCurve(settings.lit) && settings.lit.keys.map((key) => key.frame)
    return { frames, range: [range!.from, range!.to], mark: records.get('mark', 'n')!.frame }
  }
  it('goes along: cards, their numbers and notes', () => {
    const held = swinging('arc', more)
    apply(held, heldFor(shot, 11, 10))
    expect(state(held)).toEqual({ frames: [4, 22, 40], range: [10, 35], mark: 40 })
    const slow = swinging('arc', more)
    apply(slow, runAt(shot, half))
    expect(state(slow)).toEqual({ frames: [4, 16, 43], range: [12, 38], mark: 43 })
    const back = swinging('arc', more)
    apply(back, runAt(shot, { ...half, speed: 1, backwards: true }))
    expect(state(back)).toEqual({ frames: [4, 16, 30], range: [18, 25], mark: 30 })
  })
  it('comes back with one undo', () => {
    const records = swinging('arc', more)
    const before = [...records.values()]
    const undo = records.apply(retime(records, shot, runAt(shot, { ...half, backwards: true }), newId))
    records.apply(undo)
    for (const record of before) expect(records.get(record.type, record.id)).toEqual(record)
    expect([...records.values()]).toHaveLength(before.length)
  })
})

it('frames that a card names go along with the picture that they were named for', () => {
  const flash = makeEffect({
    ...{ id: 'f', shot: 's', kind: 'flash', order: 1, target: 'c' },
    settings: { when: 'frames', frames: '4, 12, 30' },
  })
  const frames = (retiming: Retiming) => {
    const records = swinging('arc', [flash])
    apply(records, retiming)
    return records.get('effect', 'f')!.settings.frames
  }
  expect(frames(heldFor(shot, 5, 3))).toBe('4, 15, 33')
  expect(frames(cutTo(shot, 8, 50))).toBe('6, 14, 32')
})
