import { expect, it } from 'vitest'
import { hashed } from '../../pixels/filters/noise.ts'
import { hidden, viewNumbers } from '../../pixels/kernels/station.ts'
import { Backdrop } from '../background.ts'
import type { FollowPicture } from '../frame.ts'
import { viewInMemory } from './memory.ts'
import { viewOf } from './view.ts'

const [width, height] = [96, 64]
const picture = (): FollowPicture => {
  const luma = Uint8Array.from({ length: width * height }, (_, i) => 60 + 120 * hashed((i % width) >> 2, i >> 9))
  const chroma = new Uint8Array((width * height) / 4).fill(128)
  return { width, height, chromaWidth: width / 2, chromaHeight: height / 2, luma, u: chroma, v: chroma, reduced: [] }
}

it('a view is looked at with what covers it', () => {
  const frames = Array.from({ length: 6 }, picture)
  const backdrop = new Backdrop(frames[0]!, frames)
  const motion = backdrop.motion(frames[0]!)
  expect(motion).not.toBeNull()
  const view = viewOf(frames[0]!, backdrop, motion, [[20, 20, 60, 20, 60, 40, 20, 40]])
  const seen = viewInMemory(view).view
  const knownAt = (x: number, y: number) => seen.data[(y * seen.width + x) * viewNumbers + 7]
  expect([knownAt(20, 15), knownAt(40, 25)]).toEqual([hidden, 1])
  expect(Buffer.compare(seen.data, view.data)).toBe(0)
})
