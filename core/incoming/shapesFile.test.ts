import { describe, expect, it } from 'vitest'
import { makeKey } from '../records/make.ts'
import { Records } from '../records/records.ts'
import type { AnyRecord, Key, Member, Part } from '../records/types.ts'
import { cornerNodes } from '../shapes/kinds/outline.ts'
import { makePart } from '../shapes/make.ts'
import { shapeOf } from '../shapes/riding.ts'
import { writeShapes } from '../outgoing/shapesFile.ts'
import { readShapes } from './shapesFile.ts'

const plate = { width: 1280, height: 720, rate: 24, frames: 30 }
const member: Member = { type: 'member', id: 'p', shot: 's', name: 'Ferry pole', kind: 'prop', colour: 2, order: 1 }
const part = (id: string, kind: string, order: number, given: Partial<Part> = {}) =>
  makePart({ id, member: 'p', name: id, kind, order, ...given })
const square = cornerNodes([10, 10, 60, 10, 60, 60, 10, 60])
const cast: AnyRecord[] = [
  member,
  part('shaft', 'rod', 1, { settings: { widthHeel: 12, reach: 100 } as never, tween: 'eased' }),
  part('eye', 'oval', 2, { role: 'cut' }),
  part('hood', 'outline', 3),
  part('cloth', 'painted', 4),
  makeKey('shaft', 0, [100, 200, 400, 300]),
  makeKey('shaft', 12, [120, 210, 390, 350], 'held'),
  makeKey('shaft', 13, [121, 211, 391, 351], '', 0.62),
  makeKey('eye', 5, [50, 60, 70, 60, 50, 66]),
  makeKey('hood', 3, square),
  { type: 'away', id: 'a', part: 'shaft', from: 20, to: 24 },
]
let ids = 0
const newId = () => `n${++ids}`
const target = (records: AnyRecord[] = []) => ({ records: new Records(records), shot: 't', plate })
const told = (records: AnyRecord[]) => ({
  members: records.filter((one) => one.type === 'member'),
  parts: records.filter((one) => one.type === 'part'),
  keys: records.filter((one): one is Key => one.type === 'key'),
  aways: records.filter((one) => one.type === 'away'),
})
const file = (change: (file: { [name: string]: never } & { members: { parts: unknown[] }[] }) => void = () => {}) => {
  const parsed = JSON.parse(writeShapes(new Records(cast), [member], plate)) as never
  change(parsed)
  return JSON.stringify(parsed)
}

describe('a file of shapes', () => {
  it('brings everything back as it was: shapes, in-betweens, what was followed, ranges, settings', () => {
    const { members, parts, keys, aways } = told(readShapes(file(), target(), newId))
    expect(members).toMatchObject([{ name: 'Ferry pole', kind: 'prop', shot: 't' }])
    expect(parts.map(({ name, kind, role, tween }) => [name, kind, role, tween])).toEqual([
      ['shaft', 'rod', 'add', 'eased'],
      ['eye', 'oval', 'cut', 'arc'],
      ['hood', 'outline', 'add', 'arc'],
    ])
    expect(parts[0]!.settings).toMatchObject({ widthHeel: 12, reach: 100 })
    expect(keys.map(({ frame, points, tween, followed }) => [frame, points, tween, followed])).toEqual(
      cast
        .filter((one): one is Key => one.type === 'key')
        .map(({ frame, points, tween, followed }) => [frame, points, tween, followed]),
    )
    expect(aways).toMatchObject([{ from: 20, to: 24 }])
    // New to whoever takes it in, also a second time.
    const again = told(readShapes(file(), target([...members, ...parts]), newId))
    expect(again.members[0]).toMatchObject({ name: 'Ferry pole 2' })
    expect(again.parts.some(({ id }) => parts.some((one) => one.id === id))).toBe(false)
  })

  it('of a plate of half the size grows with it, lengths too', () => {
    const small = file((one) => Object.assign(one, { width: 640, height: 360 }))
    const { parts, keys } = told(readShapes(small, target(), newId))
    expect(keys[0]!.points).toEqual([200, 400, 800, 600])
    expect(parts[0]!.settings).toMatchObject({ widthHeel: 24, reach: 200 })
    // What would be too long then is as long as can be.
    const tiny = file((one) => Object.assign(one, { width: 16, height: 9 }))
    expect(told(readShapes(tiny, target(), newId)).parts[0]!.settings).toMatchObject({ widthHeel: 400, reach: 2000 })
    const square = file((one) => Object.assign(one, { width: 720, height: 720 }))
    expect(told(readShapes(square, target(), newId)).keys[0]!.points).toEqual([380, 200, 680, 300])
  })

  it('what rides on something is there on every frame, where it was seen', () => {
    const carrier = part('shaft', 'rod', 1)
    const from = [{ part: 'shaft', points: [100, 200, 400, 300] }]
    const rider = part('mark', 'point', 2, { hold: true, ride: { on: 'shaft', from } })
    const records = new Records([
      ...[member, carrier, rider, makeKey('mark', 0, [250, 250])],
      ...[makeKey('shaft', 0, [100, 200, 400, 300]), makeKey('shaft', 10, [200, 200, 500, 300])],
    ])
    const { keys, parts } = told(readShapes(writeShapes(records, [member], plate), target(), newId))
    const mine = keys.filter((key) => key.part === parts[1]!.id)
    expect(mine.length).toBeGreaterThanOrEqual(11)
    for (const { frame, points } of mine)
      shapeOf(records, rider, frame)!.forEach((v, i) => expect(points[i]).toBeCloseTo(v, 2))
  })
})

describe('a file of shapes that is wrong says why', () => {
  const broken = (change: (one: { keys: { frame: unknown; points: unknown }[]; [name: string]: unknown }) => void) =>
    file(({ members }) => change(members[0]!.parts[0] as never))
  it.each<[string, string, RegExp]>([
    ['no JSON', '{"format":', /no JSON file, or it is cut short/],
    ['another JSON', '{"a": 1}', /holds no shapes/],
    ['a newer one', file((one) => Object.assign(one, { version: 9 })), /newer version/],
    ['without a size', file((one) => Object.assign(one, { width: 'wide' })), /how large the plate/],
    ['nobody', file((one) => one.members.splice(0)), /nobody in this file/],
    ['an unknown kind', broken((one) => (one.kind = 'star')), /of no kind that is known: “star”/],
    ['pixels', broken((one) => (one.kind = 'painted')), /of no kind that is known/],
    [
      'a number too few',
      broken((one) => (one.keys[0]!.points = [1, 2, 3])),
      /shaft at frame 0 has points that make no rod/,
    ],
    ['a place that is none', broken((one) => (one.keys[0]!.points = [1, 2, 3, 'x'])), /points that make no rod/],
    ['two keys on a frame', broken((one) => (one.keys[1]!.frame = 0)), /two keys on one frame/],
    ['half a frame', broken((one) => (one.keys[0]!.frame = 0.5)), /The frame must be a whole number/],
    ['no keys', broken((one) => (one.keys = null as never)), /shaft has no proper list of “keys”/],
    ['a setting that is unknown', broken((one) => (one.settings = { glitter: 1 })), /part was refused/],
    ['no name', broken((one) => delete one.name), /part was refused/],
    ['no way to add', broken((one) => (one.role = 'eat')), /adds to, cuts from or limits/],
  ])('%s', (_, text, sentence) => {
    expect(() => readShapes(text, target(), newId)).toThrow(sentence)
  })
})
