import { beforeAll, describe, expect, it } from 'vitest'
import { checks } from '../checks.ts'
import { memberMatte } from '../matte/partMatte.ts'
import type { Settings } from '../parameters/parameters.ts'
import { settingsSchema } from '../parameters/schemas.ts'
import { defaultsOf, settingsAt } from '../parameters/values.ts'
import { Scratch, Slot } from '../pixels/buffers/scratch.ts'
import { colourName } from '../pixels/colour/colourName.ts'
import { to8Bit, toEncoded } from '../pixels/colour/transfer.ts'
import { hashed } from '../pixels/filters/noise.ts'
import { startKernels } from '../pixels/kernels/engine.ts'
import { everywhere, makeKey } from '../records/make.ts'
import { Records } from '../records/records.ts'
import type { AnyRecord, Effect } from '../records/types.ts'
import { picturesNeeded, renderFrame } from '../render/frame.ts'
import type { Picture } from '../render/picture.ts'
import { sceneOf } from '../render/scene.ts'
import { smoothNodes } from '../shapes/kinds/outline.ts'
import { makePaintedKey, makePart } from '../shapes/make.ts'
import { shapesAt } from '../shapes/traced.ts'
import { type EffectKindName, effectKinds } from './catalogue.ts'
import type { EffectKind } from './effect.ts'
import { makeEffect } from './make.ts'

const slots = { plate: new Slot(), otherPlate: new Slot() }

const [width, height] = [320, 180]
const names = Object.keys(effectKinds) as EffectKindName[]
const kindOf = (name: EffectKindName): EffectKind => effectKinds[name]

/** A made-up plate: soft hills of light with some grain, the same at every scale. */
function plateAt(scale: number, frame: number, scratch: Scratch, slot = slots.plate): Picture {
  const [w, h] = [width * scale, height * scale]
  const name = `${scale} ${frame}`
  const drawn = plates.get(name) ?? plateWords(scale, frame)
  plates.set(name, drawn)
  const words = scratch.words(slot, w * h)
  words.set(drawn)
  return { words, width: w, height: h }
}
const plates = new Map<string, Uint32Array>()
function plateWords(scale: number, frame: number): Uint32Array {
  const [w, h] = [width * scale, height * scale]
  const words = new Uint32Array(w * h)
  const n = 1 / scale
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const sum = [0, 0, 0]
      for (let j = 0; j < n; j++)
        for (let i = 0; i < n; i++) {
          const [px, py] = [x * n + i, y * n + j]
          const grain = 0.03 * hashed(px >> 2, py >> 2, 3)
          const hill = (a: number) => 0.5 + 0.5 * Math.sin(px / (17 + a) + frame / 4) * Math.cos(py / (23 - a) + a)
          sum[0]! += 0.05 + 0.6 * hill(0) + grain
          sum[1]! += 0.05 + 0.4 * hill(5) + grain
          sum[2]! += 0.1 + 0.5 * hill(9) + grain
        }
      const [r, g, b] = sum.map((v) => to8Bit(v / (n * n))) as [number, number, number]
      words[y * w + x] = (0xff000000 | (b << 16) | (g << 8) | r) >>> 0
    }
  return words
}

const round = (cx: number, cy: number, r: number) =>
  smoothNodes(
    Array.from({ length: 8 }, (_, i) => [
      cx + r * Math.cos((i * Math.PI) / 4),
      cy + r * Math.sin((i * Math.PI) / 4),
    ]).flat(),
  )

/** A pole that swings and meets an oar at frame 12, and a performer who walks. */
function records(effects: Partial<Effect>[]): Records {
  const base: AnyRecord[] = [
    {
      ...{ type: 'media', id: 'm', name: 'clip', hash: 'a'.repeat(64), codec: 'avc', audio: '', width, height },
      ...{ rotation: 0, frames: 40, rate: 24, variableRate: false, seconds: 2, bytes: 1, matrix: 'bt709' },
      ...{ range: 'limited', tagged: true },
    } as AnyRecord,
    { type: 'shot', id: 's', media: 'm', name: 'Shot', order: 1, in: 0, out: 40, join: 40 },
    { type: 'shot', id: 'next', media: 'm', name: 'Next', order: 2, in: 8, out: 40, join: 0 },
    ...['pole', 'oar', 'keeper'].map((id, i): AnyRecord => ({
      ...{ type: 'member', id, shot: 's', name: id, kind: 'prop', colour: i, order: i },
    })),
    makePart({ id: 'shaft', member: 'pole', name: 'shaft', kind: 'rod', order: 1 }),
    makePart({ id: 'blade', member: 'oar', name: 'blade', kind: 'rod', order: 1 }),
    makePart({ id: 'body', member: 'keeper', name: 'body', kind: 'outline', order: 1 }),
    makeKey('shaft', 0, [60, 150, 90, 40]),
    makeKey('shaft', 24, [80, 150, 220, 60]),
    makeKey('blade', 0, [250, 150, 180, 40]),
    makeKey('blade', 24, [250, 150, 170, 50]),
    makeKey('body', 0, round(150, 100, 40)),
    makeKey('body', 24, round(200, 90, 46)),
  ]
  return new Records([
    ...base,
    ...effects.map((effect, i) => makeEffect({ id: `e${i}`, shot: 's', order: i, kind: 'blade', ...effect })),
  ])
}

