import { describe, expect, it } from 'vitest'
import { makeEffect } from '../effects/make.ts'
import type { Settings } from '../parameters/parameters.ts'
import { Scratch } from '../pixels/buffers/scratch.ts'
import { i420Layout, rgbaToI420, type Yuv, yuvToRgba } from '../pixels/buffers/yuv.ts'
import { hashed } from '../pixels/filters/noise.ts'
import type { Diff } from '../records/diff.ts'
import { makeKey } from '../records/make.ts'
import { Records } from '../records/records.ts'
import type { AnyRecord, Effect } from '../records/types.ts'
import { makePart } from '../shapes/make.ts'
import { renderFrame, renderLightAlone, renderVideoFrame } from './frame.ts'
import { affectedFrames, sceneOf } from './scene.ts'

const [width, height] = [160, 90]
const media: AnyRecord = {
  ...{
    type: 'media',
    id: 'm',
    name: 'clip',
    hash: 'a'.repeat(64),
    codec: 'avc',
    audio: '',
    width,
    height,
    rotation: 0,
    frames: 40,
    rate: 24,
  },
  ...{ variableRate: false, seconds: 2, bytes: 1, matrix: 'bt709', range: 'limited', tagged: true },
}
const key = (part: string, frame: number, points: number[]): AnyRecord => makeKey(part, frame, points)
const part = (id: string, kind: 'rod' | 'oval'): AnyRecord =>
  makePart({ id, member: `member-${id}`, name: id, kind, order: 1 })
const member = (id: string): AnyRecord => ({
  type: 'member',
  id,
  shot: 's',
  name: id,
  kind: 'prop',
  colour: 0,
  order: 1,
})
const blade = (settings: Settings = {}, more: Partial<Effect> = {}): AnyRecord =>
  makeEffect({
    ...{ id: 'e', shot: 's', kind: 'blade', order: 1, target: 'member-rod', ...more },
    settings: { flicker: 0, coreWidth: 6, halos: [{ feather: 8, strength: 0.6, colour: '' }], ...settings },
  })
const shot = (...records: AnyRecord[]) =>
  new Records([
    media,
    { type: 'shot', id: 's', media: 'm', name: 'Shot', order: 1, in: 0, out: 40, join: 0 },
    ...[member('member-rod'), part('rod', 'rod'), member('member-head'), part('head', 'oval')],
    ...[key('rod', 0, [40, 45, 120, 45]), key('rod', 20, [40, 45, 120, 45]), key('head', 0, [80, 45, 92, 45, 80, 57])],
    ...records,
  ])
const black = () => ({ words: new Uint32Array(width * height).fill(0xff000000), width, height })
const red = (words: Uint32Array, x: number, y: number) => words[y * width + x]! & 255

/** A patterned plate as a decoder gives it, of colours that RGB holds, so that nothing is clipped on the way. */
function plate(more: Partial<Yuv> = {}): Yuv {
  const { bytes, planes } = i420Layout(width, height)
  const data = Uint8Array.from({ length: bytes }, (_, i) =>
    i < width * height ? 70 + 90 * hashed(i >> 2, 1) : 118 + 20 * hashed(i >> 2, 2),
  )
  return { data, width, height, planes, matrix: 'bt709', range: 'limited', rotation: 0, ...more }
}

