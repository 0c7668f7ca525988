/**
 * npm run found: follows the heron's beak through the mask's clip from its first frame, as a practitioner would, and makes
 * the clean plate of the leap; both are kept for the seed, which has no decoder. Needs ffmpeg. To be run again when the
 * followers or the footage change.
 */
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { pictureFile } from '#core/formats/pictureFile.ts'
import { Scratch } from '#core/pixels/buffers/scratch.ts'
import { Records } from '#core/records/records.ts'
import { sceneOf } from '#core/render/scene.ts'
import { hiddenOn } from '#core/render/surroundings.ts'
import { outline } from '#core/shapes/kinds/outline.ts'
import { cleanPlate } from '#core/tracking/cleanPlate.ts'
import { follow } from '#core/tracking/follow.ts'
import { outlineNodes } from '../scenes/paint.ts'
import type { Truth } from '../scenes/scene.ts'
import { framesOf } from '../support/frames.ts'
import { demoMedia } from '../support/places.ts'
import { unwatched } from '../support/unwatched.ts'
import { demoRecords } from './demoRecords.ts'
import type { Found, FoundPlate } from './foundKept.ts'

const truth = JSON.parse(readFileSync(join(demoMedia, 'heron-mask.truth.json'), 'utf8')) as Truth
const frames = framesOf(join(demoMedia, 'heron-mask.mp4'), truth.width, truth.height)
const beak = truth.outlines.find((one) => one.name === 'beak')!
const result = await follow({
  ...unwatched(frames),
  ...{ kind: outline, settings: {} },
  keys: [{ frame: 0, points: outlineNodes(beak.points[0]!) }],
  ...{ from: 1, to: frames.length - 1 },
})
const found: Found[] = result.frames.map(({ frame, points, confidence }) => ({
  ...{ frame, points: points.map((v) => Math.round(10 * v) / 10), confidence: Math.round(100 * confidence) / 100 },
}))
writeFileSync(join(demoMedia, 'heron-mask.found.json'), `${JSON.stringify(found)}\n`)
console.log(
  `${found.length} frames of the beak followed, ${Math.min(...found.map((one) => one.confidence))} confidence at least.`,
)

const shot = 'shot-leap'
const scene = sceneOf(new Records(demoRecords().records), shot)!
const leap = framesOf(join(demoMedia, 'leap.mp4'), scene.media.width, scene.media.height)
const scratch = new Scratch()
const plate = (await cleanPlate({
  ...{ length: leap.length, matrix: 'bt709', range: 'limited', told: () => {}, stopped: () => false },
  isTold: () => true,
  picture: async (frame) => leap[frame]!,
  hidden: (frame) => hiddenOn(scene, frame, scene.media, scratch),
}))!
const { picture, x, y, motions } = plate
const { width, height } = picture
writeFileSync(join(demoMedia, 'leap-clean.png'), pictureFile(picture, 'png', { channels: 'rgba' }))
writeFileSync(
  join(demoMedia, 'leap-clean.json'),
  `${JSON.stringify({ width, height, x, y, from: 0, motions } satisfies FoundPlate)}\n`,
)
console.log(`Clean plate of the leap: ${width} x ${height}, ${(100 * plate.filled).toFixed(1)} % of it in no frame.`)
