/**
 * npm run reference: writes docs/effects.md, a page of every effect kind made from its description, and the pictures that
 * it and the list of effects show, drawn from the demo's own shots. Needs ffmpeg.
 */
import { execFileSync } from 'node:child_process'
import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { EffectKind } from '#core/effects/kind.ts'
import { cardsFor, shippedLooks } from '#core/effects/looks.ts'
import { effectKinds } from '#core/effects/registry.ts'
import { blends } from '#core/image/blend.ts'
import { startKernels } from '#core/image/kernels.ts'
import { Scratch } from '#core/image/scratch.ts'
import { Records } from '#core/model/diff.ts'
import type { Parameter } from '#core/model/parameters.ts'
import type { Effect, EffectKindName } from '#core/model/records.ts'
import { picturesNeeded, renderFrame, type Picture } from '#core/render/frame.ts'
import { sceneOf } from '#core/render/scene.ts'
import { mediaFolder, unseeded } from './unseeded.ts'

const root = join(import.meta.dirname, '..')
const pictures = join(root, 'web/public/effects')
const lookPictures = join(root, 'web/public/looks')
for (const folder of [pictures, lookPictures]) mkdirSync(folder, { recursive: true })

const [width, height] = [1280, 720]
const { footage, records } = unseeded()
const scratch = new Scratch(startKernels())

/** A frame of a clip as RGBA words. */
function frameOf(clip: string, frame: number): Picture {
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
  const clipOf = (id: string) => footage.find(({ media }) => media.id === id)?.media.name ?? clip
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
  ...{ insert: 64, dive: 65 },
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

const shown = (p: Parameter & { type: 'number' }, value: number) =>
  `${p.unit === '%' ? Math.round(value * 1000) / 10 : value}${p.unit ? ` ${p.unit}` : ''}`
function row(p: Parameter): string {
  const [values, standard] =
    p.type === 'number'
      ? [`${shown(p, p.min)} to ${shown(p, p.max)}`, shown(p, p.default)]
      : p.type === 'choice'
        ? [p.options.map((one) => one.label).join(', '), p.options.find((one) => one.value === p.default)!.label]
        : p.type === 'list'
          ? [`up to ${p.max} of: ${p.of.map((one) => one.label.toLowerCase()).join(', ')}`, `${p.default.length}`]
          : p.type === 'member'
            ? ['a cast member', 'nobody']
            : p.type === 'media'
              ? ['a clip', 'none']
              : p.type === 'tone'
                ? ['a tone curve', 'straight']
                : [p.type, String(p.default) || 'none']
  const moves = (p.type === 'number' || p.type === 'colour') && p.keyed
  const how = moves ? (p.type === 'number' ? 'keys, drive' : 'keys') : ''
  return `| ${p.label} | ${values} | ${standard} | ${how} | ${p.hint} |`
}
const kinds = Object.values(effectKinds) as EffectKind[]
const regions = { bounds: 'bounds where it is seen', source: 'is what it comes from', none: 'none' }
const page = [
  '# Effects',
  '',
  'Made by `npm run reference` from the descriptions in `core/effects/`; do not edit. Every card has an opacity that can be',
  'keyed or driven, a range of frames with fades, holdouts and one of these blendings:',
  `${Object.values(blends).join(', ')}. Pictures show the card alone on a shot of the demo.`,
  ...[...new Set(kinds.map((kind) => kind.group))].flatMap((group) => [
    '',
    `## ${group}`,
    ...kinds
      .filter((kind) => kind.group === group)
      .flatMap((kind) => [
        '',
        `### ${kind.title}`,
        '',
        `![${kind.title}](../web/public/effects/${kind.kind}.jpg)`,
        '',
        kind.summary,
        '',
        `Rides on: ${kind.rides ? kind.rides.join(', ') : 'nobody'}${kind.rides && kind.alone ? ', or the middle of the picture' : ''}. Region: ${regions[kind.region]}.`,
        '',
        '| Setting | Values | Default | Over time | |',
        '|---|---|---|---|---|',
        ...kind.parameters.map(row),
      ]),
  ]),
  '',
]
writeFileSync(join(root, 'docs/effects.md'), page.join('\n'))
