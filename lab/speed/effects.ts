import { effectKind, type EffectKindName } from '#core/effects/catalogue.ts'
import type { EffectContext, EffectKind } from '#core/effects/effect.ts'
import { makeEffect } from '#core/effects/make.ts'
import { rendererFor } from '#core/effects/renderers.ts'
import { coverOfParts } from '#core/effects/shared/tools.ts'
import { boundsOf } from '#core/geometry/rect.ts'
import type { Settings } from '#core/parameters/parameters.ts'
import { Scratch, Slot } from '#core/pixels/buffers/scratch.ts'
import { hashed } from '#core/pixels/filters/noise.ts'
import { startKernels } from '#core/pixels/kernels/engine.ts'
import { Records } from '#core/records/records.ts'
import type { Effect } from '#core/records/types.ts'
import { renderFrame } from '#core/render/frame.ts'
import { sceneOf } from '#core/render/scene.ts'
import { smoothNodes } from '#core/shapes/kinds/outline.ts'
import type { TracedPart } from '#core/shapes/traced.ts'
import { demoRecords } from '../demo/demoRecords.ts'
import { bareContext } from '../support/bareContext.ts'
import { openCv } from '../support/openCv.ts'
import { inTurns, result, type Result } from './measure.ts'

const slots = {
  picture: new Slot(),
  other: new Slot(),
  clip: new Slot(),
  benchPlate: new Slot(),
  benchData: new Slot(),
  benchPast: new Slot(),
}

const [width, height] = [1280, 720]

type Cv = Awaited<ReturnType<typeof openCv>>['cv']
type Mat = InstanceType<Cv['Mat']>
/** `mat` makes what the operation works in; whoever measures it frees that. */
type Work = (cv: Cv, from: Mat, to: Mat, mat: (rows?: number, columns?: number, type?: number) => Mat) => () => void

/** One operation of OpenCV on four float channels of a frame. */
const references: Record<string, Work> = {
  'GaussianBlur, sigma 9': (cv, from, to) => () => cv.GaussianBlur(from, to, new cv.Size(0, 0), 9),
  'GaussianBlur, sigma 35': (cv, from, to) => () => cv.GaussianBlur(from, to, new cv.Size(0, 0), 35),
  'six remaps and as many means': (cv, from, to, mat) => {
    const once = references.remap!(cv, from, to, mat)
    const sum = mat()
    return () => {
      for (let k = 0; k < 6; k++) {
        once()
        cv.addWeighted(from, 0.5, to, 0.5, 0, sum)
      }
    }
  },
  'filter2D with a disc of radius 12': (cv, from, to, mat) => {
    const disc = cv.getStructuringElement(cv.MORPH_ELLIPSE, new cv.Size(25, 25))
    const kernel = mat()
    disc.convertTo(kernel, cv.CV_32F, 1 / 441)
    return () => cv.filter2D(from, to, -1, kernel)
  },
  remap: (cv, from, to, mat) => {
    const { cols: width, rows: height } = from
    const [x, y] = [mat(height, width, cv.CV_32F), mat(height, width, cv.CV_32F)]
    for (let i = 0; i < width * height; i++) {
      x.data32F[i] = (i % width) + 9 * Math.sin(i / 9000)
      y.data32F[i] = Math.floor(i / width) + 9 * Math.cos(i / 7000)
    }
    return () => cv.remap(from, to, x, y, cv.INTER_LINEAR, cv.BORDER_REFLECT)
  },
  'three remaps': (cv, from, to, mat) => {
    const once = references.remap!(cv, from, to, mat)
    return () => [1, 2, 3].forEach(once)
  },
  'twelve remaps': (cv, from, to, mat) => {
    const once = references.remap!(cv, from, to, mat)
    return () => Array.from({ length: 12 }).forEach(once)
  },
  'GaussianBlur, sigma 2 (a stroke is a small blur of its place)': (cv, from, to) => () =>
    cv.GaussianBlur(from, to, new cv.Size(0, 0), 2),
  'pow, transform, pow': (cv, from, to, mat) => {
    const m = cv.matFromArray(4, 4, cv.CV_32F, [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1])
    const between = mat()
    return () => {
      cv.pow(from, 0.45, to)
      cv.transform(to, between, m)
      cv.pow(between, 2.2, to)
    }
  },
  'distanceTransform and addWeighted': (cv, from, to, mat) => {
    const [mask, distance] = [mat(from.rows, from.cols, cv.CV_8U), mat()]
    mask.data.forEach((_: number, i: number) => (mask.data[i] = i % 97 ? 255 : 0))
    return () => {
      cv.distanceTransform(mask, distance, cv.DIST_L2, cv.DIST_MASK_PRECISE)
      cv.addWeighted(from, 0.5, from, 0.5, 0, to)
    }
  },
  'resize down and up': (cv, from, to, mat) => {
    const small = mat()
    return () => {
      cv.resize(from, small, new cv.Size(53, 30), 0, 0, cv.INTER_AREA)
      cv.resize(small, to, new cv.Size(from.cols, from.rows), 0, 0, cv.INTER_NEAREST)
    }
  },
  'multiply and add': (cv, from, to, mat) => {
    const between = mat()
    return () => {
      cv.multiply(from, from, between)
      cv.add(from, between, to)
    }
  },
}

