/** Frames of the demo's footage in Node, for what draws or measures its effects without a server. Needs ffmpeg. */
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { unzipSync } from 'fflate'
import type { EffectKindName } from '#core/effects/catalogue.ts'
import { pixelsOfPng } from '#core/formats/png.ts'
import { type Scratch, Slot } from '#core/pixels/buffers/scratch.ts'
import { reducedRgba } from '#core/pixels/buffers/still.ts'
import type { AnyRecord, Effect, Media } from '#core/records/types.ts'
import { picturesNeeded } from '#core/render/frame.ts'
import type { OtherPictures, Picture } from '#core/render/picture.ts'
import type { Scene } from '#core/render/scene.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { demoMedia } from '../support/places.ts'

const slots = { picture: new Slot(), plate: new Slot(), reduced: new Slot() }

const [width, height] = [1280, 720]

/** Frames on which a kind is seen best where the middle of its frames is not it. */
const best: Partial<Record<EffectKindName, number>> = {
  ...{ blade: 36, castLight: 40, afterglow: 16, flash: 24, sparks: 29, shake: 26, fill: 30, glow: 30, shafts: 30 },
  ...{ outlineLine: 40, grade: 36, soften: 36, echo: 42, motionBlur: 30, ripple: 36, dissolve: 68, blockScatter: 66 },
  ...{ insert: 6, dive: 65, takeOver: 65, shadow: 14, reflection: 8, relight: 30, lag: 40, droplets: 40 },
}

/** The demo's first card of a kind, switched on and well to be seen, and a frame on which it is. */
export function shownCard(records: readonly AnyRecord[], kind: EffectKindName): { card: Effect; frame: number } {
  const own = records.find((one): one is Effect => one.type === 'effect' && one.kind === kind)
  if (!own) throw new Error(`The demo does not use ${kind}: use it in lab/demo/story.ts, so that it has a picture.`)
  const { range } = own
  const frame = best[kind] ?? (range ? Math.floor((range.from + range.to) / 2) : 36)
  const settings = kind === 'motionBlur' ? { ...own.settings, shutter: 720 } : own.settings
  // An outline on its own, as strong as it gets.
  return { card: { ...own, on: true, settings, opacity: kind === 'outlineLine' ? 1 : own.opacity }, frame }
}

/** A frame of a clip, or of a still or a zipped sequence, as RGBA words at full size. */
export function plateOf(clip: string, frame: number, scratch: Scratch): Picture {
  if (/\.(png|zip)$/.test(clip)) {
    const file = readFileSync(join(demoMedia, clip))
    const pictures = clip.endsWith('.zip') ? Object.values(unzipSync(file)) : [file]
    const { rgba, ...size } = pixelsOfPng(pictures[frame % pictures.length]!)
    return { words: taken(rgba, slots.picture.part(`${clip} ${frame}`), scratch), ...size, alpha: true }
  }
  const data = ffmpeg([
    ...['-i', join(demoMedia, clip), '-vf', `select=eq(n\\,${frame})`, '-frames:v', '1'],
    ...['-f', 'rawvideo', '-pix_fmt', 'rgba', '-'],
  ])
  return { words: taken(data, slots.plate.part(`${clip} ${frame}`), scratch), width, height }
}

function taken(rgba: Uint8Array, slot: Slot, scratch: Scratch): Uint32Array {
  const words = scratch.words(slot, rgba.length / 4)
  new Uint8Array(words.buffer, words.byteOffset, rgba.length).set(rgba)
  return words
}

/** A plate as the renderer gets it for work at a scale. */
export function reducedPlate(plate: Picture, reduce: number, scratch: Scratch, slot: Slot): Picture {
  if (reduce === 1) return plate
  const [w, h] = [Math.ceil(plate.width / reduce), Math.ceil(plate.height / reduce)]
  const words = scratch.words(slot, w * h)
  const { buffer, byteOffset, byteLength } = plate.words
  reducedRgba(new Uint8Array(buffer, byteOffset, byteLength), plate.width, plate.height, reduce, !plate.alpha, words)
  return { ...plate, words, width: w, height: h }
}

/** The other pictures that a frame of a scene is made from. */
export function othersOf(
  scene: Scene,
  frame: number,
  records: readonly AnyRecord[],
  reduce: number,
  scratch: Scratch,
): OtherPictures {
  const nameOf = (id: string) =>
    records.find((one): one is Media => one.type === 'media' && one.id === id)?.name ?? scene.media.name
  const called = (need: { media: string; frame: number; scaled?: boolean }) =>
    `${need.media} ${need.frame} ${need.scaled}`
  const made = new Map(
    picturesNeeded(scene, frame).map((need) => {
      const plate = plateOf(nameOf(need.media), need.frame, scratch)
      const by = need.media && !need.scaled ? 1 : reduce
      return [called(need), reducedPlate(plate, by, scratch, slots.reduced.part(called(need)))]
    }),
  )
  return (need) => made.get(called(need)) ?? null
}
