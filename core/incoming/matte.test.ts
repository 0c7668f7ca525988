import { describe, expect, it } from 'vitest'
import { coverAt } from '../pixels/buffers/raster.ts'
import { frameOfStill } from '../pixels/buffers/still.ts'
import { i420Layout, type Yuv } from '../pixels/buffers/yuv.ts'
import { matteOfPicture, usualReading } from './matte.ts'

const plate = { width: 40, height: 24 }
/** A picture of pixels, each as told. */
function picture(of: (x: number, y: number) => [number, number, number, number], size = plate): Yuv {
  const rgba = new Uint8Array(4 * size.width * size.height)
  for (let y = 0; y < size.height; y++)
    for (let x = 0; x < size.width; x++) rgba.set(of(x, y), 4 * (y * size.width + x))
  return frameOfStill({ rgba, ...size })
}
/** A frame of video of one grey, or of two halves. */
function video(left: number, right: number, range: Yuv['range'], rotation: Yuv['rotation'] = 0): Yuv {
  const { width, height } = plate
  const { bytes, planes } = i420Layout(width, height)
  const data = new Uint8Array(bytes).fill(128)
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) data[y * width + x] = x < width / 2 ? left : right
  return { data, width, height, planes, matrix: 'bt709', range, rotation }
}

describe('a matte that comes in', () => {
  it('is what is white of a picture, level by level, cut to what is there', () => {
    const grey = picture((x, y) => {
      const v = x >= 10 && x < 20 && y >= 5 && y < 9 ? 25 * (x - 9) : 0
      return [v, v, v, 255]
    })
    expect(usualReading(grey)).toBe('white')
    const raster = matteOfPicture(grey, 'white', plate)!
    expect(raster).toMatchObject({ x: 10, y: 5, width: 10, height: 4 })
    expect([...raster.data.subarray(0, 10)]).toEqual([25, 50, 75, 100, 125, 150, 175, 200, 225, 250])
  })

  it('is what is black, or what is opaque, where that is wanted', () => {
    const card = picture((x) => (x < 20 ? [0, 0, 0, 255] : [255, 255, 255, 128]))
    expect(usualReading(card)).toBe('opaque')
    const black = matteOfPicture(card, 'black', plate)!
    expect([coverAt(black, 10, 10), coverAt(black, 30, 10)]).toEqual([1, 0])
    const opaque = matteOfPicture(card, 'opaque', plate)!
    expect(coverAt(opaque, 10, 10)).toBe(1)
    expect(coverAt(opaque, 30, 10)).toBeCloseTo(128 / 255)
  })

  it('of video is black at 16 and white at 235, also where compression left a trace (ITU-R BT.709-6, 3.5)', () => {
    const raster = matteOfPicture(video(18, 233, 'limited'), 'white', plate)!
    expect(raster).toMatchObject({ x: 20, y: 0, width: 20, height: 24 })
    expect(raster.data.every((v) => v === 255)).toBe(true)
    const full = matteOfPicture(video(0, 128, 'full'), 'white', plate)!
    expect(full.data.every((v) => v === 128)).toBe(true)
    expect(matteOfPicture(video(16, 17, 'limited'), 'white', plate)).toBeNull()
  })

  it('stands upright where its clip was filmed upright', () => {
    // Turned by a quarter to the right the left half is above.
    const raster = matteOfPicture(video(235, 16, 'limited', 90), 'white', { width: 24, height: 40 })!
    expect(raster).toMatchObject({ x: 0, y: 0, width: 24, height: 20 })
  })

  it.each([
    [80, 48],
    [20, 12],
    [60, 36],
  ])('of %i x %i pixels is laid over the plate: a slope stays the same slope', (width, height) => {
    const slope = picture((x) => Array(4).fill(Math.round((255 * (x + 0.5)) / width)) as never, { width, height })
    const raster = matteOfPicture(slope, 'white', plate)!
    for (let x = 2; x < 38; x++) expect(Math.abs(255 * coverAt(raster, x, 12) - (255 * (x + 0.5)) / 40)).toBeLessThan(2)
    // What it covers as a whole stays what it was.
    const disc = picture(
      (x, y) => Array(4).fill(Math.hypot(x - width / 2, y - height / 2) < height / 3 ? 255 : 0) as never,
      { width, height },
    )
    const laid = matteOfPicture(disc, 'white', plate)!
    const sum = (levels: Uint8Array) => levels.reduce((a, b) => a + b, 0)
    const drawn = sum(disc.rgba!.filter((_, i) => i % 4 === 3))
    expect((sum(laid.data) * (width / 40) ** 2) / drawn).toBeCloseTo(1, 2)
  })

  it('of other proportions is refused, with both sizes; without alpha nothing is opaque', () => {
    const tall = picture(() => [255, 255, 255, 255], { width: 24, height: 40 })
    expect(() => matteOfPicture(tall, 'white', plate)).toThrow(/24 x 40 pixels, the shot 40 x 24/)
    expect(() => matteOfPicture(video(16, 235, 'limited'), 'opaque', plate)).toThrow(/no transparency/)
  })
})
