import { describe, expect, it } from 'vitest'
import { i420Layout, type Yuv } from '../pixels/buffers/yuv.ts'
import { frameBetween, FramesBetween } from './betweenFrames.ts'

const [width, height] = [320, 192]

/** A value of a pattern without repeats, smooth over some pixels. */
const ground = (x: number, y: number) =>
  120 + 40 * Math.sin(0.21 * x + 0.13 * y) + 30 * Math.sin(0.09 * x - 0.17 * y + 1) + 12 * Math.sin(0.55 * x)
const patch = (x: number, y: number) =>
  80 + 35 * Math.sin(0.11 * x + 0.07 * y) + 30 * Math.sin(0.05 * x - 0.13 * y + 2) + 10 * Math.sin(0.4 * x)

/** A frame: a ground that moves to the right, and over it a square that moves down. */
function drawn(time: number, covered = true): Yuv {
  const { bytes, planes } = i420Layout(width, height)
  const data = new Uint8Array(bytes).fill(128)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [px, py] = [x + 0.5 - 120, y + 0.5 - 50 - 8 * time]
      const inside = covered && px >= 0 && px < 80 && py >= 0 && py < 80
      data[y * width + x] = Math.round(inside ? patch(px, py) : ground(x - 6 * time, y))
    }
  for (let y = 0; y < height / 2; y++)
    for (let x = 0; x < width / 2; x++)
      data[planes[1]!.offset + (y * width) / 2 + x] = Math.round(ground(2 * x + 0.5 - 6 * time, 2 * y))
  return { data, width, height, planes, matrix: 'bt709', range: 'limited', rotation: 0 }
}
/** Mean difference of brightness, a margin of the picture's rim left out: nobody saw what comes in there. */
function apart(one: Yuv, other: Yuv, plane = 0): number {
  let [sum, count] = [0, 0]
  const [w, h, margin] = plane ? [width / 2, height / 2, 8] : [width, height, 12]
  const { offset } = one.planes[plane]!
  for (let y = margin; y < h - margin; y++)
    for (let x = margin; x < w - margin; x++, count++)
      sum += Math.abs(one.data[offset + y * w + x]! - other.data[offset + y * w + x]!)
  return sum / count
}

describe('what lies between two frames', () => {
  const pair = [drawn(0), drawn(1)] as const
  it.each([0.25, 0.5, 0.75])('is where it would have been %f of the way, when it is moved', (share) => {
    const truth = drawn(share)
    const moved = frameBetween(pair, share, 'moved')
    const blended = frameBetween(pair, share, 'blended')
    expect(apart(moved, truth)).toBeLessThan(0.3 * apart(blended, truth))
    expect(apart(moved, truth, 1)).toBeLessThan(0.3 * apart(blended, truth, 1))
  })
  it('is moved to within a level where nothing is covered', () => {
    const bare = [drawn(0, false), drawn(1, false)] as const
    expect(apart(frameBetween(bare, 0.5, 'moved'), drawn(0.5, false))).toBeLessThan(1)
  })
  it('is the weighted mean of both when it is blended, and the earlier one when that is repeated', () => {
    const blended = frameBetween(pair, 0.25, 'blended')
    for (const i of [0, 5000, pair[0].planes[1]!.offset + 700])
      expect(Math.abs(blended.data[i]! - (0.75 * pair[0].data[i]! + 0.25 * pair[1].data[i]!))).toBeLessThanOrEqual(0.5)
    expect(frameBetween(pair, 0.9, 'repeated')).toBe(pair[0])
  })
  it('has alpha and light where the pictures of a sequence have them', () => {
    const picture = (alpha: number, light: number): Yuv => ({
      ...drawn(0),
      rgba: new Uint8Array(4 * width * height).fill(alpha),
      light: new Float32Array(4 * width * height).fill(light),
    })
    const made = frameBetween([picture(100, 1), picture(200, 5)], 0.5, 'blended')
    expect(made.rgba![17]).toBe(150)
    expect(made.light![17]).toBeCloseTo(3, 5)
  })
  it('is asked of the clip by its place', async () => {
    const asked: number[] = []
    const get = async (frame: number) => (asked.push(frame), drawn(frame - 7))
    const made = await new FramesBetween().at(7.5, 'blended', get)
    expect(asked).toEqual([7, 8])
    expect(apart(made, frameBetween(pair, 0.5, 'blended'))).toBe(0)
  })
})
