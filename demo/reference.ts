/**
 * npm run reference: writes docs/effects.md, a page of every effect kind made from its description, and the pictures that
 * it and the list of effects show, drawn from the demo's own shots. Needs ffmpeg.
 */
import { execFileSync } from 'node:child_process'
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { unzipSync } from 'fflate'
import { cardsFor, shippedLooks } from '#core/effects/looks.ts'
import { effectKinds } from '#core/effects/registry.ts'
import { rgbaOfPng } from '#core/formats/png.ts'
import { startKernels } from '#core/image/kernels.ts'
import { Scratch } from '#core/image/scratch.ts'
import { Records } from '#core/model/diff.ts'
import type { Effect, EffectKindName, Media } from '#core/model/records.ts'
import { picturesNeeded, renderFrame, type Picture } from '#core/render/frame.ts'
import { sceneOf } from '#core/render/scene.ts'
import { effectsPage } from './effectsPage.ts'
import { mediaFolder, unseeded } from './unseeded.ts'

const root = join(import.meta.dirname, '..')
const pictures = join(root, 'web/public/effects')
const lookPictures = join(root, 'web/public/looks')
for (const folder of [pictures, lookPictures]) mkdirSync(folder, { recursive: true })

const [width, height] = [1280, 720]
const { records } = unseeded()
const scratch = new Scratch(startKernels())

/** A picture of a still or of a zipped sequence. */
function pictureOf(name: string, frame: number): Picture {
  const file = readFileSync(join(mediaFolder, name))
  const pictures = name.endsWith('.zip') ? Object.values(unzipSync(file)) : [file]
  const { data, width, height } = rgbaOfPng(pictures[frame % pictures.length]!)
  const words = scratch.words(`picture ${name} ${frame}`, width * height)
  words.set(new Uint32Array(data.buffer, data.byteOffset, width * height))
  return { words, width, height, alpha: true }
}

/** A frame of a clip as RGBA words. */
function frameOf(clip: string, frame: number): Picture {
  if (/\.(png|zip)$/.test(clip)) return pictureOf(clip, frame)
  const data = execFileSync(
    'ffmpeg',
    [
      ...['-loglevel', 'error', '-i', join(mediaFolder, clip), '-vf', `select=eq(n\\,${frame})`, '-frames:v', '1'],
      ...['-f', 'rawvideo', '-pix_fmt', 'rgba', '-'],
    ],
    { maxBuffer: 16e6 },
  )
  const words = scratch.words(`frame ${clip} ${frame}`, width * height)
  words.set(new Uint32Array(data.buffer.slice(data.byteOffset, data.byteOffset + data.byteLength)))
  return { words, width, height }
}

/** The shot's frame with these effects alone, as a small JPEG. */
function draw(shot: string, frame: number, effects: Effect[], to: string): void {
  const scene = { ...sceneOf(new Records([...records, ...effects]), shot)!, effects }
  const clip = scene.media.name
  const picture = frameOf(clip, frame)
  const clipOf = (id: string) =>
    records.find((one): one is Media => one.type === 'media' && one.id === id)?.name ?? clip
  const others = new Map(
    picturesNeeded(scene, frame).map((need) => [
      `${need.media} ${need.frame}`,
      frameOf(clipOf(need.media), need.frame),
    ]),
  )
  renderFrame(scene, frame, 1, picture, scratch, (need) => others.get(`${need.media} ${need.frame}`) ?? null)
  const rgba = new Uint8Array(picture.words.buffer, picture.words.byteOffset, 4 * width * height)
  execFileSync(
    'ffmpeg',
    [
      ...['-y', '-loglevel', 'error', '-f', 'rawvideo', '-pix_fmt', 'rgba', '-s', `${width}x${height}`, '-i', '-'],
      ...['-vf', 'scale=448:252:flags=area', '-q:v', '5', to],
    ],
    { input: rgba },
  )
}

/** Frames on which a kind is seen best where the middle of its frames is not it. */
const best: Partial<Record<EffectKindName, number>> = {
  ...{ blade: 36, castLight: 40, afterglow: 16, flash: 24, sparks: 29, shake: 26, fill: 30, glow: 30, shafts: 30 },
  ...{ outlineLine: 40, grade: 36, soften: 36, echo: 42, motionBlur: 30, ripple: 36, dissolve: 68, blockScatter: 66 },
  ...{ insert: 6, dive: 65, takeOver: 65 },
}
for (const kind of Object.keys(effectKinds) as EffectKindName[]) {
  const own = records.find((one): one is Effect => one.type === 'effect' && one.kind === kind)
  if (!own) throw new Error(`The demo does not use ${kind}: use it in demo/story.ts, so that it has a picture.`)
  const { range } = own
  const frame = best[kind] ?? (range ? Math.floor((range.from + range.to) / 2) : 36)
  const settings = kind === 'motionBlur' ? { ...own.settings, shutter: 720 } : own.settings
  // A glow or an outline on its own, as strong as it gets.
  const opacity = kind === 'outlineLine' ? 1 : own.opacity
  draw(own.shot, frame, [{ ...own, on: true, settings, opacity }], join(pictures, `${kind}.jpg`))
}
for (const look of shippedLooks) {
  const [shot, member, frame] = look.needs.includes('rod')
    ? (['shot-two-poles', 'keeper-pole', 19] as const)
    : look.needs.length
      ? (['shot-heron-mask', 'heron-eyes', 30] as const)
      : (['shot-leap', 'leaper', 36] as const)
  const cards = cardsFor(look, member).map((card, i): Effect => ({
    type: 'effect',
    id: `look-${i}`,
    shot,
    order: i,
    ...card,
  }))
  draw(shot, frame, cards, join(lookPictures, `${look.name.toLowerCase().replaceAll(' ', '-')}.jpg`))
}

writeFileSync(join(root, 'docs/effects.md'), await effectsPage())