/** A card of the kind that shows something on this shot. */
function card(name: EffectKindName, settings: Settings = {}, more: Partial<Effect> = {}): Partial<Effect> {
  const kind = kindOf(name)
  const other: Settings = kind.parameters.some((p) => p.type === 'member') ? { other: 'oar' } : {}
  return {
    kind: name,
    target: name === 'dive' ? 'keeper' : kind.rides && !kind.alone ? 'pole' : '',
    ...(kind.region === 'source' ? { region: { of: ['keeper'], side: 'inside', grow: 0, soften: 0 } } : {}),
    ...more,
    settings: { ...other, ...showing[name], ...settings },
  }
}
/** Settings that make a kind visible where its defaults leave the picture as it is. */
const showing: Partial<Record<EffectKindName, Settings>> = {
  grade: { exposure: 1, saturation: 0.4 },
  transform: { x: 30, turn: 20 },
  hold: { at: 2 },
  lag: { back: 9 },
  droplets: { rate: 8, size: 12 },
  barrel: { bend: 0.5 },
  sparks: { from: 'edge' },
  flash: { when: 'frames', frames: '3, 12' },
  signalTear: { slices: 0.8 },
  motionBlur: { shutter: 1080 },
  insert: { clip: 'm', size: 0.5 },
  dive: { clip: 'm', depth: 2 },
}

/** The keeper as pixels, on every frame: what an outline is drawn as. */
function painted(base: Records): AnyRecord[] {
  const scene = sceneOf(base, 's')!
  const rect = { x: 60, y: 20, width: 200, height: 150 }
  const keys = Array.from({ length: 40 }, (_, frame) => {
    const cover = memberMatte(shapesAt(scene.partsOf('keeper'), frame), 1, rect, new Scratch(), slots.plate)
    return makePaintedKey('pixels', frame, { ...rect, data: Uint8Array.from(cover, (v) => Math.round(255 * v)) }, null)
  })
  return [
    { type: 'member', id: 'paint', shot: 's', name: 'paint', kind: 'performer', colour: 3, order: 4 },
    makePart({ id: 'pixels', member: 'paint', name: 'pixels', kind: 'painted', order: 1 }),
    ...keys,
  ]
}

/** Remembers the numbers that were worked on, where NaN shows: in bytes it is a dark pixel like any other. */
class WatchedScratch extends Scratch {
  readonly given: Float32Array[] = []
  override floats(slot: Slot, length: number, zero = false): Float32Array {
    const view = super.floats(slot, length, zero)
    this.given.push(view)
    return view
  }
}

function draw(
  effects: Partial<Effect>[],
  frame = 12,
  scale = 1,
  scratch = fast,
  light: 'linear' | 'display' = 'linear',
  more: AnyRecord[] = [],
) {
  const all = records(effects)
  all.apply({ put: more, remove: [] })
  const scene = { ...sceneOf(all, 's')!, light }
  const picture = plateAt(scale, frame, scratch)
  const others = (need: { media: string; frame: number }) => plateAt(scale, need.frame, scratch, slots.otherPlate)
  const region = renderFrame(scene, frame, scale, picture, scratch, others)
  return { words: Uint32Array.from(picture.words), region, scene, width: picture.width, height: picture.height }
}
const levels = (word: number) => [word & 255, (word >> 8) & 255, (word >> 16) & 255] as const
/** Mean difference of two pictures in levels. */
function apart(a: Uint32Array, b: Uint32Array): number {
  let sum = 0
  for (let i = 0; i < a.length; i++)
    for (let shift = 0; shift < 24; shift += 8) sum += Math.abs(((a[i]! >> shift) & 255) - ((b[i]! >> shift) & 255))
  return sum / (3 * a.length)
}
/** Share of the pixels that differ by levels that an eye sees: two or more in a channel. */
function shareChanged(a: Uint32Array, b: Uint32Array): number {
  let count = 0
  for (let i = 0; i < a.length; i++)
    for (let shift = 0; shift < 24; shift += 8)
      if (Math.abs(((a[i]! >> shift) & 255) - ((b[i]! >> shift) & 255)) >= 2) {
        count++
        break
      }
  return count / a.length
}
const untouched = (frame = 12, scale = 1) => plateAt(scale, frame, new Scratch()).words

