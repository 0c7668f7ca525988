import { describe, expect, it } from 'vitest'
import { joinOver, takeOverIn } from '../edits/joins.ts'
import type { PictureNeed } from '../effects/effect.ts'
import { makeEffect } from '../effects/make.ts'
import { Scratch, Slot } from '../pixels/buffers/scratch.ts'
import { startKernels } from '../pixels/kernels/engine.ts'
import { filmOf, joinedShot, joinStart } from '../records/film.ts'
import { everywhere, makeKey } from '../records/make.ts'
import { Records } from '../records/records.ts'
import type { AnyRecord, Effect, Media, Shot } from '../records/types.ts'
import { makePart } from '../shapes/make.ts'
import { picturesNeeded, renderFrame } from './frame.ts'
import type { Picture } from './picture.ts'
import { affectedFrames, sceneOf } from './scene.ts'

const slots = { b: new Slot(), a: new Slot() }

const [width, height] = [64, 36]
const clip = (id: string, more: Partial<Media> = {}): Media => ({
  ...{ type: 'media', id, name: id, hash: 'a'.repeat(64), codec: 'avc', audio: '', width, height, rotation: 0 },
  ...{
    frames: 100,
    rate: 24,
    variableRate: false,
    seconds: 4,
    bytes: 1,
    matrix: 'bt709',
    range: 'limited',
    tagged: true,
  },
  ...more,
})
const shotOf = (id: string, order: number, more: Partial<Shot> = {}): Shot => ({
  ...{ type: 'shot', id, media: `m-${id}`, name: id, order, in: 0, out: 40, join: 0 },
  ...more,
})
/** Two shots: the first one's last 10 frames run together with the second, which begins at frame 5 of its clip. */
const two = (more: AnyRecord[] = [], second: Partial<Media> = {}) =>
  new Records([
    ...[clip('m-a'), clip('m-b', second), shotOf('a', 1, { join: 10 }), shotOf('b', 2, { in: 5, out: 45 })],
    ...more,
  ])
const card = (kind: Effect['kind'], more: Partial<Effect> = {}): Effect =>
  makeEffect({ id: `e-${kind}-${more.shot ?? 'a'}`, shot: 'a', order: 1, kind, ...more })
const takeOver = (more: Partial<Effect> = {}) => {
  const given = takeOverIn(two(), shotOf('a', 1, { join: 10 }), () => 'take').put.find((one) => one.type === 'effect')!
  return { ...given, ...more, settings: { ...given.settings, ...(more.settings ?? {}) } } as Effect
}

const grey = (level: number) => (0xff000000 | (level << 16) | (level << 8) | level) >>> 0
/** Each clip's frame n is plain grey: 20 + n of the first, 120 + n of the second. */
const others =
  (scratch: Scratch, size = { width, height }) =>
  ({ media, frame }: PictureNeed): Picture | null =>
    media === 'm-b'
      ? { words: scratch.words(slots.b, size.width * size.height).fill(grey(120 + frame)), ...size }
      : null
function draw(records: Records, frame: number, scratch = new Scratch(), size = { width, height }) {
  const picture = { words: scratch.words(slots.a, width * height).fill(grey(20 + frame)), width, height }
  renderFrame(sceneOf(records, 'a')!, frame, 1, picture, scratch, others(scratch, size))
  return Uint32Array.from(picture.words, (word) => word & 255)
}
const at = (levels: Uint32Array, x = 32, y = 18) => levels[y * width + x]!

