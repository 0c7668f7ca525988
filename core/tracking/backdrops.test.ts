import { describe, expect, it } from 'vitest'
import { pictureOf, texture } from '#lab/support/textures.ts'
import { backdropsOf } from '#lab/support/unwatched.ts'
import { colourPicture } from './background.ts'

const [width, height] = [288, 216]
/** A texture, computed once for every pixel. */
function drawn(seed: number): (x: number, y: number) => number {
  const bright = texture(seed)
  const values = Float32Array.from({ length: width * height }, (_, i) =>
    bright((i % width) + 0.5, Math.floor(i / width) + 0.5),
  )
  return (x, y) => values[Math.floor(y) * width + Math.floor(x)]!
}
const [one, other] = [drawn(3), drawn(41)]
/** Frames that fade from one texture to another within this many, a bright block passing in front. */
const shot = (length: number, fades: number) =>
  Array.from({ length }, (_, t) =>
    pictureOf(
      width,
      height,
      (x, y) => {
        const u = fades ? Math.min(1, t / fades) : 0
        const inFront = x > 3 * t && x < 3 * t + 40 && y > 80 && y < 160
        return inFront ? 210 : one(x, y) + u * (other(x, y) - one(x, y))
      },
      undefined,
      1.5,
      t,
    ),
  )
/** Middle of how far a backdrop lies off a frame without its block. */
const offBy = (backdrop: { y: Float32Array }, picture: Parameters<typeof colourPicture>[0]) => {
  const { y } = colourPicture(picture)
  const offs = Array.from(y, (v, i) => Math.abs(v - backdrop.y[i]!)).sort((a, b) => a - b)
  return offs[offs.length >> 1]!
}

describe('what stands behind', () => {
  it('is one picture for a whole shot where nothing behind it moves, without what passes in front', async () => {
    const frames = shot(72, 0)
    const backdrops = backdropsOf(frames)
    const first = await backdrops.at(4)
    expect(await backdrops.at(70)).toBe(first)
    expect(await backdrops.wide(30)).toBe(first)
    // Where the block stands on frame 30 the wall behind it is known.
    const at = 60 * (width / 2) + Math.round((3 * 30 + 20) / 2)
    const bare = pictureOf(width, height, one)
    expect(Math.abs(first.y[at]! - colourPicture(bare).y[at]!)).toBeLessThan(6)
  })
  it('is a picture of the frames around where what stands behind changes with time', async () => {
    const frames = shot(96, 90)
    const backdrops = backdropsOf(frames)
    for (const frame of [12, 80]) {
      const near = await backdrops.at(frame)
      const wide = await backdrops.wide(frame)
      expect(near).not.toBe(wide)
      expect(offBy(near, frames[frame]!)).toBeLessThan(0.7 * offBy(wide, frames[frame]!))
    }
  })
  it('is another one beyond a cut', async () => {
    const before = shot(48, 0)
    const after = Array.from({ length: 48 }, (_, t) => pictureOf(width, height, other, undefined, 1.5, t))
    const backdrops = backdropsOf([...before, ...after])
    for (const [frame, bare] of [
      [10, one],
      [90, other],
    ] as const) {
      const backdrop = await backdrops.at(frame)
      expect(offBy(backdrop, pictureOf(width, height, bare)), `frame ${frame}`).toBeLessThan(4)
    }
  })
})
