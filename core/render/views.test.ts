import { describe, expect, it } from 'vitest'
import { Scratch } from '../pixels/buffers/scratch.ts'
import { makeKey } from '../records/make.ts'
import { Records } from '../records/records.ts'
import type { Media } from '../records/types.ts'
import { cornerNodes } from '../shapes/kinds/outline.ts'
import { makePart } from '../shapes/make.ts'
import { sceneOf } from './scene.ts'
import { cutOut, drawCutout, drawDifference, drawMatte, layOver } from './views.ts'

const square = (x: number, y: number, side: number) => cornerNodes([x, y, x + side, y, x + side, y + side, x, y + side])
const member = (id: string) => ({
  type: 'member' as const,
  id,
  shot: 's',
  name: id,
  kind: 'performer' as const,
  colour: 0,
  order: 1,
})
const outline = (id: string, of: string, order: number, role: 'add' | 'cut' = 'add') =>
  makePart({ id, member: of, name: id, kind: 'outline', order, role, settings: { feather: 0 } })
const scene = sceneOf(
  new Records([
    { type: 'media', id: 'm' } as Media,
    { type: 'shot', id: 's', media: 'm', name: 'Shot', order: 1, in: 0, out: 10, join: 0 },
    ...[member('a'), member('b')],
    ...[outline('body', 'a', 1), outline('hole', 'a', 2, 'cut'), outline('other', 'b', 1)],
    makeKey('body', 0, square(8, 8, 24)),
    makeKey('hole', 0, square(16, 16, 8)),
    makeKey('other', 0, square(40, 8, 16)),
  ]),
  's',
)!
const picture = (word = 0xff2040c0) => ({ words: new Uint32Array(64 * 48).fill(word), width: 64, height: 48 })
const at = ({ words }: { words: Uint32Array }, x: number, y: number) => words[y * 64 + x]!

describe('ways of looking', () => {
  it('the matte of one member in black and white, its hole too, or of everybody', () => {
    const one = picture()
    drawMatte(scene, ['a'], 0, 1, one, new Scratch())
    expect([at(one, 10, 10), at(one, 20, 20), at(one, 45, 12)]).toEqual([0xffffffff, 0xff000000, 0xff000000])
    const all = picture()
    drawMatte(scene, scene.members, 0, 1, all, new Scratch())
    expect([at(all, 10, 10), at(all, 20, 20), at(all, 45, 12)]).toEqual([0xffffffff, 0xff000000, 0xffffffff])
  })
  it('the cut-out keeps the plate inside and shows squares of two greys elsewhere', () => {
    const one = picture()
    drawCutout(scene, ['a'], 0, 1, one, new Scratch())
    expect(at(one, 10, 10)).toBe(0xff2040c0)
    expect([at(one, 2, 2), at(one, 2, 40)]).toEqual([0xff5c5c5c, 0xff5c5c5c])
    expect(at(one, 40, 2)).toBe(0xff5c5c5c)
    expect(at(one, 56, 2)).toBe(0xff3e3e3e)
  })
  it('what is cut out for a file has the matte as its alpha and its colours whole, nothing elsewhere', () => {
    const one = picture()
    cutOut(scene, ['a'], 0, 1, one, new Scratch())
    expect([at(one, 10, 10), at(one, 20, 20), at(one, 45, 12)]).toEqual([0xff2040c0, 0, 0])
    const soft = makePart({
      id: 'soft',
      member: 'a',
      name: 'soft',
      kind: 'outline',
      order: 3,
      settings: { feather: 6 },
    })
    const more = new Records([
      ...[{ type: 'media', id: 'm' } as Media, member('a'), soft, makeKey('soft', 0, square(8, 8, 24))],
      { type: 'shot', id: 's', media: 'm', name: 'Shot', order: 1, in: 0, out: 10, join: 0 },
    ])
    const feathered = picture()
    cutOut(sceneOf(more, 's')!, ['a'], 0, 1, feathered, new Scratch())
    const rim = feathered.words.filter((word) => word >>> 24 > 0 && word >>> 24 < 255)
    expect(rim.length).toBeGreaterThan(100)
    // Straight: the colour is not darkened where little of it is seen.
    expect(rim.every((word) => (word & 0xffffff) === 0x2040c0)).toBe(true)
  })
  it('half size shows the same, smaller', () => {
    const half = { words: new Uint32Array(32 * 24), width: 32, height: 24 }
    drawMatte(scene, ['a'], 0, 0.5, half, new Scratch())
    expect([half.words[6 * 32 + 6], half.words[10 * 32 + 10]]).toEqual([0xffffffff, 0xff000000])
  })
  it('the result laid over the plate by half lies in the middle of both', () => {
    const result = picture(0xff404040)
    layOver(result, picture(0xff2040c0).words, 0.5)
    expect(at(result, 3, 3)).toBe(0xff304080)
  })
  it('the difference is the largest change of a channel, four times, on black', () => {
    const now = picture(0xff2040c0)
    const before = picture(0xff2040c0).words
    before[5] = 0xff2140c6
    before[6] = 0xff00ff00
    drawDifference(now, before)
    expect([now.words[4], now.words[5], now.words[6]]).toEqual([0xff000000, 0xff181818, 0xffffffff])
  })
})
