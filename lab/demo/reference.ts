/**
 * npm run reference: writes docs/effects.md, a page of every effect kind made from its description, and the pictures that
 * it, the list of effects and the empty shelf show, drawn from the demo's own shots. Needs ffmpeg.
 */
import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { type EffectKindName, effectKinds } from '#core/effects/catalogue.ts'
import { cardsFor, shippedLooks } from '#core/looks/looks.ts'
import { Scratch } from '#core/pixels/buffers/scratch.ts'
import { startKernels } from '#core/pixels/kernels/engine.ts'
import { Records } from '#core/records/records.ts'
import type { Effect } from '#core/records/types.ts'
import { renderFrame } from '#core/render/frame.ts'
import { sceneOf } from '#core/render/scene.ts'
import { shapesAt } from '#core/shapes/traced.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { root } from '../support/places.ts'
import { demoRecords } from './demoRecords.ts'
import { effectsPage } from './effectsPage.ts'
import { othersOf, plateOf, shownCard } from './plates.ts'

const pictures = join(root, 'web/public/effects')
const lookPictures = join(root, 'web/public/looks')
for (const folder of [pictures, lookPictures]) mkdirSync(folder, { recursive: true })

const [width, height] = [1280, 720]
const { records } = demoRecords()
const scratch = new Scratch(startKernels())

/** The shot's frame with these effects alone, as a small JPEG. */
function draw(shot: string, frame: number, effects: Effect[], to: string): void {
  const scene = { ...sceneOf(new Records([...records, ...effects]), shot)!, effects }
  const picture = plateOf(scene.media.name, frame, scratch)
  renderFrame(scene, frame, 1, picture, scratch, othersOf(scene, frame, records, 1, scratch))
  const rgba = new Uint8Array(picture.words.buffer, picture.words.byteOffset, 4 * width * height)
  ffmpeg(
    [
      ...['-f', 'rawvideo', '-pix_fmt', 'rgba', '-s', `${width}x${height}`, '-i', '-'],
      ...['-vf', 'scale=448:252:flags=area', '-q:v', '5', to],
    ],
    rgba,
  )
}

for (const kind of Object.keys(effectKinds) as EffectKindName[]) {
  const { card, frame } = shownCard(records, kind)
  draw(card.shot, frame, [card], join(pictures, `${kind}.jpg`))
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

/* What an empty shelf shows of the work: a frame as it was filmed, the prop traced on it and before, and what becomes of it. */
const beginning = join(root, 'web/public/beginning')
mkdirSync(beginning, { recursive: true })
const swing = sceneOf(new Records(records), 'shot-jetty-swing')!
const shown = 30
draw('shot-jetty-swing', shown, [], join(beginning, 'filmed.jpg'))
draw('shot-jetty-swing', shown, [...swing.effects], join(beginning, 'burning.jpg'))
const poses = Array.from({ length: 7 }, (_, i) => {
  const frame = shown - 2 * i
  const [pole] = shapesAt(swing.partsOf('ferry-pole'), frame)
  return { frame, ends: pole!.points!.slice(0, 4).map(Math.round) }
})
writeFileSync(join(root, 'web/shelf/swing.json'), `${JSON.stringify({ width, height, poses })}\n`)

writeFileSync(join(root, 'docs/effects.md'), await effectsPage())