describe('a join of two shots', () => {
  const records = two([takeOver()])
  it('goes from all of the first to all of the next, which begins with its own first frame', () => {
    expect(at(draw(records, 29))).toBe(49)
    expect(at(draw(records, 30))).toBe(50)
    // The last frame of the join is the tenth of the next shot: its clip's frame 5 + 9.
    expect(at(draw(records, 39))).toBe(120 + 14)
    const half = at(draw(records, 35))
    expect(half).toBeGreaterThan(55)
    expect(half).toBeLessThan(130)
  })
  it('asks for the next shot’s picture on frames of the join only, and for what that is made from', () => {
    const scene = sceneOf(two([takeOver(), card('hold', { shot: 'b', settings: { at: 2 } })]), 'a')!
    expect(picturesNeeded(scene, 29)).toEqual([])
    expect(picturesNeeded(scene, 33)).toEqual([
      { media: 'm-b', frame: 8, between: 'repeated', scaled: true },
      { media: 'm-b', frame: 7, between: 'repeated', scaled: true },
    ])
  })
  it('shows the next shot with its own effects', () => {
    const bright = two([takeOver(), card('grade', { shot: 'b', settings: { exposure: -1 } })])
    // One stop less is half the linear light: 134 (0.2384) becomes 97 (0.1192), by the sRGB curve of IEC 61966-2-1, worked out by hand.
    expect(at(draw(bright, 39))).toBe(97)
  })
  it('lets mattes of either shot say where, each in its own time', () => {
    const box = (x: number) => [x, 6, x + 12, 6, x + 12, 30, x, 30]
    const cast = (shot: string, frame: number): AnyRecord[] => [
      { type: 'member', id: `k-${shot}`, shot, name: 'K', kind: 'performer', colour: 0, order: 1 },
      makePart({ id: `p-${shot}`, member: `k-${shot}`, name: 'body', kind: 'pin', order: 1, tween: 'straight' }),
      makeKey(`p-${shot}`, frame, box(0)),
      makeKey(`p-${shot}`, frame + 4, box(40)),
    ]
    const where = (of: string) =>
      two([
        ...cast('a', 34),
        ...cast('b', 4),
        takeOver({ region: { ...everywhere, of: [of] }, settings: { amount: 1 } }),
      ])
    // Frame 34 of the first is frame 4 of the next: there both stand on the left, four frames later on the right.
    for (const of of ['k-a', 'k-b']) {
      expect([at(draw(where(of), 34), 6), at(draw(where(of), 34), 46)]).toEqual([129, 54])
      expect([at(draw(where(of), 38), 6), at(draw(where(of), 38), 46)]).toEqual([58, 133])
    }
  })
  it('is the same with compiled kernels', () => {
    const both = two([takeOver({ settings: { by: 'noise' } }), card('soften', { shot: 'b', settings: { amount: 8 } })])
    expect(draw(both, 35, new Scratch(startKernels(32 * 1024 ** 2)))).toEqual(draw(both, 35))
  })
  it('fits a picture of another size into the middle, on black', () => {
    const levels = draw(records, 39, new Scratch(), { width: 36, height: 36 })
    expect([at(levels, 4), at(levels, 32), at(levels, 60)]).toEqual([0, 134, 0])
  })
  it('keeps its own speed where the next clip has another rate', () => {
    const fast = two([takeOver()], { rate: 48 })
    expect(joinedShot(fast, fast.get('shot', 'a')!)!.time(35)).toBe(10)
    expect(at(draw(fast, 39))).toBe(120 + 5 + 18)
  })
  it('does nothing where the shot is cut, or is the last', () => {
    const cut = two([takeOver(), shotOf('a', 1)])
    expect(at(draw(cut, 39))).toBe(59)
    const last = two([takeOver(), shotOf('b', 0)])
    expect(at(draw(last, 39))).toBe(59)
  })
  it('draws the frames of the join anew when the next shot changes', () => {
    const put = [card('grade', { shot: 'b' })]
    const changed = two([takeOver()])
    const inverse = changed.apply({ put, remove: [] })
    expect(affectedFrames(changed, 'a', { put, remove: [] }, inverse)).toEqual({ from: 30, to: Infinity })
    expect(affectedFrames(two([shotOf('a', 1)]), 'a', { put, remove: [] }, inverse)).toBeNull()
  })
})

describe('joining', () => {
  it('is no longer than either shot, and brings one card that takes over', () => {
    const records = two([shotOf('a', 1), shotOf('b', 2, { in: 5, out: 25 })])
    const first = joinOver(records, records.get('shot', 'a')!, 99, () => 'new')
    expect(first.put[0]).toMatchObject({ join: 20 })
    expect(first.put[1]).toMatchObject({ kind: 'takeOver', settings: { amount: { signal: 'join' } } })
    records.apply(first)
    expect(joinOver(records, records.get('shot', 'a')!, 8, () => 'no').put).toHaveLength(1)
    expect(joinStart(records.get('shot', 'a')!)).toBe(20)
  })
  it('leaves out of the film what the shot before has shown', () => {
    const film = filmOf(two([shotOf('c', 3, { media: 'm-a' })]))
    expect(film.map(({ shot, from, to }) => [shot.id, from, to])).toEqual([
      ['a', 0, 40],
      ['b', 10, 40],
      ['c', 0, 40],
    ])
  })
})
