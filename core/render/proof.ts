import { effectKinds } from '../effects/catalogue.ts'
import { makeEffect } from '../effects/make.ts'
import { rendererFor } from '../effects/renderers.ts'
import { makeKey } from '../records/make.ts'
import { Records } from '../records/records.ts'
import type { AnyRecord, Effect } from '../records/types.ts'
import { type Scene, sceneOf } from './scene.ts'

/** Pixels of the picture that a graphics card is proven on. */
export const proofSize = { width: 96, height: 64 }
/** Levels of 255 by which a card may be off: on the mean, and anywhere. */
export const proofLimits = { mean: 0.5, most: 4 }

/** Kinds of effects that a graphics card draws by itself. */
export const shadedKinds = (): string[] =>
  Object.keys(effectKinds).filter((kind) => rendererFor(kind).shade !== undefined)

const inOval: Effect['region'] = { of: ['oval'], side: 'inside', grow: 0, soften: 4 }
/** Cards that kinds are proven by, where one as it comes changes nothing or little. */
const telling: Record<string, Partial<Effect>> = {
  grade: { settings: { exposure: 0.5, contrast: 1.3, saturation: 1.4, temperature: 4500 }, region: inOval },
  relight: { region: inOval },
  // The core bends on a mesh of eight pixels, which is coarse on a picture as small as this.
  barrel: { settings: { bend: 0.06, zoom: 1.2 } },
  shake: { settings: { amount: 12, turn: 6, zoom: 0.1, edge: 'mirrored' } },
}
/** What a card lays on that is handed to it: by the region of an oval, with its own opacity. */
export const handedCards: [string, Partial<Effect>][] = [
  ['sparks', {}],
  ['fill', { region: inOval, opacity: 0.7 }],
]

/** A shot of 8 frames, in which a rod swings before an oval, with one card of a kind; it is looked at on frame 3. */
export function proofScene(kind: string, given: Partial<Effect> = {}, light: 'linear' | 'display' = 'linear'): Scene {
  const { width, height } = proofSize
  const media: AnyRecord = {
    ...{ type: 'media', id: 'm', name: '', hash: 'm'.repeat(64), codec: 'png', audio: '', width, height, rotation: 0 },
    ...{ frames: 8, rate: 24, variableRate: false, seconds: 1, bytes: 1, matrix: 'bt709', range: 'full', tagged: true },
  }
  const part = (id: string, form: string): AnyRecord => ({
    ...{ type: 'part', id, member: id, kind: form, name: id, order: 1, role: 'add', tween: 'straight', hold: true },
    ...{ settings: {}, hidden: false, locked: false, ride: null },
  })
  const member = (id: string, order: number): AnyRecord => ({
    ...{ type: 'member', id, shot: 's', name: id, kind: 'prop', colour: 0, order },
  })
  const records: AnyRecord[] = [
    { type: 'project', id: 'p', name: '', created: '', light },
    media,
    { type: 'shot', id: 's', media: 'm', name: '', order: 1, in: 0, out: 8, join: 0 },
    ...[member('rod', 1), part('rod', 'rod'), member('oval', 2), part('oval', 'oval')],
    ...[
      makeKey('rod', 0, [20, 50, 30, 8]),
      makeKey('rod', 7, [24, 52, 88, 40]),
      makeKey('oval', 0, [60, 32, 74, 32, 60, 44]),
    ],
    makeEffect({
      id: 'e',
      shot: 's',
      kind: kind as Effect['kind'],
      order: 1,
      target: 'rod',
      ...telling[kind],
      ...given,
    }),
  ]
  return sceneOf(new Records(records), 's')!
}
export const proofFrame = 3

/** A plate of grain over a ramp from black to white, as words (see Picture): the core asks warps on a mesh, which coarse noise would show. */
export function proofPlate(words: Uint32Array): void {
  const { width } = proofSize
  let seed = 7
  for (let i = 0; i < words.length; i++) {
    seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0
    const level = (shift: number) => Math.min(255, Math.floor(((i % width) * 200) / width) + ((seed >>> shift) & 15))
    words[i] = (0xff000000 | (level(24) << 16) | (level(16) << 8) | level(8)) >>> 0
  }
}

/** By how many levels two pictures differ: on the mean over all their channels, and at most. */
export function levelsApart(one: Uint32Array, other: Uint32Array): { mean: number; most: number } {
  let [sum, most] = [0, 0]
  for (let i = 0; i < one.length; i++)
    for (let shift = 0; shift < 24; shift += 8) {
      const apart = Math.abs(((one[i]! >>> shift) & 255) - ((other[i]! >>> shift) & 255))
      sum += apart
      if (apart > most) most = apart
    }
  return { mean: sum / (3 * one.length), most }
}
