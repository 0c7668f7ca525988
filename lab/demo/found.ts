/**
 * npm run found: follows the heron's beak through the mask's clip from its first frame, as a practitioner would, and keeps
 * what was found for the seed, which has no decoder. Needs ffmpeg. To be run again when the followers or the footage change.
 */
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { outline } from '#core/shapes/kinds/outline.ts'
import { follow } from '#core/tracking/follow.ts'
import { outlineNodes } from '../scenes/paint.ts'
import type { Truth } from '../scenes/scene.ts'
import { framesOf } from '../support/frames.ts'
import { demoMedia } from '../support/places.ts'
import { unwatched } from '../support/unwatched.ts'

/** A followed frame: points to a tenth of a pixel, and how sure it is. */
export interface Found {
  frame: number
  points: number[]
  confidence: number
}

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