describe('a frame', () => {
  it('burns where the traced rod is and leaves every other pixel as it was', () => {
    const picture = black()
    const region = renderFrame(sceneOf(shot(blade()), 's')!, 10, 1, picture, new Scratch())
    expect(red(picture.words, 60, 45)).toBe(255)
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        if (y < region.y || y >= region.y + region.height) expect(picture.words[y * width + x]).toBe(0xff000000)
    expect(region.height).toBeLessThan(60)
  })
  it('is dark behind a holdout and where the part is away, off or without a target', () => {
    const behind = black()
    renderFrame(sceneOf(shot(blade({ spill: 0 }, { behind: ['head'] })), 's')!, 10, 1, behind, new Scratch())
    expect(red(behind.words, 60, 45)).toBe(255)
    expect(red(behind.words, 80, 45)).toBe(0)
    for (const records of [
      shot(blade(), { type: 'away', id: 'a', part: 'rod', from: 8, to: 12 }),
      shot(blade({}, { on: false })),
      shot(blade({}, { target: '' })),
    ]) {
      const dark = black()
      renderFrame(sceneOf(records, 's')!, 10, 1, dark, new Scratch())
      expect(dark.words.every((word) => word === 0xff000000)).toBe(true)
    }
  })
  it('is covered on the frames of its cover only, and half-way as that fades', () => {
    const over = (from: number, fadeIn: number) => {
      const behindRange = { from, to: 30, fadeIn, fadeOut: 0 }
      const picture = black()
      const records = shot(blade({ spill: 0 }, { behind: ['head'], behindRange }))
      renderFrame(sceneOf(records, 's')!, 10, 1, picture, new Scratch())
      return red(picture.words, 80, 45)
    }
    expect(over(10, 0)).toBe(0)
    expect(over(11, 0)).toBe(255)
    // Its first frame of two: half of the light is left, and the core is brighter than white.
    expect(over(10, 1)).toBeGreaterThan(100)
  })
  it('as light alone, laid over black with its alpha, is the light that falls on black', () => {
    const scene = sceneOf(shot(blade({ outside: '#ff7733' })), 's')!
    const over = black()
    renderFrame(scene, 10, 1, over, new Scratch())
    const alone = { words: new Uint32Array(width * height), width, height }
    renderLightAlone(scene, 10, 1, alone, new Scratch())
    alone.words.forEach((word, i) => {
      const alpha = (word >>> 24) / 255
      for (const shift of [0, 8, 16])
        expect(Math.abs(((word >>> shift) & 255) * alpha - ((over.words[i]! >>> shift) & 255))).toBeLessThanOrEqual(1)
    })
  })
  it('for a video file is what the picture shows, and untouched bytes where no light falls', () => {
    const scene = sceneOf(shot(blade()), 's')!
    const yuv = plate()
    const out = new Uint8Array(i420Layout(width, height).bytes)
    renderVideoFrame(scene, 10, yuv, out, new Scratch())
    const picture = black()
    yuvToRgba(yuv, picture.words)
    renderFrame(scene, 10, 1, picture, new Scratch())
    const expected = new Uint8Array(out.length)
    rgbaToI420(new Uint8Array(picture.words.buffer), width, height, expected)
    // Luma where light falls agrees to the rounding of 8 bits; the first rows, out of reach, are the clip's own.
    for (let i = 36 * width; i < 54 * width; i++) expect(Math.abs(out[i]! - expected[i]!)).toBeLessThanOrEqual(1)
    expect([...out.subarray(0, 10 * width)]).toEqual([...yuv.data.subarray(0, 10 * width)])
  })
  it('for a video file of a turned or BT.601 clip goes the long way to the same colours', () => {
    const scene = sceneOf(shot(blade()), 's')!
    const out = new Uint8Array(i420Layout(width, height).bytes)
    renderVideoFrame(scene, 10, plate({ matrix: 'bt601' }), out, new Scratch())
    const picture = black()
    yuvToRgba(plate({ matrix: 'bt601' }), picture.words)
    renderFrame(scene, 10, 1, picture, new Scratch())
    const expected = new Uint8Array(out.length)
    rgbaToI420(new Uint8Array(picture.words.buffer), width, height, expected)
    expect(out).toEqual(expected)
  })
  it('gives the same bytes every time, however often the buffers were used', () => {
    const scene = sceneOf(shot(blade({ flicker: 0.5 })), 's')!
    const scratch = new Scratch()
    const draw = (frame: number) => {
      const picture = black()
      renderFrame(scene, frame, 1, picture, scratch)
      return picture.words
    }
    const first = draw(7)
    draw(3)
    draw(19)
    expect(draw(7)).toEqual(first)
  })
})

describe('frames that a change makes stale', () => {
  const stale = (diff: Diff) => {
    const records = shot(blade(), key('rod', 10, [40, 45, 120, 45]), key('rod', 30, [40, 45, 120, 45]))
    const inverse = records.apply(diff)
    return affectedFrames(records, 's', diff, inverse)
  }
  it('lie between the neighbouring keys', () => {
    const range = stale({ put: [key('rod', 12, [0, 0, 9, 9])], remove: [] })!
    expect(range.from).toBeLessThanOrEqual(9)
    expect(range.to).toBeGreaterThanOrEqual(20)
  })
  it('are all of them for an effect, and none for another shot', () => {
    expect(stale({ put: [blade({ coreWidth: 20 })], remove: [] })).toEqual({ from: 0, to: Infinity })
    expect(stale({ put: [{ ...blade(), id: 'x', shot: 'elsewhere' } as AnyRecord], remove: [] })).toBeNull()
  })
})
