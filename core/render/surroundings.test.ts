import { describe, expect, it } from 'vitest'
import { makeEffect } from '../effects/make.ts'
import { Scratch, Slot } from '../pixels/buffers/scratch.ts'
import { toEncoded } from '../pixels/colour/transfer.ts'
import { hashed } from '../pixels/filters/noise.ts'
import { everywhere, makeKey } from '../records/make.ts'
import { Records } from '../records/records.ts'
import type { AnyRecord, Effect, Plate, Region } from '../records/types.ts'
import { makePart } from '../shapes/make.ts'
import { renderFrame } from './frame.ts'
import type { OtherPictures, Picture } from './picture.ts'
import { regionMatte } from './region.ts'
import { sceneOf } from './scene.ts'

/*
 * A performer of known colours before surroundings of known colours, mixed by a known matte after Porter and Duff,
 * "Compositing Digital Images", SIGGRAPH 1984. The truth is the effect on the whole surroundings, under the performer.
 */

const [width, height] = [320, 180]
const media: AnyRecord = {
  ...{ type: 'media', id: 'm', name: 'clip', hash: 'a'.repeat(64), codec: 'avc', audio: '', width, height },
  ...{ rotation: 0, frames: 40, rate: 24, variableRate: false, seconds: 2, bytes: 1 },
  ...{ matrix: 'bt709', range: 'limited', tagged: true },
}
/** `tighter`: px by which the oval is traced too tight. */
const records = (effects: Effect[], plate?: Plate, tighter = 0) =>
  new Records([
    media,
    { type: 'shot', id: 's', media: 'm', name: 'Shot', order: 1, in: 0, out: 40, join: 0 },
    { type: 'member', id: 'keeper', shot: 's', name: 'Keeper', kind: 'performer', colour: 0, order: 1 },
    { ...makePart({ id: 'body', member: 'keeper', name: 'body', kind: 'oval', order: 1 }), settings: { feather: 4 } },
    makeKey('body', 0, [160, 95, 205 - tighter, 95, 160, 165 - tighter]),
    ...effects,
    ...(plate ? [plate] : []),
  ])
const region: Region = { ...everywhere, of: ['keeper'], side: 'outside' }
const card = (kind: string, settings: Effect['settings'], more: Partial<Effect> = {}): Effect =>
  makeEffect({ id: `e-${kind}`, shot: 's', kind, order: 1, region, settings, ...more })

type Colours = (x: number, y: number) => [number, number, number]
/** Soft hills of light with a bright wall at the left; `x`, `y` in pixels. */
const hills: Colours = (x, y) => {
  const wave = (a: number, b: number) => 0.5 + 0.5 * Math.sin(a * x + b * y)
  return [0.05 + 0.3 * wave(0.05, 0.02), 0.1 + 0.3 * wave(0.03, -0.04), 0.15 + 0.3 * wave(-0.02, 0.05)]
}
const coat: Colours = (x, y) => [0.8, 0.1 + 0.05 * hashed(x, y, 1), 0.02]

const matteOf = (tighter: number): Float32Array =>
  regionMatte(
    sceneOf(records([], undefined, tighter), 's')!,
    { ...region, side: 'inside' },
    { time: 0, scale: 1, rect: { x: 0, y: 0, width, height } },
    new Scratch(),
    new Slot(),
  ).slice()
const matte = matteOf(0)

function picture(colours: Colours): Picture {
  const light = new Float32Array(4 * width * height)
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 4) light.set([...colours(x + 0.5, y + 0.5), 1], i)
  return { words: new Uint32Array(width * height), light, width, height }
}
const mixed = (front: Colours | Picture, back: Picture, by = matte): Picture => {
  const out = typeof front === 'function' ? picture(front) : { ...front, light: front.light!.slice() }
  for (let i = 0; i < out.light!.length; i++) {
    const a = by[i >> 2]!
    out.light![i] = a * out.light![i]! + (1 - a) * back.light![i]!
  }
  return out
}
function rendered(from: Picture, effects: Effect[], plate?: Plate, others?: OtherPictures, tighter = 0): Picture {
  const copy = { ...from, words: from.words.slice(), light: from.light!.slice() }
  renderFrame(sceneOf(records(effects, plate, tighter), 's')!, 3, 1, copy, new Scratch(), others)
  return copy
}
const everywhereToo = (effects: Effect[]) => effects.map((one) => ({ ...one, region: everywhere, behind: [] }))