let fast: Scratch
let pixels: AnyRecord[]
beforeAll(() => {
  pixels = painted(records([]))
  fast = new Scratch(startKernels(96 * 1024 ** 2))
})

describe.each(names)('%s', (name) => {
  const kind = kindOf(name)
  it('describes itself: its defaults are valid, its sentence names what it has, a card of it can be kept', () => {
    const settings = defaultsOf(kind.parameters)
    expect(() => settingsSchema(kind.parameters).validateSync(settings, { strict: true })).not.toThrow()
    for (const piece of kind.sentence(settingsAt(kind.parameters, settings, 0)))
      if ('setting' in piece) expect(kind.parameters.map((p) => p.name)).toContain(piece.setting)
    // Two colours never read alike.
    const colours = kind.sentence(settings).flatMap((piece) => {
      const told = 'setting' in piece && kind.parameters.find((p) => p.name === piece.setting && p.type === 'colour')
      return told ? [colourName(String(settings[told.name]))] : []
    })
    expect(new Set(colours).size).toBe(colours.length)
    expect(new Set(kind.parameters.map((p) => p.name)).size).toBe(kind.parameters.length)
    // By what somebody wants of them every setting stands once.
    const wished = kind.wishes.flatMap((wish) => wish.parameters.map((p) => p.name))
    expect(wished.toSorted()).toEqual(kind.parameters.map((p) => p.name).toSorted())
    expect(() => checks.record(makeEffect({ id: 'e', shot: 's', order: 1, kind: name }))).not.toThrow()
  })
  it('shows on the picture, in linear light and on encoded values', () => {
    for (const light of ['linear', 'display'] as const)
      expect(shareChanged(draw([card(name)], 12, 1, fast, light).words, untouched())).toBeGreaterThan(0.01)
  })
  it('leaves the picture as it is at no opacity, before its frames, and without whom it needs', () => {
    const range = { from: 20, to: 30, fadeIn: 0, fadeOut: 0 }
    for (const more of [{ opacity: 0 }, { range }, { on: false }])
      expect(apart(draw([card(name, {}, more)]).words, untouched())).toBe(0)
    const gone =
      kind.rides && !kind.alone
        ? { target: 'nobody' }
        : { region: { of: ['nobody'], side: 'inside' as const, grow: 0, soften: 0 } }
    if (kind.region !== 'none' || !kind.alone) expect(apart(draw([card(name, {}, gone)]).words, untouched())).toBe(0)
  })
  it('changes nothing outside of where it says it does', () => {
    const { words, region } = draw([card(name)])
    const before = untouched()
    const changed: number[][] = []
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        if (x < region.x || y < region.y || x >= region.x + region.width || y >= region.y + region.height)
          if (words[y * width + x] !== before[y * width + x]) changed.push([x, y])
    expect(changed).toEqual([])
  })
  it('gives the same bytes twice, and the compiled kernels the same picture as the plain ones', () => {
    const one = draw([card(name)], 12, 1, fast).words
    expect(draw([card(name)], 12, 1, fast).words).toEqual(one)
    expect(apart(draw([card(name)], 12, 1, new Scratch()).words, one)).toBeLessThan(0.02)
  })
  it('at half size looks like the whole picture made smaller, within 1.5 levels', () => {
    const whole = draw([card(name)])
    const half = draw([card(name)], 12, 0.5)
    expect(apart(reduced(whole.words), half.words)).toBeLessThan(1.5)
  })
  it('survives the ends of every range: nothing is NaN, nothing throws', () => {
    for (const end of ['min', 'max'] as const) {
      const extreme = Object.fromEntries(
        kind.parameters.flatMap((p) =>
          p.type === 'number' && p.name !== 'samples' && p.name !== 'most' ? [[p.name, p[end]]] : [],
        ),
      )
      const watched = new WatchedScratch()
      draw([card(name, extreme)], 12, 0.25, watched)
      for (const floats of watched.given) expect(floats.some(Number.isNaN), end).toBe(false)
    }
  }, 20_000)
  it('rides on a painted member as on an outline of the same pixels', () => {
    if (!kind.rides?.includes('painted')) return
    const riding = (target: string) => draw([card(name, {}, { target })], 12, 1, fast, 'linear', pixels).words
    const [outline, matte] = [riding('keeper'), riding('paint')]
    const shown = apart(outline, untouched())
    expect(shown).toBeGreaterThan(0.05)
    // Chance has them fly from other places of the same edge.
    if (name === 'sparks' || name === 'droplets')
      return expect(Math.abs(apart(matte, untouched()) / shown - 1)).toBeLessThan(0.3)
    expect(apart(outline, matte)).toBeLessThan(Math.max(0.1, shown / 10))
  })
  it('works on an empty region and where whom it rides on is away', () => {
    const at = (effects: Partial<Effect>[]) => {
      const all = records(effects)
      for (const part of ['shaft', 'body', 'blade'])
        all.apply({ put: [{ type: 'away', id: `away-${part}`, part, from: 0, to: 39 }], remove: [] })
      const picture = plateAt(1, 12, new Scratch())
      renderFrame(sceneOf(all, 's')!, 12, 1, picture, new Scratch(), () => null)
      return picture.words
    }
    const bounded = { region: { of: ['keeper'], side: 'inside' as const, grow: 0, soften: 0 } }
    expect(apart(at([card(name, {}, bounded)]), untouched())).toBe(0)
  })
})

