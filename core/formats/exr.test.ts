import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, describe, expect, it } from 'vitest'
import { ffmpeg } from '#lab/support/ffmpeg.ts'
import { exrHead, pixelsOfExr } from './exr.ts'

const folder = mkdtempSync(join(tmpdir(), 'wisp-exr-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

/** Red rises to four times white, green downwards to white; the right half covers by half. */
const drawn = "geq=r='4*X/W':g='Y/H':b='0.25'"
const covering = ":a='if(lt(X,W/2),1,0.5)'"

/** A picture of light as ffmpeg writes it. */
function written(size: [number, number], ...coding: string[]): Uint8Array {
  const file = join(folder, `${coding.join('-')}.exr`)
  const form = coding.includes('gbrpf32le') ? 'gbrpf32le' : 'gbrapf32le'
  const picture = `format=${form},${drawn}${form === 'gbrapf32le' ? covering : ''}`
  ffmpeg([
    ...['-f', 'lavfi', '-i', `color=black:s=${size.join('x')}`, '-frames:v', '1', '-vf', picture],
    ...['-pix_fmt', form, '-c:v', 'exr', ...coding.filter((word) => word !== form), file],
  ])
  return new Uint8Array(readFileSync(file))
}

/** How far a picture of light is from what was drawn, at the most; relative above white. */
function farthest(file: Uint8Array, [width, height]: [number, number], covers: (x: number) => number): number {
  const { light } = pixelsOfExr(file)
  const off = [...Array(width * height).keys()].flatMap((i) => {
    const [x, y] = [i % width, Math.floor(i / width)]
    const meant = [(4 * x) / width, y / height, 0.25, covers(x)]
    return meant.map((value, c) => Math.abs(light![4 * i + c]! - value) / Math.max(1, value))
  })
  return Math.max(...off)
}

/** Written by the OpenEXR project's own exrmaketiled: 24 x 20 pixels of half in tiles of 16 x 16, PXR24. */
const tiled = [
  'di8xAQICAABjaGFubmVscwBjaGxpc3QASQAAAEEAAQAAAAAAAAABAAAAAQAAAEIAAQAAAAAAAAABAAAAAQAAAEcAAQAAAAAAAAAB',
  'AAAAAQAAAFIAAQAAAAAAAAABAAAAAQAAAABjaHVua0NvdW50AGludAAEAAAABAAAAGNvbXByZXNzaW9uAGNvbXByZXNzaW9uAAEA',
  'AAAFZGF0YVdpbmRvdwBib3gyaQAQAAAAAAAAAAAAAAAXAAAAEwAAAGRpc3BsYXlXaW5kb3cAYm94MmkAEAAAAAAAAAAAAAAAFwAA',
  'ABMAAABmcmFtZXNQZXJTZWNvbmQAcmF0aW9uYWwACAAAABkAAAABAAAAZ2FtbWEAZmxvYXQABAAAAAAAgD9saW5lT3JkZXIAbGlu',
  'ZU9yZGVyAAEAAAAAcGl4ZWxBc3BlY3RSYXRpbwBmbG9hdAAEAAAAAACAP3NjcmVlbldpbmRvd0NlbnRlcgB2MmYACAAAAAAAAAAA',
  'AAAAc2NyZWVuV2luZG93V2lkdGgAZmxvYXQABAAAAAAAgD90aWxlcwB0aWxlZGVzYwAJAAAAEAAAABAAAAAAdHlwZQBzdHJpbmcA',
  'CgAAAHRpbGVkaW1hZ2V3cml0ZXIAc3RyaW5nAAQAAABsYXZjAAcCAAAAAAAAlwIAAAAAAAAKAwAAAAAAAF4DAAAAAAAAAAAAAAAA',
  'AAAAAAAAAAAAAHwAAAB4nLNhQIA/DJjABIsYScCQhYmRkRHBD2VYHRoatmr1aiACMmwotF8LjZ9GZ/v1Bth+AzT+GTrbb4TGp7f/',
  'CaZPOttP7/A3RePPpLP9Zmh8ese/ORrfmM72WxCQp7f99A5/dPvpnf4t0fj0jn90++md/6wIyBOyHwAHqJNzAQAAAAAAAAAAAAAA',
  'AAAAAF8AAAB4nLNgQAUmDPiBI5QODQ0DIwsC+rWgdBqZ+vUo1G8Apc+Qqd+IQvvR+eTqJ9f9plB6Jpn6zaA0uf43h9LGZOpHlydX',
  'P7nuh8mTG/6WUJpc/8P0kxt/Vmh8dP0AOsg+gwAAAAABAAAAAAAAAAAAAABAAAAAeJyzYUCAPwyYwASLGDKwQuOnoSswZGFiZGRE',
  '8EMZVoeGhq1avRqIgAwbKtt/hs72W6PxjQfY/pkk2g8AOiAlgQEAAAABAAAAAAAAAAAAAAArAAAAeJyzYEAFJmh8KyidBqUdoXRo',
  'aBgYWRCp/wyZ+q2htDGF+mfi0A8ABq0QRQ==',
].join('')

describe('OpenEXR', () => {
  const size: [number, number] = [70, 50]
  const half = (x: number) => (x < size[0] / 2 ? 1 : 0.5)
  it.each(['none', 'rle', 'zip1', 'zip16'])('packed by %s is read, of half and of float', (compression) => {
    // A float has 24 bits; a half 11, of which ffmpeg cuts off what is over.
    expect(farthest(written(size, '-compression', compression, '-format', 'float'), size, half)).toBeLessThan(1e-6)
    expect(farthest(written(size, '-compression', compression, '-format', 'half'), size, half)).toBeLessThan(2 ** -10)
  })
  it('without alpha covers all', () => {
    expect(farthest(written(size, '-format', 'half', 'gbrpf32le'), size, () => 1)).toBeLessThan(2 ** -10)
  })
  it('in tiles is read', () => {
    const file = new Uint8Array(Buffer.from(tiled, 'base64'))
    expect(exrHead(file)).toMatchObject({ width: 24, height: 20, beyond: '' })
    expect(farthest(file, [24, 20], (x) => (x < 12 ? 1 : 0.5))).toBeLessThan(2 ** -10)
  })
  it('has codes of what it covers: half of white under half is white', () => {
    const { rgba, light } = pixelsOfExr(written([16, 16], '-format', 'float'))
    const at = 4 * (8 * 16 + 15)
    expect([...light!.slice(at + 1, at + 4)]).toEqual([0.5, 0.25, 0.5])
    // IEC 61966-2-1: half of white is a code of 188.
    expect([...rgba.slice(at, at + 4)]).toEqual([255, 255, 188, 128])
  })

  const file = written(size, '-compression', 'zip16', '-format', 'half')
  /** The file with bytes of an attribute's value changed. */
  const changed = (name: string, by: number, ...bytes: number[]) => {
    const at = Buffer.from(file).indexOf(`${name}\0`, 0, 'latin1')
    const type = file.indexOf(0, at + name.length + 1)
    return file.with(type + 5 + by, bytes[0]!)
  }
  it.each([
    ['of several parts or deep', file.with(5, 16)],
    ['packed in an unusual way', changed('compression', 0, 6)],
    ['cropped', changed('dataWindow', 8, 60)],
    ['in an unusual order', changed('lineOrder', 0, 1)],
    ['of unusual channels', changed('channels', 0, 'Z'.charCodeAt(0))],
  ])('%s is not read here, and says so', (beyond, odd) => {
    expect(exrHead(odd)?.beyond).toBe(beyond)
    expect(() => pixelsOfExr(odd)).toThrow(/damaged/)
  })
  it('cut anywhere, or of bytes that were turned, is read or refused with a sentence', () => {
    for (let i = 0; i < 40; i++) {
      const cut = file.subarray(0, Math.floor((i * file.length) / 40))
      expect(() => pixelsOfExr(cut), `cut at ${cut.length}`).toThrow('The picture is damaged')
      const turned = file.slice()
      const at = Math.floor((i * file.length) / 40)
      turned[at] = turned[at]! ^ 0xff
      try {
        pixelsOfExr(turned)
      } catch (error) {
        expect((error as Error).message).toMatch(/^The picture is damaged/)
      }
    }
  })
})