const nearest: Partial<Record<EffectKindName, [reference: string, aim: number, settings?: Settings]>> = {
  glow: ['GaussianBlur, sigma 35', 0.3],
  wrap: ['GaussianBlur, sigma 9', 1],
  droplets: ['remap', 1],
  relight: ['GaussianBlur, sigma 9', 1],
  lag: ['multiply and add', 1, { count: 2 }],
  shadow: ['remap', 1],
  reflection: ['remap', 1],
  shafts: ['six remaps and as many means', 1],
  flash: ['multiply and add', 1, { when: 'frames', frames: '10' }],
  castLight: ['distanceTransform and addWeighted', 1],
  afterglow: ['GaussianBlur, sigma 35', 1],
  sparks: ['GaussianBlur, sigma 9', 1],
  fill: ['multiply and add', 1],
  grade: ['pow, transform, pow', 1, { exposure: 0.5, contrast: 1.2, saturation: 0.8, temperature: 4000 }],
  outlineLine: ['distanceTransform and addWeighted', 1],
  soften: ['GaussianBlur, sigma 9', 0.3],
  spinBlur: ['six remaps and as many means', 1],
  lensBlur: ['filter2D with a disc of radius 12', 1],
  motionBlur: ['twelve remaps', 1],
  twist: ['remap', 1],
  lens: ['remap', 1],
  barrel: ['remap', 1],
  ripple: ['remap', 1],
  mirror: ['remap', 1],
  blockScatter: ['remap', 1],
  shake: ['remap', 1],
  scroll: ['remap', 1],
  signalTear: ['three remaps', 1],
  colourSplit: ['three remaps', 1, { blur: 0 }],
  flicker: ['multiply and add', 1],
  dabs: ['GaussianBlur, sigma 9', 1],
  mosaic: ['resize down and up', 1],
  changeMask: ['GaussianBlur, sigma 9', 1],
  dissolve: ['remap', 1],
  transform: ['remap', 1, { x: 30, turn: 10 }],
  hold: ['multiply and add', 1],
  echo: ['three remaps', 1],
  insert: ['remap', 1, { clip: 'past' }],
  dive: ['three remaps', 1, { clip: 'past', depth: 3 }],
  takeOver: ['remap', 1],
  frame: ['multiply and add', 1],
  words: ['GaussianBlur, sigma 2 (a stroke is a small blur of its place)', 1],
}

