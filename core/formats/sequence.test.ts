import { encode } from 'fast-png'
import { describe, expect, it } from 'vitest'
import { pixelsOfPng } from './png.ts'
import { sequencesOf } from './sequence.ts'

describe('chosen files', () => {
  it('that differ in their last number only are one sequence, in the order of the numbers', () => {
    expect(sequencesOf(['sway_10.png', 'clip.mp4', 'sway_9.png', 'sway_8.PNG', 'other_1.jpg', 'lantern.png'])).toEqual([
      { name: 'clip.mp4', files: [1] },
      { name: 'lantern.png', files: [5] },
      { name: 'sway_8-10.png', files: [3, 2, 0] },
      { name: 'other_1.jpg', files: [4] },
    ])
  })
  it('of two takes are two sequences', () => {
    expect(sequencesOf(['a1_001.png', 'a2_001.png', 'a1_002.png', 'a2_002.png']).map((one) => one.files)).toEqual([
      [0, 2],
      [1, 3],
    ])
  })
})

describe('a PNG', () => {
  const rgba = (file: Parameters<typeof encode>[0]) => [...pixelsOfPng(encode(file)).rgba]
  it('keeps its colours under low alpha', () => {
    const data = new Uint8Array([255, 0, 128, 1, 10, 200, 30, 255])
    expect(rgba({ width: 2, height: 1, data, channels: 4 })).toEqual([...data])
  })
  it('of grey, with and without alpha, and of 16 bits becomes the same', () => {
    expect(rgba({ width: 1, height: 1, data: new Uint8Array([77]), channels: 1 })).toEqual([77, 77, 77, 255])
    expect(rgba({ width: 1, height: 1, data: new Uint8Array([77, 9]), channels: 2 })).toEqual([77, 77, 77, 9])
    expect(rgba({ width: 1, height: 1, data: new Uint16Array([65535, 0, 32896]), channels: 3, depth: 16 })).toEqual([
      255, 0, 128, 255,
    ])
  })
  it('that is broken is refused with a sentence', () => {
    expect(() =>
      pixelsOfPng(encode({ width: 9, height: 9, data: new Uint8Array(81), channels: 1 }).subarray(0, 40)),
    ).toThrow(/damaged/)
  })
})