/** Largest and mean difference in 8-bit levels where `where` holds, by the matte and the distance to the oval's edge in pixels. */
function off(one: Picture, other: Picture, where: (a: number, distance: number) => boolean) {
  let [most, sum, count] = [0, 0, 0]
  for (let i = 0; i < matte.length; i++) {
    const [x, y] = [(i % width) + 0.5 - 160, Math.floor(i / width) + 0.5 - 95]
    const size = Math.hypot(x / 45, y / 70)
    const distance = size ? (size - 1) * (Math.hypot(x, y) / size) : -45
    if (!where(matte[i]!, distance)) continue
    for (let c = 4 * i; c < 4 * i + 3; c++) {
      const by = 255 * Math.abs(toEncoded(one.light![c]!) - toEncoded(other.light![c]!))
      most = Math.max(most, by)
      sum += by
      count++
    }
  }
  return { most, mean: sum / count }
}

const jobs: [string, Effect[]][] = [
  ['scrolled by a whole width', [card('scroll', { across: 1.3 })]],
  ['blurred by 60 px', [card('soften', { amount: 60 })]],
  ['darkened by two stops', [card('grade', { exposure: -2 })]],
  ['blurred, then darkened', [card('soften', { amount: 60 }), card('grade', { exposure: -2 })]],
  ['replaced', [card('fill', { colour: '#204060' })]],
]