const round = (cx: number, cy: number, r: number) =>
  smoothNodes(
    Array.from({ length: 12 }, (_, i) => [
      cx + r * Math.cos((i * Math.PI) / 6),
      cy + 1.6 * r * Math.sin((i * Math.PI) / 6),
    ]).flat(),
  )
const rod: TracedPart = {
  ...{ id: 'p', kind: 'rod', role: 'add', settings: { reach: 40 } },
  at: (t) => [600, 430, 600 + 380 * Math.cos(t / 9), 430 - 380 * Math.sin(t / 9)],
}
const body: TracedPart = {
  id: 'b',
  kind: 'outline',
  role: 'add',
  settings: { feather: 4 },
  at: (t) => round(500 + 3 * t, 380, 120),
}

/** Sizes at which kinds are measured, by what their benchmarks begin with, and rounds of each. */
const kindSizes = {
  effect: { width, height, rounds: 9, warm: 5 },
  '4k': { width: 3840, height: 2160, rounds: 3, warm: 2 },
}

/** A kind on a whole frame against the operation of OpenCV that comes nearest to it. Shapes grow with the frame, settings do not. */
async function againstOpenCv(
  title: string,
  name: EffectKindName,
  { width, height, rounds, warm }: (typeof kindSizes)['4k'],
) {
  const [reference, aim, settings = {}] = nearest[name]!
  const larger = (part: TracedPart): TracedPart => ({
    ...part,
    at: (t) => part.at(t)?.map((v) => (v * height) / 720) ?? null,
  })
  const frame = { x: 0, y: 0, width, height }
  const kind: EffectKind = effectKind(name)
  const { cv } = await openCv()
  const scratch = new Scratch(startKernels())
  const size = 4 * width * height
  const [plate, data] = [scratch.floats(slots.benchPlate, size), scratch.floats(slots.benchData, size)]
  for (let i = 0; i < size; i++)
    plate[i] = i % 4 === 3 ? 1 : 0.6 * hashed(((i >> 2) % width) >> 2, Math.floor(i / 4 / width / 4), i & 3)
  const past = { data: scratch.floats(slots.benchPast, size), width, height }
  for (let i = 0; i < size; i++) past.data[i] = plate[(i + 40) % size]!
  const context: EffectContext = bareContext(kind, {
    ...{ frame: 10, size: { width, height }, scratch, parts: [larger(rod)], settings },
    ...(kind.region === 'source'
      ? {
          region: (rect, buffer, time = 10) => coverOfParts([larger(body)], time, 1, rect, scratch, buffer),
          regionBounds: () => boundsOf([400, 170, 680, 590].map((v) => (v * height) / 720)),
        }
      : {}),
    picture: () => past,
  })
  const mats: Mat[] = []
  const mat = (rows?: number, columns?: number, type?: number): Mat => {
    const made: Mat = rows === undefined ? new cv.Mat() : new cv.Mat(rows, columns!, type!)
    mats.push(made)
    return made
  }
  const [from, to] = [mat(height, width, cv.CV_32FC4), mat()]
  from.data32F.set(plate)
  const times = inTurns(
    () => {
      if (kind.makes === 'layer') data.fill(0)
      else data.set(plate)
      rendererFor(name).draw(context, { data, region: frame, holdout: null, under: { data: plate, region: frame } })
    },
    references[reference]!(cv, from, to, mat),
    rounds,
    warm,
  )
  mats.forEach((one) => one.delete())
  return result(title, times.ms, `OpenCV ${reference}`, times.referenceMs, aim)
}

export const effectBenches: Record<string, () => Promise<Result>> = Object.fromEntries(
  Object.entries(kindSizes).flatMap(([begins, of]) =>
    (Object.keys(nearest) as EffectKindName[]).map((name) => {
      const title = `${begins}-${name}`
      return [title, () => againstOpenCv(title, name, of)]
    }),
  ),
)

