import { describe, expect, it } from 'vitest'
import { makeEffect } from '../effects/make.ts'
import type { Settings } from '../parameters/parameters.ts'
import { Scratch } from '../pixels/buffers/scratch.ts'
import { stillOfLight } from '../pixels/buffers/still.ts'
import { toEncoded } from '../pixels/colour/transfer.ts'
import { Records } from '../records/records.ts'
import type { AnyRecord, Effect } from '../records/types.ts'
import { renderFrame } from './frame.ts'
import type { OtherPictures, Picture } from './picture.ts'
import { sceneOf } from './scene.ts'

const [width, height] = [24, 16]
const media = (id: string): AnyRecord => ({
  ...{ type: 'media', id, name: `${id}.exr`, hash: id.repeat(64), codec: 'exr', audio: '', width, height, rotation: 0 },
  ...{ frames: 1, rate: 24, variableRate: false, seconds: 1, bytes: 1, matrix: 'bt709', range: 'full', tagged: true },
})
const card = (kind: Effect['kind'], settings: Settings, more: Partial<Effect> = {}): AnyRecord =>
  makeEffect({ id: kind, shot: 's', kind, order: 1, target: '', ...more, settings })

/** A picture that holds its light, made from what is told of each pixel. */
function picture(of: (x: number, y: number) => number[], alpha = false): Picture {
  const light = new Float32Array(4 * width * height)
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) light.set(of(x, y), 4 * (y * width + x))
  const { rgba } = stillOfLight(light, width, height)
  return { words: new Uint32Array(rgba.buffer), light, alpha, width, height }
}
const level = (light: number) => Math.round(255 * toEncoded(Math.min(1, light)))
const levelAt = ({ words }: Picture, x: number, y: number, c = 0) => (words[y * width + x]! >>> (8 * c)) & 255

function rendered(plate: Picture, cards: AnyRecord[], light: 'linear' | 'display' = 'linear', others?: OtherPictures) {
  const shot: AnyRecord = { type: 'shot', id: 's', media: 'm', name: 'Shot', order: 1, in: 0, out: 10, join: 0 }
  const settings: AnyRecord = { type: 'project', id: 'p', name: 'Project', created: '', light }
  const scene = sceneOf(new Records([media('m'), media('n'), settings, shot, ...cards]), 's')!
  renderFrame(scene, 0, 1, plate, new Scratch(), others)
  return plate
}

describe('a plate that holds more light than its bytes', () => {
  it.each(['linear', 'display'] as const)('comes back from above white, and out of the dark (%s)', (light) => {
    const bright = rendered(
      picture(() => [4, 1, 0.25, 1]),
      [card('grade', { exposure: -2 })],
      light,
    )
    expect([0, 1, 2].map((c) => levelAt(bright, 5, 5, c))).toEqual([1, 0.25, 0.0625].map(level))
    // Two lights that are one code in 8 bits are 5 codes apart when they are made 64 times as bright.
    const dark = picture((x) => [x < 12 ? 0.0006 : 0.0008, 0, 0, 1])
    expect(levelAt(dark, 0, 0)).toBe(levelAt(dark, 20, 0) - 1)
    rendered(dark, [card('grade', { exposure: 6 })], light)
    expect([levelAt(dark, 0, 0), levelAt(dark, 20, 0)]).toEqual([0.0384, 0.0512].map(level))
  })
  it('spreads its light as what it is, and keeps what was made of it', () => {
    const spot = picture((x) => [x === 12 ? 80 : 0, 0, 0, 1])
    rendered(spot, [card('soften', { amount: 8, way: 'across' })])
    const sum = [...Array(width).keys()].reduce((all, x) => all + spot.light![4 * (8 * width + x)]!, 0)
    // The blur's own tail ends at some place: a part in a hundred.
    expect(Math.abs(sum - 80)).toBeLessThan(0.8)
    expect(levelAt(spot, 12, 8)).toBe(level(spot.light![4 * (8 * width + 12)]!))
    expect(levelAt(spot, 12, 8)).toBe(255)
  })
})

describe('an inserted picture of light', () => {
  const inserted = picture((x) => (x < 12 ? [0.5, 0, 0, 0.5] : [2, 2, 2, 0]), true)
  const laid = (blend: Effect['blend'], light: 'linear' | 'display' = 'linear') =>
    rendered(
      picture(() => [0.2, 0.2, 0.2, 1]),
      [card('insert', { clip: 'n', size: 1, lies: 'over' }, { blend })],
      light,
      ({ media }) => (media === 'n' ? inserted : null),
    )
  it('covers by its alpha; light without alpha is added to what is there', () => {
    const { light } = laid('normal')
    const at = (x: number) => [...light!.slice(4 * (8 * width + x), 4 * (8 * width + x) + 3)]
    for (const [i, value] of [0.6, 0.1, 0.1].entries()) expect(at(4)[i]).toBeCloseTo(value, 3)
    for (const value of at(18)) expect(value).toBeCloseTo(2.2, 3)
  })
  it('is itself where it covers, in display light too', () => {
    const whole = laid('normal', 'display')
    // Half of full red over 0.2, mixed as codes.
    expect(levelAt(whole, 4, 8)).toBeCloseTo(255 * (0.5 + 0.5 * toEncoded(0.2)), -0.5)
  })
})
