import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { decode } from 'fast-png'
import { afterAll, describe, expect, it } from 'vitest'
import { halfBits } from '#core/pixels/buffers/half.ts'
import { toEncoded } from '#core/pixels/colour/transfer.ts'
import { ffmpeg } from '#lab/support/ffmpeg.ts'
import { exrHead, pixelsOfExr } from './exr.ts'
import { type GoingPicture, pictureFile } from './pictureFile.ts'

const folder = mkdtempSync(join(tmpdir(), 'wisp-picture-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

/** A picture of an odd size, of more than one block of rows: red rises to four times white, alpha falls. */
const [width, height] = [37, 41]
function picture(): Required<GoingPicture> {
  const light = new Float32Array(4 * width * height)
  const words = new Uint32Array(width * height)
  for (let i = 0; i < words.length; i++) {
    const [x, y] = [i % width, Math.floor(i / width)]
    const alpha = 1 - y / height
    const straight = [(4 * x) / width, y / height, 0.001 * x]
    for (let c = 0; c < 3; c++) light[4 * i + c] = straight[c]! * alpha
    light[4 * i + 3] = alpha
    const code = (v: number) => Math.round(255 * toEncoded(Math.min(1, v)))
    words[i] =
      ((Math.round(alpha * 255) << 24) |
        (code(straight[2]!) << 16) |
        (code(straight[1]!) << 8) |
        code(straight[0]!)) >>>
      0
  }
  return { width, height, words, light }
}
/** Floats of a plane as ffmpeg reads the file; it gives green, blue, red and alpha. */
function asFfmpegReads(name: string, file: Uint8Array, form: string): Float32Array {
  const path = join(folder, name)
  writeFileSync(path, file)
  return new Float32Array(new Uint8Array(ffmpeg(['-i', path, '-f', 'rawvideo', '-pix_fmt', form, '-'])).buffer)
}

describe('half floats', () => {
  it.each([
    // IEEE 754-2008, binary16: values and their bits, from memory; checked below against another reader.
    [0, 0x0000],
    [1, 0x3c00],
    [-2, 0xc000],
    [65504, 0x7bff],
    [1e9, 0x7bff],
    [2 ** -14, 0x0400],
    [2 ** -24, 0x0001],
    [2 ** -25, 0x0000],
    [2 ** -24 * 1.5, 0x0002],
    [1 / 3, 0x3555],
    // Half-way between two: to the even one.
    [1 + 2 ** -11, 0x3c00],
    [1 + 3 * 2 ** -11, 0x3c02],
    // Rounded up into the next power of two.
    [2047.9, 0x6800],
  ])('%f is %i', (value, bits) => expect(halfBits(value)).toBe(bits))

  it('are the nearest, for all of them', () => {
    // The value of bits by the definition of binary16.
    const value = (h: number) => {
      const [e, m] = [(h >> 10) & 31, h & 1023]
      return e ? 2 ** (e - 15) * (1 + m / 1024) : 2 ** -14 * (m / 1024)
    }
    for (let h = 0; h < 0x7bff; h++) {
      expect(halfBits(value(h))).toBe(h)
      const middle = (value(h) + value(h + 1)) / 2
      expect(halfBits(middle)).toBe(h & 1 ? h + 1 : h)
    }
  })
})

describe('OpenEXR that goes out', () => {
  it('holds light brighter than white, as another program reads it', () => {
    const { light } = picture()
    const read = asFfmpegReads('all.exr', pictureFile(picture(), 'exr', { channels: 'rgba' }), 'gbrapf32le')
    const plane = width * height
    for (let i = 0; i < plane; i++)
      for (const [c, at] of [1, 2, 0, 3].entries()) {
        const meant = light[4 * i + at]!
        expect(Math.abs(read[c * plane + i]! - meant)).toBeLessThanOrEqual(Math.abs(meant) / 2048 + 1e-7)
      }
  })
  it('comes in again as it went out, with alpha and without', () => {
    for (const channels of ['rgba', 'rgb'] as const) {
      const file = pictureFile(picture(), 'exr', { channels })
      expect(exrHead(file)).toMatchObject({ width, height, beyond: '' })
      const back = pixelsOfExr(file).light!
      const { light } = picture()
      light.forEach((v, i) => {
        const meant = i % 4 === 3 && channels === 'rgb' ? 1 : v
        expect(Math.abs(back[i]! - meant)).toBeLessThanOrEqual(meant / 2048 + 1e-7)
      })
    }
  })
  it('of a matte has one channel, the coverage as it is', () => {
    const read = asFfmpegReads('matte.exr', pictureFile(picture(), 'exr', { channels: 'matte' }), 'grayf32le')
    const { light } = picture()
    for (let i = 0; i < width * height; i++) expect(read[i]).toBeCloseTo(light[4 * i]!, 2)
  })
  it('that is a part of a larger picture lies there where it was, for another reader', () => {
    const within = { x: 6, y: 10, width: 64, height: 72 }
    const file = pictureFile(picture(), 'exr', { channels: 'rgb', within })
    const read = asFfmpegReads('part.exr', file, 'gbrpf32le')
    expect(read.length).toBe(3 * within.width * within.height)
    const { light } = picture()
    let [off, outside] = [0, 0]
    for (let y = 0; y < within.height; y++)
      for (let x = 0; x < within.width; x++) {
        const red = read[2 * within.width * within.height + y * within.width + x]!
        const [px, py] = [x - within.x, y - within.y]
        const inside = px >= 0 && py >= 0 && px < width && py < height
        if (inside) off = Math.max(off, Math.abs(red - light[4 * (py * width + px)]!))
        else outside = Math.max(outside, red)
      }
    expect([off < 0.002, outside]).toEqual([true, 0])
  })
  it('of noise, which does not get smaller, stands as it is', () => {
    const light = Float32Array.from({ length: 4 * width * height }, (_, i) => ((i * 7919) % 10_007) / 777)
    for (let i = 3; i < light.length; i += 4) light[i] = 1
    const read = asFfmpegReads(
      'noise.exr',
      pictureFile({ ...picture(), light }, 'exr', { channels: 'rgb' }),
      'gbrpf32le',
    )
    for (let i = 0; i < width * height; i++) expect(Math.abs(read[i]! / light[4 * i + 1]! - 1)).toBeLessThan(1 / 2000)
  })
})

describe('PNG that goes out', () => {
  it('of 16 bits is the light as sRGB encodes it, straight: another reader has it to a level of 65535', () => {
    const { data, channels, depth } = decode(pictureFile(picture(), 'png16', { channels: 'rgba' }))
    expect([channels, depth]).toEqual([4, 16])
    for (let i = 0; i < width * height; i++) {
      const [x, y] = [i % width, Math.floor(i / width)]
      const meant = [(4 * x) / width, y / height, 0.001 * x].map((v) => 65535 * toEncoded(Math.min(1, v)))
      meant.forEach((v, c) => expect(Math.abs(data[4 * i + c]! - v)).toBeLessThan(1.01))
    }
  })
  it('is premultiplied where that is asked for: nothing is brighter than it covers', () => {
    for (const coding of ['png', 'png16'] as const) {
      const { data } = decode(pictureFile(picture(), coding, { channels: 'rgba', premultiplied: true }))
      const straight = decode(pictureFile(picture(), coding, { channels: 'rgba' })).data
      const most = coding === 'png' ? 255 : 65535
      for (let i = 0; i < data.length; i += 4)
        for (let c = 0; c < 3; c++) {
          expect(data[i + c]).toBeLessThanOrEqual(data[i + 3]! + 1)
          // Three numbers, each rounded by half a level at the most.
          expect(Math.abs(data[i + c]! - (straight[i + c]! * straight[i + 3]!) / most)).toBeLessThan(1.51)
        }
    }
  })
  it('of a matte is grey, its levels the coverage and not encoded', () => {
    const { data, channels } = decode(pictureFile(picture(), 'png16', { channels: 'matte' }))
    expect(channels).toBe(1)
    const { light } = picture()
    for (let i = 0; i < data.length; i++)
      expect(Math.abs(data[i]! - 65535 * Math.min(1, light[4 * i]!))).toBeLessThan(1)
  })
})
