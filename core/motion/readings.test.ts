import { describe, expect, it } from 'vitest'
import { effectKinds } from '../effects/catalogue.ts'
import { makeEffect } from '../effects/make.ts'
import { type Drive, wholeMix } from '../parameters/drives.ts'
import { settingsAt } from '../parameters/values.ts'
import { lumaOf } from '../pixels/buffers/luma.ts'
import { i420Layout, rgbaToI420, type Yuv } from '../pixels/buffers/yuv.ts'
import { makeKey } from '../records/make.ts'
import { Records } from '../records/records.ts'
import type { AnyRecord } from '../records/types.ts'
import { sceneOf } from '../render/scene.ts'
import { makePart } from '../shapes/make.ts'
import { makeSound } from '../soundtrack/make.ts'
import { brightnessUnder, coarseness, KeptReadings, mixName, readingsAsked } from './readings.ts'

const [width, height] = [160, 90]
const drive = (signal: Drive['signal'], more: Partial<Drive> = {}): Drive => ({
  ...{ signal, of: 'eye', with: '', from: [0, 1], to: [0, 1], bend: [0, 0, 1, 1], smooth: 0, lag: 0 },
  ...more,
})
const records = (strength: Drive, more: AnyRecord[] = []) =>
  new Records([
    ...(['m', 'other'].map((id) => ({
      ...{ type: 'media', id, name: 'clip', hash: 'a'.repeat(64), codec: 'avc', audio: 'aac', width, height },
      ...{ rotation: 0, frames: 40, rate: 24, variableRate: false, seconds: 2, bytes: 1, matrix: 'bt709' },
      ...{ range: 'limited', tagged: true },
    })) as AnyRecord[]),
    { type: 'shot', id: 's', media: 'm', name: 'Shot', order: 1, in: 10, out: 30, join: 0 },
    { type: 'member', id: 'eye', shot: 's', name: 'Eye', kind: 'eye', colour: 0, order: 1 },
    makePart({ id: 'lid', member: 'eye', name: 'lid', kind: 'oval', order: 1 }),
    makeKey('lid', 0, [40, 45, 60, 45, 40, 65]),
    makeKey('lid', 10, [120, 45, 140, 45, 120, 65]),
    makeEffect({ id: 'e', shot: 's', order: 1, kind: 'glow', settings: { strength } }),
    ...more,
  ])
/** A plate whose left half is of one grey and whose right half of another. */
function plate(left: number, right: number): Yuv {
  const { bytes, planes } = i420Layout(width, height)
  const data = new Uint8Array(bytes)
  const rgba = Uint8Array.from({ length: 4 * width * height }, (_, i) =>
    i % 4 === 3 ? 255 : (i >> 2) % width < width / 2 ? left : right,
  )
  rgbaToI420(rgba, width, height, data)
  return { data, width, height, planes, matrix: 'bt709', range: 'limited', rotation: 0 }
}

describe('brightness under a shape', () => {
  const scene = sceneOf(records(drive('brightness')), 's')!
  it('is that of the picture under it, as it looks: level 51 of 255 is a fifth', () => {
    const luma = lumaOf(plate(51, 204), 2)
    expect(brightnessUnder(scene.partsOf('eye'), 0, luma, 'limited')).toBeCloseTo(0.2, 2)
    expect(brightnessUnder(scene.partsOf('eye'), 10, luma, 'limited')).toBeCloseTo(0.8, 2)
    expect(brightnessUnder(scene.partsOf('eye'), 5, luma, 'limited')).toBeCloseTo(0.5, 1)
    expect(brightnessUnder([], 0, luma, 'limited')).toBeNull()
  })
  it('drives a number frame by frame, counted in the shot; until it is read the default counts', () => {
    const readings = new KeptReadings()
    const at = (frame: number, of = records(drive('brightness', { to: [0, 2] }))) =>
      settingsAt(effectKinds.glow.parameters, of.get('effect', 'e')!.settings, frame, sceneOf(of, 's', readings)!.read)
        .strength
    const standard = effectKinds.glow.parameters.find((p) => p.name === 'strength')!.default
    expect(at(0)).toBe(standard)
    // Frame 0 of the shot is frame 10 of its clip.
    readings.see('m', 10, lumaOf(plate(51, 204), 2))
    readings.see('m', 20, lumaOf(plate(51, 204), 2))
    expect(at(0)).toBeCloseTo(0.4, 1)
    expect(at(10)).toBeCloseTo(1.6, 1)
    expect(at(4)).toBe(standard)
  })
})

