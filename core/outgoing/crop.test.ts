import { describe, expect, it } from 'vitest'
import { Scratch } from '../pixels/buffers/scratch.ts'
import { makeKey } from '../records/make.ts'
import { Records } from '../records/records.ts'
import type { Media, Region } from '../records/types.ts'
import { drawMatte } from '../render/views.ts'
import { sceneOf } from '../render/scene.ts'
import { makePart } from '../shapes/make.ts'
import { cropOf } from './crop.ts'

const size = { width: 97, height: 61 }
const member = { type: 'member', shot: 's', kind: 'prop', colour: 0, order: 1 } as const
/** An oval of a feather goes from left to right; another one lies outside of the picture. */
const scene = sceneOf(
  new Records([
    { type: 'media', id: 'm', ...size } as Media,
    { type: 'shot', id: 's', media: 'm', name: 'Shot', order: 1, in: 0, out: 10, join: 0 },
    ...[
      { ...member, id: 'a', name: 'a' },
      { ...member, id: 'b', name: 'b' },
    ],
    makePart({ id: 'eye', member: 'a', name: 'eye', kind: 'oval', order: 1, settings: { feather: 3 } }),
    ...[makeKey('eye', 0, [20, 30, 28, 30, 20, 35]), makeKey('eye', 9, [61, 37, 69, 37, 61, 42])],
    makePart({ id: 'far', member: 'b', name: 'far', kind: 'oval', order: 1 }),
    makeKey('far', 0, [300, 30, 308, 30, 300, 35]),
  ]),
  's',
)!
const span = { from: 0, to: 10 }

describe('what a cut-out is cropped to', () => {
  it('holds all that is seen on any frame, and little more', () => {
    const { x, y, width, height } = cropOf(scene, ['a'], span, 1, size)
    let [left, top, right, bottom] = [Infinity, Infinity, 0, 0]
    for (let frame = 0; frame < 10; frame++) {
      const words = new Uint32Array(size.width * size.height)
      drawMatte(scene, ['a'], frame, 1, { words, ...size }, new Scratch())
      for (let i = 0; i < words.length; i++) {
        if (!(words[i]! & 255)) continue
        const [px, py] = [i % size.width, Math.floor(i / size.width)]
        left = Math.min(left, px)
        right = Math.max(right, px + 1)
        top = Math.min(top, py)
        bottom = Math.max(bottom, py + 1)
      }
    }
    for (const [seen, box] of [
      [left, x],
      [top, y],
    ] as const) {
      expect(box).toBeLessThanOrEqual(seen)
      expect(seen - box).toBeLessThan(12)
    }
    for (const [seen, box] of [
      [right, x + width],
      [bottom, y + height],
    ] as const) {
      expect(box).toBeGreaterThanOrEqual(seen)
      expect(box - seen).toBeLessThan(12)
    }
  })
  it('lies at even places within the picture, at any scale', () => {
    for (const [scale, within] of [
      [1, size],
      [1 / 2, { width: 49, height: 31 }],
      [1 / 4, { width: 25, height: 16 }],
    ] as const) {
      const { x, y, width, height } = cropOf(scene, ['a'], span, scale, within)
      expect([x % 2, y % 2, width % 2, height % 2]).toEqual([0, 0, 0, 0])
      expect([x >= 0, y >= 0, x + width <= within.width, y + height <= within.height]).toEqual(Array(4).fill(true))
    }
  })
  it('is all of the picture where nothing is seen, and where an effect works outside of somebody', () => {
    expect(cropOf(scene, ['b'], span, 1, size)).toEqual({ x: 0, y: 0, ...size })
    const region = { of: ['a'], grow: 0, soften: 2 } as const
    expect(cropOf(scene, { ...region, side: 'outside' } as unknown as Region, span, 1, size)).toMatchObject(size)
    expect(cropOf(scene, { ...region, side: 'inside' } as unknown as Region, span, 1, size).width).toBeLessThan(90)
  })
})