function reduced(words: Uint32Array): Uint32Array {
  const out = new Uint32Array((width / 2) * (height / 2))
  const linear = (v: number) => (v / 255 <= 0.04045 ? v / 255 / 12.92 : ((v / 255 + 0.055) / 1.055) ** 2.4)
  for (let y = 0; y < height / 2; y++)
    for (let x = 0; x < width / 2; x++) {
      const four = [0, 1, width, width + 1].map((k) => levels(words[2 * y * width + 2 * x + k]!))
      const [r, g, b] = [0, 1, 2].map((c) =>
        Math.round(255 * toEncoded(four.reduce((sum, level) => sum + linear(level[c]!), 0) / 4)),
      ) as [number, number, number]
      out[(y * width) / 2 + x] = (0xff000000 | (b << 16) | (g << 8) | r) >>> 0
    }
  return out
}

describe('cards together', () => {
  it('work in their order', () => {
    const fill = card('fill', { first: '#ff0000' })
    const grade = card('grade', { exposure: 0, saturation: 0 })
    const red = levels(draw([grade, fill]).words[0]!)
    const grey = levels(draw([fill, grade]).words[0]!)
    expect(red).toEqual([255, 0, 0])
    expect(grey[0]).toBe(grey[1])
    expect(grey[1]).toBe(grey[2])
  })
  it('of a group are laid on together at its opacity: half of both is half-way to what they make', () => {
    const made = [card('fill', { first: '#ffffff' }), card('grade', { exposure: -1 })]
    const grouped = (groupOpacity: number) => draw(made.map((one) => ({ ...one, group: 'Two', groupOpacity }))).words
    expect(apart(grouped(1), draw(made).words)).toBe(0)
    expect(apart(grouped(0), untouched())).toBe(0)
    const linear = (word: number) =>
      levels(word).map((v) => (v / 255 <= 0.04045 ? v / 255 / 12.92 : ((v / 255 + 0.055) / 1.055) ** 2.4))
    const [half, from, to] = [grouped(0.5), untouched(), grouped(1)].map((words) => linear(words[4000]!))
    half!.forEach((v, c) => expect(v).toBeCloseTo((from![c]! + to![c]!) / 2, 2))
  })
  it('one that has nobody to work on does not stop the rest', () => {
    const words = draw([
      card('twist', {}, { target: 'nobody', region: { of: ['gone'], side: 'inside', grow: 0, soften: 0 } }),
      card('fill', { first: '#00ff00' }),
    ]).words
    expect(levels(words[0]!)).toEqual([0, 255, 0])
  })
  it('a glow of the whole picture comes from its bright places only', () => {
    const dark = draw([card('grade', { exposure: -3 }, { region: everywhere })]).words
    const glowing = draw([
      card('grade', { exposure: -3 }, { region: everywhere }),
      card('glow', { from: 'shape' }, { region: everywhere }),
    ]).words
    expect(apart(dark, glowing)).toBe(0)
    expect(
      apart(untouched(), draw([card('glow', { from: 'shape', threshold: 0.5 }, { region: everywhere })]).words),
    ).toBeGreaterThan(0.5)
  })
  it('ask for every other frame once', () => {
    const scene = sceneOf(
      records([card('hold', { at: 2 }), card('hold', { at: 2 }), card('changeMask', { ago: 3 })]),
      's',
    )!
    expect(picturesNeeded(scene, 12)).toEqual([
      { media: '', frame: 2 },
      { media: '', frame: 9 },
    ])
  })
})