describe('loudness', () => {
  it('of the shot’s own clip begins at its in point, of another one with the shot', () => {
    const readings = new KeptReadings()
    const levels = Float32Array.from({ length: 40 }, (_, i) => -i)
    readings.hear('m', levels)
    readings.hear('other', levels)
    const { read } = sceneOf(records(drive('loudness')), 's', readings)!
    expect(read(drive('loudness', { of: '' }), 3)).toBe(-13)
    expect(read(drive('loudness', { of: 'other' }), 3)).toBe(-3)
    expect(read(drive('loudness', { of: 'gone' }), 3)).toBeNull()
    expect(read(drive('loudness', { of: 'other', smooth: 2 }), 20)).toBeCloseTo(-20, 6)
  })
})

describe('loudness of the shot’s own sounds', () => {
  const hum = makeSound({ id: 'hum', shot: 's', kind: 'hum', order: 1 })
  it('begins with the shot, of one of them or of all together', () => {
    const readings = new KeptReadings()
    readings.hear(
      mixName('s', 'hum'),
      Float32Array.from({ length: 20 }, (_, i) => -i),
    )
    readings.hear(
      mixName('s', wholeMix),
      Float32Array.from({ length: 20 }, () => -6),
    )
    const { read } = sceneOf(records(drive('speed'), [hum]), 's', readings)!
    expect(read(drive('loudness', { of: 'hum' }), 3)).toBe(-3)
    expect(read(drive('loudness', { of: wholeMix }), 3)).toBe(-6)
    // A sound of another shot is not heard in this one.
    expect(read(drive('loudness', { of: 'elsewhere' }), 3)).toBeNull()
  })
  it('is asked for once, however many numbers hang on it', () => {
    const asking = (of: string) =>
      readingsAsked(
        records(drive('loudness', { of }), [
          hum,
          makeEffect({ id: 'f', shot: 's', order: 2, kind: 'glow', opacity: drive('loudness', { of }) }),
        ]),
        's',
      )
    expect(asking('hum')).toEqual({ seen: [], heard: [], mixed: [{ shot: 's', of: 'hum' }] })
    expect(asking(wholeMix).mixed).toEqual([{ shot: 's', of: wholeMix }])
  })
})

describe('what has to be read', () => {
  it('is what the drives that are on ask for, and no more', () => {
    expect(readingsAsked(records(drive('speed')), 's')).toEqual({ seen: [], heard: [], mixed: [] })
    expect(readingsAsked(records(drive('brightness')), 's')).toEqual({
      seen: [{ media: 'm', from: 10, to: 30 }],
      heard: [],
      mixed: [],
    })
    expect(readingsAsked(records(drive('loudness', { of: '' })), 's').heard).toEqual(['m'])
    const off = records(drive('brightness'))
    off.apply({ put: [{ ...off.get('effect', 'e')!, on: false }], remove: [] })
    expect(readingsAsked(off, 's').seen).toEqual([])
  })
  it('goes on to the shot that it is joined to', () => {
    const joined = records(drive('speed'), [
      { type: 'shot', id: 's', media: 'm', name: 'Shot', order: 1, in: 10, out: 30, join: 5 },
      { type: 'shot', id: 'n', media: 'other', name: 'Next', order: 2, in: 0, out: 20, join: 0 },
      makeEffect({ id: 'n-e', shot: 'n', order: 1, kind: 'glow', opacity: drive('brightness') }),
    ])
    expect(readingsAsked(joined, 's').seen).toEqual([{ media: 'other', from: 0, to: 20 }])
  })
  it('is coarser where the shot is long', () => {
    expect(coarseness({ width: 1280, height: 720 }, 96)).toBe(4)
    expect(coarseness({ width: 1280, height: 720 }, 3000)).toBe(8)
    expect(coarseness({ width: 320, height: 180 }, 96)).toBe(1)
  })
})
