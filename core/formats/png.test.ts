import { encode } from 'fast-png'
import { describe, expect, it } from 'vitest'
import { pixelsOfPng } from './png.ts'

/** A chunk of a PNG; its checksum is not looked at before the picture's own (PNG, third edition, 5.3). */
function chunk(name: string, content: number[]): Uint8Array {
  const body = Uint8Array.from([...[...name].map((letter) => letter.charCodeAt(0)), ...content])
  const out = new Uint8Array(body.length + 8)
  new DataView(out.buffer).setUint32(0, content.length)
  out.set(body, 4)
  new DataView(out.buffer).setUint32(out.length - 4, crc(body))
  return out
}
/** The check of PNG, third edition, annex D. */
function crc(bytes: Uint8Array): number {
  let c = 0xffffffff
  for (const byte of bytes) {
    c ^= byte
    for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1
  }
  return (c ^ 0xffffffff) >>> 0
}
const word = (v: number) => [v >>> 24, (v >>> 16) & 255, (v >>> 8) & 255, v & 255]
/** A picture of 16 bits with chunks between its header and its pixels. */
function png16(values: number[], channels: 1 | 3 | 4, ...chunks: Uint8Array[]): Uint8Array {
  const file = encode({
    width: values.length / channels,
    height: 1,
    data: Uint16Array.from(values),
    depth: 16,
    channels,
  })
  const header = 33
  return Uint8Array.from([...file.subarray(0, header), ...chunks.flatMap((one) => [...one]), ...file.subarray(header)])
}
const codes = (file: Uint8Array) => [...pixelsOfPng(file).rgba]

describe('a PNG of 16 bits', () => {
  it('is codes of sRGB where it says nothing else', () => {
    expect(codes(png16([0, 32768, 65535], 1))).toEqual([0, 0, 0, 255, 128, 128, 128, 255, 255, 255, 255, 255])
    const usual = chunk('gAMA', word(45455))
    expect(codes(png16([32768], 1, usual))).toEqual([128, 128, 128, 255])
  })

  // IEC 61966-2-1: light of 0.5 is a code of 188 of 255, of 0.2159 one of 128, of 0.0031308 one of 10.
  it('is light where its gamma says so; alpha is none', () => {
    const linear = chunk('gAMA', word(100_000))
    expect(codes(png16([32768, 14146, 205, 32768], 4, linear))).toEqual([188, 128, 10, 128])
    expect(codes(png16([0, 65535, 65535], 3, linear)).slice(0, 3)).toEqual([0, 255, 255])
  })

  it('a colour space that it names counts more than the gamma', () => {
    const both = [chunk('gAMA', word(100_000)), chunk('sRGB', [0])]
    expect(codes(png16([32768], 1, ...both))).toEqual([128, 128, 128, 255])
  })

  it('with a gamma that can not be is as usual, and one that is cut short says so', () => {
    expect(codes(png16([32768], 1, chunk('gAMA', word(0))))).toEqual([128, 128, 128, 255])
    expect(codes(png16([32768], 1, chunk('gAMA', word(0xffffffff))))).toEqual([128, 128, 128, 255])
    const whole = png16([1, 2, 3], 1, chunk('gAMA', word(100_000)))
    for (const length of [0, 5, 20, 36, 50]) expect(() => pixelsOfPng(whole.subarray(0, length))).toThrow(/damaged/)
  })

  it('holds more light than bytes do, premultiplied', () => {
    // IEC 61966-2-1 below its bend: light is the code by 12.92; 100 of 65535 is no level of 8 bits.
    const { light, rgba } = pixelsOfPng(png16([100, 200, 65535, 65535, 65535, 0, 300, 32768], 4))
    const dark = (code: number) => code / 65535 / 12.92
    expect(light![0]).toBeCloseTo(dark(100), 9)
    expect(light![1]).toBeCloseTo(dark(200), 9)
    expect([light![2], light![3]]).toEqual([1, 1])
    const alpha = 32768 / 65535
    expect(light![4]).toBeCloseTo(alpha, 6)
    expect(light![6]).toBeCloseTo(dark(300) * alpha, 9)
    expect([...rgba]).toEqual([0, 1, 255, 255, 255, 0, 1, 128])
    expect(pixelsOfPng(encode({ width: 1, height: 1, data: new Uint8Array([9]), channels: 1 })).light).toBeUndefined()
  })
})
