import { describe, expect, it } from 'vitest'
import { Scratch, Slot } from '../pixels/buffers/scratch.ts'
import { makeKey } from '../records/make.ts'
import { Records } from '../records/records.ts'
import type { AnyRecord, Region } from '../records/types.ts'
import { makePart } from '../shapes/make.ts'
import { sceneOfFrame } from './frameScene.ts'
import { boundsOfCover, coverOf, regionMatte } from './region.ts'
import { type Scene, sceneOf } from './scene.ts'

const [width, height] = [160, 90]
const media: AnyRecord = {
  ...{ type: 'media', id: 'm', name: 'clip', hash: 'a'.repeat(64), codec: 'avc', audio: '', width, height },
  ...{ rotation: 0, frames: 40, rate: 24, variableRate: false, seconds: 2, bytes: 1 },
  ...{ matrix: 'bt709', range: 'limited', tagged: true },
}
const oval = (id: string, x: number, y: number) => [
  { ...makePart({ id, member: id[0]!, name: id, kind: 'oval', order: 1 }), settings: { feather: 3 } },
  makeKey(id, 0, [x, y, x + 20, y, x, y + 30]),
  makeKey(id, 20, [x + 60, y, x + 80, y, x + 60, y + 30]),
]
const records = new Records([
  media,
  { type: 'shot', id: 's', media: 'm', name: 'Shot', order: 1, in: 0, out: 40, join: 0 },
  { type: 'member', id: 'a', shot: 's', name: 'Keeper', kind: 'performer', colour: 0, order: 1 },
  { type: 'member', id: 'b', shot: 's', name: 'Lantern', kind: 'prop', colour: 1, order: 2 },
  ...oval('a-body', 40, 40),
  ...oval('a-head', 50, 10),
  // Half beyond the picture.
  ...oval('b-glass', 5, 60),
])
const scene = sceneOf(records, 's')!
const frame = () => sceneOfFrame(scene, 7, 0.5, { width: width / 2, height: height / 2 })

/** The largest difference between numbers. */
const apart = (one: ArrayLike<number>, other: ArrayLike<number>): number =>
  Array.from(one).reduce((most, v, i) => Math.max(most, Math.abs(v - other[i]!)), 0)

describe('what is found once for a frame', () => {
  const rect = { x: -6, y: 3, width: 70, height: 41 }
  const covers = (of: Scene, ids: string[], time: number, scale = 0.5) =>
    Array.from(coverOf(of, ids, { time, scale, rect }, new Scratch(), new Slot()))

  it.each([[['a']], [['b']], [['a', 'b']], [['a-head', 'b']], [['nobody']]])(
    'covers the same as when it is sought anew: %j',
    (ids) => {
      const own = frame()
      for (const time of [7, 7, 8, 6.5]) {
        expect(covers(own, ids, time)).toEqual(covers(scene, ids, time))
        expect(boundsOfCover(own, ids, time, 0.5)).toEqual(boundsOfCover(scene, ids, time, 0.5))
      }
      expect(covers(own, ids, 7, 1)).toEqual(covers(scene, ids, 7, 1))
    },
  )

  it('one cover serves every rectangle and region, and nobody changes it for the next', () => {
    const own = frame()
    const scratch = new Scratch()
    const outside: Region = { of: ['a'], side: 'outside', grow: 0, soften: 0 }
    const seen = (of: Scene, x: number) => {
      const view = { time: 7, scale: 0.5, rect: { ...rect, x } }
      return Array.from(regionMatte(of, outside, view, scratch, new Slot()))
    }
    // A shape that a rectangle cuts is summed up in another order.
    for (const x of [-6, 10, 31]) expect(apart(seen(own, x), seen(scene, x))).toBeLessThan(1e-6)
    coverOf(own, ['a'], { time: 7, scale: 0.5, rect }, scratch, new Slot()).fill(0.3)
    expect(covers(own, ['a'], 7)).toEqual(covers(scene, ['a'], 7))
  })

  it('looks for a cover anew where somebody asks far beyond the picture', () => {
    const far = { x: -100, y: 0, width: 400, height: 500 }
    const cover = (of: Scene) => coverOf(of, ['b'], { time: 7, scale: 4, rect: far }, new Scratch(), new Slot())
    const own = sceneOfFrame(scene, 7, 4, { width: 8, height: 8 })
    expect(apart(cover(own), cover(scene))).toBe(0)
    expect(Math.max(...cover(own).filter((_, i) => i % 97 === 0))).toBe(1)
  })

  it('reads a shape once, and of another time anew', () => {
    let reads = 0
    const counted: Scene = {
      ...scene,
      partsOf: (id) => scene.partsOf(id).map((part) => ({ ...part, at: (time) => (reads++, part.at(time)) })),
    }
    const own = sceneOfFrame(counted, 7, 1, { width, height })
    const shape = own.partsOf('a')[0]!.at(7)
    expect(own.partsOf('a')[0]!.at(7)).toBe(shape)
    expect(reads).toBe(1)
    expect(own.partsOf('a')[0]!.at(8)).not.toEqual(shape)
    expect(reads).toBe(2)
  })
})