describe('surroundings of a performer', () => {
  const back = picture(hills)
  const filmed = mixed(coat, back)
  /** Two pixels and more beyond the edge, and along it, against the effect on the whole surroundings. */
  const errors = (made: Picture, effects: Effect[], behind: Picture) => {
    const truth = mixed(coat, rendered(behind, everywhereToo(effects)))
    const halo = off(made, truth, (a, distance) => a === 0 && distance > 2)
    return { halo, rim: off(made, truth, (a) => a > 0 && a < 1) }
  }
  it.each(jobs.filter(([job]) => !job.startsWith('scrolled')))(
    'are %s as if the performer were not there',
    (_, effects) => {
      const made = rendered(filmed, effects)
      const { halo, rim } = errors(made, effects, back)
      expect(halo.mean).toBeLessThan(1)
      expect(rim.mean).toBeLessThan(4)
      expect(off(made, filmed, (a) => a === 1).most).toBeLessThan(0.01)
      // As it was filmed, the old surroundings stay in the soft edge, or the performer in what is moved.
      const kept = rendered(
        filmed,
        effects.map((one) => ({ ...one, region: { ...region, filmed: true } })),
      )
      expect(errors(kept, effects, back).rim.mean).toBeGreaterThan(1.5 * rim.mean)
    },
  )
  /** What an edge inward can not tell: stripes of a few pixels. */
  const striped = picture((x, y) => {
    const [r, g, b] = hills(x, y)
    const stripe = 0.5 + 0.5 * Math.sin(0.7 * x + 0.4 * y)
    return [0.3 * r + 0.4 * stripe, 0.3 * g + 0.3 * stripe, b]
  })
  it.each([
    ...jobs,
    ['darkened twice', [card('grade', { exposure: -1 }), card('grade', { exposure: -1 }, { id: 'again' })]],
    [
      'darkened after all was',
      [card('grade', { exposure: -1 }, { id: 'all', region: everywhere }), card('grade', { exposure: -1 })],
    ],
    [
      'darkened after light was laid on all',
      [card('fill', { colour: '#203040' }, { region: everywhere, blend: 'add' }), card('grade', { exposure: -2 })],
    ],
  ] as [string, Effect[]][])(
    'that no edge foretells are seen in the frame along the soft edge when they are %s',
    (_, effects) => {
      const made = rendered(mixed(coat, striped), effects)
      const onAll = rendered(
        picture(coat),
        effects.filter(({ region }) => !region.of.length),
      )
      const truth = mixed(onAll, rendered(striped, everywhereToo(effects)))
      expect(off(made, truth, (a) => a > 0 && a < 1).mean).toBeLessThan(2)
    },
  )
  it('get no black line where somebody dark before a bright wall was traced too tight', () => {
    const wall = picture(() => [0.25, 0.5, 1])
    const dark: Colours = () => [0.1, 0.08, 0.06]
    const made = rendered(mixed(dark, wall), [card('grade', { exposure: -2 })], undefined, undefined, 4)
    // Nothing is darker than the darker of both, darkened.
    for (let i = 0; i < made.light!.length; i += 4)
      dark(0, 0).forEach((light, c) => expect(made.light![i + c]!).toBeGreaterThan((0.9 * light) / 4))
  })
  it('are shown as they are by an effect that does nothing', () => {
    const made = rendered(filmed, [card('grade', { exposure: 0 }), card('soften', { amount: 0 })])
    expect(off(made, filmed, () => true).most).toBeLessThan(0.05)
  })
  it('are changed behind who covers an effect, too', () => {
    const effects = [card('soften', { amount: 60 }, { region: everywhere, behind: ['keeper'] })]
    expect(
      off(rendered(filmed, effects), rendered(filmed, [card('soften', { amount: 60 })]), () => true).most,
    ).toBeLessThan(0.01)
  })
  it('are changed together with who covers an effect on other frames only', () => {
    const soften = (more: Partial<Effect>) =>
      rendered(filmed, [card('soften', { amount: 60 }, { region: everywhere, ...more })])
    const over = (from: number) => ({ behind: ['keeper'], behindRange: { from, to: 9, fadeIn: 0, fadeOut: 0 } })
    // The frame that is looked at is the fourth.
    expect(off(soften(over(4)), soften({}), () => true).most).toBeLessThan(0.01)
    expect(off(soften(over(3)), soften({ behind: ['keeper'] }), () => true).most).toBeLessThan(0.01)
    expect(off(soften(over(3)), soften({}), (a) => a === 1).most).toBeGreaterThan(10)
  })

  // The camera has moved and turned since the clean plate, and the light has changed.
  const [a, b, tx, ty] = [Math.cos(0.05), Math.sin(0.05), -22, 9]
  const still = { width: 460, height: 300, x: -60, y: -50 }
  const plate: Plate = {
    type: 'plate',
    id: 'p',
    shot: 's',
    media: 'still',
    x: -60,
    y: -50,
    from: 3,
    motions: [a, b, tx, ty],
  }
  const others: OtherPictures = ({ media }) => {
    if (media !== 'still') return null
    const light = new Float32Array(4 * still.width * still.height)
    for (let y = 0, i = 0; y < still.height; y++)
      for (let x = 0; x < still.width; x++, i += 4) light.set([...hills(x + 0.5 + still.x, y + 0.5 + still.y), 1], i)
    return {
      words: new Uint32Array(still.width * still.height),
      light,
      width: still.width,
      height: still.height,
      alpha: true,
    }
  }
  const moved = picture((x, y) => {
    const [u, v] = [x - tx, y - ty]
    return hills(a * u + b * v, -b * u + a * v).map((one) => 0.9 * one + 0.01) as [number, number, number]
  })
  it.each(jobs)('that the clean plate knows are exact when they are %s', (_, effects) => {
    const { halo, rim } = errors(rendered(mixed(coat, moved), effects, plate, others), effects, moved)
    expect(halo.most).toBeLessThan(1)
    expect(rim.most).toBeLessThan(2)
  })
  it.each(jobs)(
    'that the clean plate knows leave the rim of somebody who was traced too tight when they are %s',
    (_, effects) => {
      const changed = rendered(moved, everywhereToo(effects))
      const truth = mixed(coat, changed)
      const made = rendered(mixed(coat, moved), effects, plate, others, 2)
      // What a plain cut along the matte would give.
      const cut = mixed(mixed(coat, moved), changed, matteOf(2))
      const along = (a: number) => a > 0.02 && a < 0.98
      expect(off(made, truth, along).mean).toBeLessThan(off(cut, truth, along).mean)
    },
  )
})