/** Whole frames of a demo shot with one card, as they are drawn, against the same with another. */
async function againstItself(
  name: string,
  shotId: string,
  [own, other]: [own: Partial<Effect> & { kind: string }, other: Partial<Effect> & { kind: string }],
  reference: string,
  aim: number,
): Promise<Result> {
  const { records } = demoRecords()
  const shot = { ...sceneOf(new Records(records), shotId)!, plate: null }
  const scratch = new Scratch(startKernels())
  const plate = Uint32Array.from(
    { length: width * height },
    (_, i) => 0xff000000 | Math.floor(hashed((i % width) >> 2, i >> 12, 3) * 0xffffff),
  )
  const words = scratch.words(slots.picture, plate.length)
  const drawn = (card: Partial<Effect> & { kind: string }) => {
    const scene = { ...shot, effects: [makeEffect({ id: 'e', shot: shotId, order: 1, ...card })] }
    return () => {
      words.set(plate)
      renderFrame(scene, 20, 1, { words, width, height }, scratch, () => null)
    }
  }
  const times = inTurns(drawn(own), drawn(other), 9)
  return result(name, times.ms, reference, times.referenceMs, aim)
}
const across: Settings[string] = {
  keys: [
    { frame: 0, value: 0, ease: 'straight' },
    { frame: 40, value: 4, ease: 'straight' },
  ],
}
const scrolled = (shutter: number) => ({ kind: 'scroll', settings: { across, shutter, samples: 6 } })
effectBenches['effect-shutter'] = () =>
  againstItself('effect-shutter', 'shot-moon-pond', [scrolled(180), scrolled(0)], 'the same with one moment', 4)
const softened = (of: string[]) => ({
  ...{ kind: 'soften', settings: { amount: 60 } },
  region: { of, side: 'outside' as const, grow: 0, soften: 0 },
})
effectBenches['effect-surroundings'] = () =>
  againstItself(
    'effect-surroundings',
    'shot-leap',
    [softened(['leaper']), softened([])],
    'the same blur of the whole picture',
    2,
  )

const shotNames = ['jetty-swing', 'leap', 'two-poles', 'heron-mask', 'moon-pond']
/** A worker of two has so long for a frame (ms) when it plays at 24 a second. */
const shotAim = 2000 / 24

/** The demo's shots at half size, every third frame: drawing alone, as one of two workers does it. */
export const shotBenches: Record<string, () => Promise<Result>> = Object.fromEntries(
  shotNames.map((file) => [
    `shot-${file}`,
    async () => {
      const { records, footage } = demoRecords()
      const scene = sceneOf(new Records(records), `shot-${file}`)!
      const scratch = new Scratch(startKernels())
      const plate = (slot: Slot, w: number, h: number) => {
        const words = scratch.words(slot, w * h)
        for (let i = 0; i < words.length; i++)
          words[i] = 0xff000000 | Math.floor(hashed((i % w) >> 2, i >> 12, 3) * 0x606060)
        return { words, width: w, height: h }
      }
      const picture = plate(slots.picture, 640, 360)
      const other = plate(slots.other, 640, 360)
      const clips = new Map(
        records.flatMap((one) =>
          one.type === 'media' ? [[one.id, plate(slots.clip.part(one.id), one.width, one.height)] as const] : [],
        ),
      )
      const { frames } = footage.find((one) => one.shot.id === scene.shot.id)!.truth
      const times: number[] = []
      for (let frame = 0; frame < frames; frame += 3) {
        const start = performance.now()
        renderFrame(scene, frame, 0.5, picture, scratch, (need) =>
          need.media && !need.scaled ? clips.get(need.media)! : other,
        )
        times.push(performance.now() - start)
      }
      const mean = times.slice(1).reduce((a, b) => a + b) / (times.length - 1)
      return result(`shot-${file}`, mean, 'a frame at 24 a second on two cores', shotAim, 1)
    },
  ]),
)
