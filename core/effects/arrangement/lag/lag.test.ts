import { describe, expect, it } from 'vitest'
import type { Settings } from '../../../parameters/parameters.ts'
import { Scratch, Slot } from '../../../pixels/buffers/scratch.ts'
import { toEncoded } from '../../../pixels/colour/transfer.ts'
import { everywhere, makeKey } from '../../../records/make.ts'
import { Records } from '../../../records/records.ts'
import type { AnyRecord, Region } from '../../../records/types.ts'
import { picturesNeeded, renderFrame } from '../../../render/frame.ts'
import type { Picture } from '../../../render/picture.ts'
import { regionMatte } from '../../../render/region.ts'
import { sceneOf } from '../../../render/scene.ts'
import { makePart } from '../../../shapes/make.ts'
import { makeEffect } from '../../make.ts'

const [width, height] = [320, 180]
const region: Region = { ...everywhere, of: ['keeper'], side: 'outside' }

/** A performer who walks from left to right through surroundings that become lighter and drift. */
function scene(settings: Settings) {
  const media: AnyRecord = {
    ...{ type: 'media', id: 'm', name: 'clip', hash: 'a'.repeat(64), codec: 'avc', audio: '', width, height },
    ...{ rotation: 0, frames: 40, rate: 24, variableRate: false, seconds: 2, bytes: 1 },
    ...{ matrix: 'bt709', range: 'limited', tagged: true },
  }
  const records = new Records([
    media,
    { type: 'shot', id: 's', media: 'm', name: 'Shot', order: 1, in: 0, out: 40, join: 0 },
    { type: 'member', id: 'keeper', shot: 's', name: 'Keeper', kind: 'performer', colour: 0, order: 1 },
    { ...makePart({ id: 'body', member: 'keeper', name: 'body', kind: 'oval', order: 1 }), settings: { feather: 4 } },
    makeKey('body', 0, [80, 95, 110, 95, 80, 150]),
    makeKey('body', 20, [240, 95, 270, 95, 240, 150]),
    makeEffect({ id: 'e', shot: 's', kind: 'lag', order: 1, region, settings }),
  ])
  return sceneOf(records, 's')!
}
function surroundings(frame: number): Float32Array {
  const light = new Float32Array(4 * width * height)
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 4) {
      const wave = 0.5 + 0.5 * Math.sin(0.04 * (x + 3 * frame) + 0.03 * y)
      light.set([0.1 + 0.2 * wave + 0.01 * frame, 0.15 + 0.15 * wave, 0.25 - 0.1 * wave, 1], i)
    }
  return light
}
const of = scene({})
/** A frame as it would be filmed, before the surroundings of another. */
function filmed(frame: number, behind: Float32Array): Picture {
  const rect = { x: 0, y: 0, width, height }
  const matte = regionMatte(
    of,
    { ...region, side: 'inside' },
    { time: frame, scale: 1, rect },
    new Scratch(),
    new Slot(),
  )
  const light = behind.slice()
  const coat = [0.9, 0.05, 0.02]
  for (let i = 0; i < matte.length; i++)
    for (let c = 0; c < 3; c++) light[4 * i + c] = coat[c]! * matte[i]! + (1 - matte[i]!) * light[4 * i + c]!
  return { words: new Uint32Array(width * height), light, width, height }
}
const at = (frame: number) => filmed(frame, surroundings(frame))
function made(settings: Settings, frame: number): Picture {
  const own = scene(settings)
  const needs = picturesNeeded(own, frame)
  const picture = at(frame)
  renderFrame(own, frame, 1, picture, new Scratch(), (need) =>
    needs.some((one) => one.media === need.media && one.frame === need.frame) ? at(need.frame) : null,
  )
  return picture
}
/** Pixels to the performer's edge on a frame, roughly: below 0 within. */
const toBody = (x: number, y: number, frame: number) => 30 * (Math.hypot((x - 80 - 8 * frame) / 30, (y - 95) / 55) - 1)
/** Largest difference in 8-bit levels: away from where the performer is or was on some frames, and there. */
function off(one: Picture, other: Picture, frames: number[]) {
  let [away, there] = [0, 0]
  for (let i = 0; i < one.light!.length; i++) {
    if (i % 4 === 3) continue
    const by = 255 * Math.abs(toEncoded(one.light![i]!) - toEncoded(other.light![i]!))
    const [x, y] = [((i >> 2) % width) + 0.5, Math.floor((i >> 2) / width) + 0.5]
    if (frames.every((frame) => toBody(x, y, frame) > 8)) away = Math.max(away, by)
    else there = Math.max(there, by)
  }
  return { away, there }
}

describe('surroundings of before', () => {
  it('are seen around whoever goes on, who is not seen a second time where they were', () => {
    const truth = filmed(12, surroundings(4))
    const { away, there } = off(made({ back: 8 }, 12), truth, [4, 12])
    expect(away).toBeLessThan(0.1)
    // Where they were then the surroundings are made up from around: nothing of a red coat is left.
    expect(there).toBeLessThan(30)
    expect(off(filmed(12, at(4).light!), truth, [12]).away).toBeGreaterThan(100)
  })
  it('are the first ones where there were none before, and those to come below 0', () => {
    expect(off(made({ back: 30 }, 12), filmed(12, surroundings(0)), [0, 12]).away).toBeLessThan(0.1)
    expect(off(made({ back: -5 }, 12), filmed(12, surroundings(17)), [12, 17]).away).toBeLessThan(0.1)
  })
  it('are laid together evenly, or as the brightest or the darkest of them', () => {
    const frames = [10, 7, 4]
    const times = frames.map(surroundings)
    const each = (join: (values: number[]) => number) =>
      filmed(
        12,
        times[0]!.map((_, i) => join(times.map((one) => one[i]!))),
      )
    const settings = { back: 2, count: 3, gap: 3 }
    const apart = (together: string, truth: Picture) => off(made({ ...settings, together }, 12), truth, [12, ...frames])
    expect(
      apart(
        'mean',
        each((values) => values.reduce((a, b) => a + b) / 3),
      ).away,
    ).toBeLessThan(0.1)
    expect(
      apart(
        'bright',
        each((values) => Math.max(...values)),
      ).away,
    ).toBeLessThan(0.1)
    expect(
      apart(
        'dark',
        each((values) => Math.min(...values)),
      ).away,
    ).toBeLessThan(0.1)
  })
  it('let the present through by their strength', () => {
    expect(off(made({ back: 8, strength: 0 }, 12), at(12), [])).toEqual({ away: 0, there: 0 })
    const [now, then] = [surroundings(12), surroundings(4)]
    const half = filmed(
      12,
      now.map((v, i) => (v + then[i]!) / 2),
    )
    expect(off(made({ back: 8, strength: 0.5 }, 12), half, [4, 12]).away).toBeLessThan(0.1)
  })
})