describe('time of other pictures', () => {
  it('a held picture is what the cards before it make of that frame; those after it go on', () => {
    const blurred = draw([card('soften', { amount: 20 })], 2).words
    expect(apart(draw([card('soften', { amount: 20 }), card('hold', { at: 2 })]).words, blurred)).toBeLessThan(0.02)
    const sharp = draw([card('hold', { at: 2 })]).words
    expect(apart(sharp, untouched(2))).toBe(0)
    expect(apart(sharp, blurred)).toBeGreaterThan(0.5)
    expect(apart(draw([card('hold', { at: 2 }), card('soften', { amount: 20 })]).words, blurred)).toBeLessThan(0.02)
    // All that they are made from is asked for beforehand.
    const scene = sceneOf(records([card('insert', { clip: 'm' }), card('hold', { at: 2 })]), 's')!
    expect(picturesNeeded(scene, 12).map(({ media, frame }) => [media, frame])).toEqual([
      ['m', 12],
      ['', 2],
      ['m', 2],
    ])
  })
  it('an inserted clip runs at its own rate in time, whatever that of the shot is', () => {
    const all = records([card('insert', { clip: 'fast', speed: 1, from: 3 })])
    const clip = { ...all.get('media', 'm')!, id: 'fast', rate: 60, frames: 600 }
    all.apply({ put: [clip], remove: [] })
    const at = (frame: number) => picturesNeeded(sceneOf(all, 's')!, frame).map((need) => need.frame)
    // A second of the shot is a second of the clip.
    expect([at(0), at(24), at(12)]).toEqual([[3], [63], [33]])
  })
})

describe('the shutter of what moves a picture', () => {
  const moving: Settings[string] = {
    keys: [
      { frame: 0, value: 0, ease: 'straight' },
      { frame: 40, value: 10, ease: 'straight' },
    ],
  }
  it('is the mean of the picture at moments within it, as a library for numbers has it', () => {
    const frame = 12
    const at = (moment: number) => draw([card('scroll', { across: (moment / 40) * 10, edge: 'repeated' })], frame)
    const one = draw([card('scroll', { across: moving, edge: 'repeated', shutter: 180, samples: 4 })], frame).words
    const moments = [0, 1, 2, 3].map((k) => at(frame + 0.5 * ((k + 0.5) / 4 - 0.5)).words)
    const linear = (v: number) => (v / 255 <= 0.04045 ? v / 255 / 12.92 : ((v / 255 + 0.055) / 1.055) ** 2.4)
    let worst = 0
    for (let i = 0; i < one.length; i += 7)
      levels(one[i]!).forEach((v, c) => {
        const mean = moments.reduce((sum, words) => sum + linear(levels(words[i]!)[c]!), 0) / 4
        worst = Math.max(worst, Math.abs(v - 255 * toEncoded(mean)))
      })
    expect(worst).toBeLessThan(2)
    expect(apart(one, at(frame).words)).toBeGreaterThan(1)
  })
  it.each(names.filter((name) => kindOf(name).moves))('of %s changes nothing where nothing moves', (name) => {
    const sharp = draw([card(name, {}, { target: '' })]).words
    const open = draw([card(name, { shutter: 180 }, { target: '' })]).words
    if (kindOf(name).moves === 'byItself') expect(apart(open, sharp)).toBeGreaterThan(0.05)
    else expect(open).toEqual(sharp)
  })
  it('smears what rides on somebody along the way of that one', () => {
    const riding = (shutter: number) =>
      draw([card('insert', { clip: 'm', lies: 'member', size: 0.2, shutter, samples: 8 }, { target: 'keeper' })]).words
    expect(apart(riding(360), riding(0))).toBeGreaterThan(0.02)
  })
})
