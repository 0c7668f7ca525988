import { describe, expect, it } from 'vitest'
import { wholeMix } from '../parameters/drives.ts'
import { makeEffect } from '../effects/make.ts'
import { Records } from '../records/records.ts'
import type { AnyRecord, Plate, Sound } from '../records/types.ts'
import { makeSound } from '../soundtrack/make.ts'
import { duplicate } from './duplicate.ts'
import { begunLater, soundForShot, splitSound } from './sounds.ts'

const member = (id: string, shot: string, name: string, kind: string): AnyRecord =>
  ({ type: 'member', id, shot, name, kind, colour: 0, order: 1 }) as AnyRecord
const records = new Records([
  { type: 'media', id: 'm', name: 'clip', codec: 'sound', audio: 'pcm', seconds: 3 } as AnyRecord,
  { type: 'shot', id: 's', media: 'm', name: 'Here', order: 1, in: 0, out: 96, join: 0 },
  { type: 'shot', id: 't', media: 'm', name: 'There', order: 2, in: 0, out: 40, join: 0 },
  member('pole', 's', 'Ferry pole', 'prop'),
  member('pole2', 't', 'Ferry pole', 'prop'),
  member('oar2', 't', 'Oar', 'prop'),
])
let made = 0
const newId = () => `new${made++}`
const file = (more: Partial<Sound> = {}): Sound => ({
  ...makeSound({ id: 'f', shot: 's', kind: 'file', order: 1, takes: ['m'] }),
  ...{ way: 'through', ...more },
})

describe('a sound for another shot', () => {
  it('is about whom that shot has by the same name, within its frames, without what a hand did to other motion', () => {
    const copy = soundForShot(
      records,
      {
        ...makeSound({ id: 'w', shot: 's', kind: 'swish', order: 1, target: 'pole' }),
        beads: [
          { at: 12, frame: 14, muted: false, gain: 0 },
          { at: null, frame: 30, muted: false, gain: 3 },
          { at: null, frame: 60, muted: false, gain: 0 },
        ],
        range: { from: 20, to: 95, fadeIn: 4, fadeOut: 30 },
      },
      records.get('shot', 't')!,
      newId,
    )
    expect(copy).toMatchObject({ shot: 't', target: 'pole2' })
    expect(copy.beads).toEqual([{ at: null, frame: 30, muted: false, gain: 3 }])
    expect(copy.range).toEqual({ from: 20, to: 39, fadeIn: 4, fadeOut: 20 })
  })
})

describe('a file that is cut', () => {
  it('in two goes on in the second half where the first one ends', () => {
    const [first, second] = splitSound(records, file(), 24, 96, (frame) => frame / 24, newId)!
    expect(first.range).toMatchObject({ from: 0, to: 23 })
    expect(second.range).toMatchObject({ from: 24, to: 95 })
    expect(second.settings.begin).toBe(1)
    // An octave up it has been read twice as far.
    const high = file({ settings: { ...file().settings, pitch: 12, begin: 0.5 } })
    expect(splitSound(records, high, 24, 96, (frame) => frame / 24, newId)![1].settings.begin).toBeCloseTo(2.5, 9)
    expect(splitSound(records, file(), 0, 96, (frame) => frame / 24, newId)).toBeNull()
  })
  it('at its beginning is read from further on; what has begun again by then, and what is made, is not', () => {
    expect(begunLater(records, file(), 0.25).settings.begin).toBe(0.25)
    expect(begunLater(records, file(), -1).settings.begin).toBe(0)
    const loop = file()
    expect(loop.settings.over).toBe('loop')
    expect(begunLater(records, loop, 3.5)).toBe(loop)
    const hum = makeSound({ id: 'h', shot: 's', kind: 'hum', order: 2 })
    expect(begunLater(records, hum, 1)).toBe(hum)
  })
})

it('a duplicate that hangs on a sound hangs on the duplicate of that sound', () => {
  const drive = (of: string) => ({
    ...{ signal: 'loudness' as const, of, with: '', smooth: 0, lag: 0 },
    ...{ from: [-50, 0] as [number, number], to: [0, 1] as [number, number], bend: [0, 0, 1, 1] as const },
  })
  const copies = duplicate(
    [
      makeSound({ id: 'hum', shot: 's', kind: 'hum', order: 1 }),
      makeEffect({
        ...{ id: 'e', shot: 's', order: 1, kind: 'glow' },
        opacity: { ...drive(wholeMix), bend: [0, 0, 1, 1] },
        settings: { strength: { ...drive('hum'), bend: [0, 0, 1, 1] } },
      }),
    ],
    newId,
  )
  const [hum, glow] = copies as [Sound, { opacity: { of: string }; settings: { strength: { of: string } } }]
  expect(glow.settings.strength.of).toBe(hum.id)
  expect(glow.opacity.of).toBe(wholeMix)
})

it('a duplicate of a shot has a clean plate of its own, which shows the duplicate of the still', () => {
  const shown: Plate = {
    type: 'plate',
    id: 'p',
    shot: 's',
    media: 'still',
    x: 0,
    y: 0,
    from: 0,
    motions: [1, 0, 0, 0],
  }
  let count = 0
  const [still, plate] = duplicate([{ type: 'media', id: 'still' } as never, shown], () => `n${count++}`)
  expect(plate).toMatchObject({ type: 'plate', media: still!.id })
  // Where the still stays where it is, both show it.
  expect(duplicate([shown], () => 'n')[0]).toMatchObject({ media: 'still' })
})
