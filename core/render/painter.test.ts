import { describe, expect, it } from 'vitest'
import { Scratch } from '../pixels/buffers/scratch.ts'
import { i420Layout, type Yuv } from '../pixels/buffers/yuv.ts'
import { startKernels } from '../pixels/kernels/engine.ts'
import { type OtherFrame, Painter } from './painter.ts'

const grey = (level: number, width: number, height: number, name?: string): Yuv => {
  const { bytes, planes } = i420Layout(width, height)
  const data = new Uint8Array(bytes).fill(128)
  data.fill(level, 0, width * height)
  const yuv: Yuv = { data, width, height, planes, matrix: 'bt709', range: 'full', rotation: 0 }
  return name === undefined ? yuv : { ...yuv, name }
}
const other = (frame: number, yuv: Yuv, media = ''): OtherFrame => ({ media, frame, yuv })
const painterOf = () => new Painter(new Scratch(startKernels()))
/** Red of the first pixel, which of a grey frame in full range is its level. */
const levelOf = (painter: Painter, one: OtherFrame, reduce: 1 | 2 | 4 = 1) =>
  painter.pictures([one], reduce)({ media: one.media, frame: one.frame })!.words[0]! & 255

describe('pictures of other frames', () => {
  it('are made once of a frame that is known by its name, and each time of one that is not', () => {
    const painter = painterOf()
    const [known, unknown] = [grey(50, 16, 8, 'a'), grey(50, 16, 8)]
    expect([levelOf(painter, other(3, known)), levelOf(painter, other(3, unknown))]).toEqual([50, 50])
    // Whatever is in them now: what was made of a name is not looked at again.
    known.data.fill(90, 0, 128)
    unknown.data.fill(90, 0, 128)
    expect([levelOf(painter, other(3, known)), levelOf(painter, other(3, unknown))]).toEqual([50, 90])
    // At another place of the shot, too; but not at another size.
    expect(levelOf(painter, other(4, known))).toBe(50)
    expect(levelOf(painter, other(4, known), 2)).toBe(90)
    expect(levelOf(painter, other(3, grey(70, 16, 8, 'b')))).toBe(70)
  })

  it('of one frame are never lost to one another, however many it needs', () => {
    const painter = painterOf()
    // 2.1 MB each: more of them than are kept from frame to frame.
    const [width, height, count] = [960, 540, 16]
    for (let round = 0; round < 2; round++) {
      const frames = Array.from({ length: count }, (_, k) =>
        other(k, grey(10 + 10 * k, width, height, k % 3 ? `${round} ${k}` : undefined)),
      )
      const get = painter.pictures(frames, 1)
      const made = frames.map(({ frame }) => get({ media: '', frame })!)
      expect(made.map(({ words }) => words[width * height - 1]! & 255)).toEqual(frames.map((_, k) => 10 + 10 * k))
      expect(get({ media: '', frame: 2 })).toBe(made[2])
    }
  })

  it('take no more room from frame to frame than a frame needs, but for a little', () => {
    const scratch = new Scratch(startKernels())
    const painter = new Painter(scratch)
    const [width, height] = [1280, 720]
    const held: number[] = []
    for (let frame = 0; frame < 40; frame++) {
      levelOf(painter, other(frame, grey(frame, width, height, `n${frame}`)))
      held.push(scratch.held)
    }
    expect(held.at(-1)).toBe(held[10])
    expect(held[39]! - held[0]!).toBeLessThan(40 * 1024 ** 2)
    // The ones that were asked for last are there still, the first is not.
    expect(levelOf(painter, other(38, grey(200, width, height, 'n38')))).toBe(38)
    expect(levelOf(painter, other(0, grey(200, width, height, 'n0')))).toBe(200)
  })
})
