import { describe, expect, it } from 'vitest'
import { i420Layout, rgbaToI420, type Yuv } from '../pixels/buffers/yuv.ts'
import { motionOf } from '../records/plate.ts'
import type { Plate } from '../records/types.ts'
import { bringFrame } from './bringFrame.ts'

const [width, height] = [64, 48]
/** A grey frame whose brightness says where in the world a pixel lies: 3 levels a pixel across, from 20 on. */
function frameAt(shift: number): Yuv {
  const rgba = new Uint8Array(4 * width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) rgba.fill(20 + 3 * (x + 0.5 - shift), 4 * (y * width + x), 4 * (y * width + x) + 3)
  const { bytes, planes } = i420Layout(width, height)
  const data = new Uint8Array(bytes)
  rgbaToI420(rgba, width, height, data)
  return { data, planes, width, height, matrix: 'bt709', range: 'limited', rotation: 0 }
}
// The world is seen 0, -4 and -9 pixels further to the left; where the fourth frame lies is not known.
const plate: Plate = {
  ...{ type: 'plate', id: 'p', shot: 's', media: 'm', x: -2, y: 0, from: 10 },
  motions: [1, 0, 0, 0, 1, 0, -4, 0, 1, 0, -9, 0, 0, 0, 0, 0],
}
const still = () => ({ words: new Uint32Array(80 * height).fill(0xff000000), width: 80, height })
const stroke = { frame: 11, source: 12, points: [20, 24, 30, 24], size: 12 }

describe('a frame brought into a clean plate', () => {
  it('lies where the camera saw it, under the stroke and nowhere else', () => {
    const picture = still()
    expect(bringFrame(picture, plate, stroke, frameAt(-9))).toBe(true)
    const level = (x: number, y: number) => picture.words[y * 80 + x]! & 255
    // The stroke was drawn on a frame that the world lies 4 pixels to the left in: 24 to 34 of the world, 26 to 36 of the still.
    for (const x of [26, 31, 36]) expect(Math.abs(level(x, 24) - (20 + 3 * (x + 0.5 - 2)))).toBeLessThan(2.5)
    for (const [x, y] of [
      [12, 24],
      [50, 24],
      [31, 34],
      [31, 14],
    ] as const)
      expect(level(x, y)).toBe(0)
    expect(picture.words[24 * 80 + 31]! >>> 24).toBe(255)
  })
  it('is not brought where the plate does not know one of both', () => {
    for (const wrong of [{ source: 13 }, { frame: 13 }, { source: 9 }, { source: 14 }]) {
      const picture = still()
      expect(bringFrame(picture, plate, { ...stroke, ...wrong }, frameAt(-9))).toBe(false)
      expect(picture.words.every((word) => word === 0xff000000)).toBe(true)
    }
    expect(motionOf(plate, 12)).toEqual([1, 0, -9, 0])
  })
  it('fills what the plate had clear', () => {
    const picture = still()
    picture.words.fill(0)
    bringFrame(picture, plate, stroke, frameAt(-9))
    expect(picture.words[24 * 80 + 31]! >>> 24).toBe(255)
    expect(picture.words[0]).toBe(0)
  })
})
