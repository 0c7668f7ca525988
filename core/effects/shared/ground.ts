import { inflate, intersect, isEmpty, noRect, type Rect } from '../../geometry/rect.ts'
import { choice, number } from '../../parameters/builders.ts'
import type { RgbaArea } from '../../pixels/buffers/picture.ts'
import { Slot } from '../../pixels/buffers/scratch.ts'
import { blurPicture } from '../../pixels/filters/blur.ts'
import { span } from '../../pixels/kernels/interface.ts'
import { resampleAffine } from '../../pixels/filters/warp.ts'
import type { EffectContext } from '../effect.ts'
import { wholePicture } from './place.ts'
import { clip } from './tools.ts'

/*
 * The ground that somebody stands on, as one level line of the picture: what is h above it falls length * h below it, and
 * leans to a side. That is a plane seen from afar; what is near the camera would fan out on it.
 */

const slots = { cover: new Slot(), far: new Slot() }

export const groundSettings = {
  ground: choice(
    'Ground',
    { feet: 'under their lowest place', line: 'at a height of the picture' },
    'Under their lowest place it goes along with a walk; at a height it stays where it is while they jump.',
  ),
  line: number('Height', '%', [-1, 2, 0.005], 0.9, 'Where the ground lies, from the top of the picture, if it stays.'),
  lower: number('Lower', 'px', [-2000, 2000, 1], 0, 'Moves the ground down, or up.'),
  soften: number('Softness', 'px', [0, 300, 1], 24, 'How soft it has become where it ends; it is sharp at the ground.'),
  fade: number('Fading', '%', [0, 1, 0.01], 0.6, 'How much of it is gone where it ends.'),
}

interface GroundContext extends EffectContext<unknown> {
  settings: { ground: 'feet' | 'line'; line: number; lower: number; soften: number; fade: number }
}

/** How what stands falls onto the ground: pixels down for each one above it, and pixels to the right for each of those. */
export interface Fall {
  length: number
  lean: number
}

/** Share of a row that somebody covers at least where they stand: a few pixels of noise are nobody. */
const standing = 0.5

/** Who stands there, the region at full cover, and the level of the ground under them; null where nobody is. */
export interface Standing {
  rect: Rect
  cover: Float32Array
  ground: number
}

export function whoStands(context: GroundContext): Standing | null {
  const { settings, scale, size } = context
  const rect = context.regionBounds()
  if (context.everywhere || isEmpty(rect)) return null
  const cover = context.region(rect, slots.cover)
  const lower = settings.lower * scale
  if (settings.ground === 'line') return { rect, cover, ground: settings.line * size.height + lower }
  const feet = lowestPlace(cover, rect)
  return feet === null ? null : { rect, cover, ground: feet + lower }
}

/** Where the lowest row ends that is covered by half a pixel or more, to a part of a row. */
function lowestPlace(cover: Float32Array, { y, width, height }: Rect): number | null {
  let below = 0
  for (let row = height - 1; row >= 0; row--) {
    let most = 0
    for (let i = row * width; i < (row + 1) * width; i++) most = Math.max(most, cover[i]!)
    if (most >= standing) return y + row + 0.5 + (most - standing) / Math.max(1e-6, most - below)
    below = most
  }
  return null
}

/** Pixels in which what falls onto the ground lies, wherever under them that is. */
export function fallenBounds(context: GroundContext, { length, lean }: Fall): Rect {
  const rect = context.regionBounds()
  const { settings, scale, size } = context
  if (context.everywhere || isEmpty(rect) || length === 0) return noRect
  const lower = settings.lower * scale
  const line = settings.line * size.height + lower
  const [top, bottom] = [rect.y, rect.y + rect.height + Math.max(0, lower)]
  const ground = settings.ground === 'line' ? ([line, line] as const) : ([top + lower, bottom] as const)
  const heights = ground.map((y) => Math.max(0, y - top))
  const ends = ground.map((y, i) => y + length * heights[i]!)
  const high = Math.min(...ground, ...ends)
  const low = Math.max(...ground, ...ends)
  const side = lean * Math.abs(length) * Math.max(...heights)
  const x = Math.floor(rect.x + Math.min(0, side))
  const y = Math.floor(high)
  const width = Math.ceil(rect.x + rect.width + Math.max(0, side)) - x
  const box = { x, y, width, height: Math.ceil(low) - y }
  return intersect(inflate(box, roomFor(context)), wholePicture(context))
}

/** Pixels that have to be known around a piece of it, so that its softness is right at the rim of the piece. */
const roomFor = ({ settings, scale }: GroundContext): number => Math.ceil(1.5 * settings.soften * scale) + 2

/**
 * A picture of who stands there (premultiplied, over `source.region`) as it falls onto the ground, softer and fainter the
 * farther it lies from their feet. It covers the pixels of `region` and some around them; null where nothing falls there.
 */
export function fallen(
  context: GroundContext,
  source: RgbaArea,
  ground: number,
  { length, lean }: Fall,
  region: Rect,
  slot: Slot,
): RgbaArea | null {
  const { settings, scale, scratch } = context
  const rect = intersect(inflate(region, roomFor(context)), fallenBounds(context, { length, lean }))
  const height = ground - source.region.y
  if (isEmpty(rect) || height <= 0) return null
  // Rows that lie closer together than pixels are blurred into each other before, not after.
  const closer = Math.abs(1 / length)
  if (closer > 1) {
    const { width, height } = source.region
    blurPicture(
      { data: source.data, width, height },
      { x: 0, y: 0.45 * Math.sqrt(closer ** 2 - 1) },
      'nothing',
      scratch,
    )
  }
  const count = 4 * rect.width * rect.height
  const near = { data: scratch.floats(slot, count), region: rect }
  const side = lean * Math.sign(length)
  resampleAffine(source, near, [1, 0, -side, -1 / length, side * ground, ground + ground / length], 'nothing', scratch)
  const away = (row: number) => (rect.y + row + 0.5 - ground) / length / height
  for (let row = 0; row < rect.height; row++)
    if (away(row) < 0) near.data.fill(0, 4 * row * rect.width, 4 * (row + 1) * rect.width)
  const far = scratch.floats(slots.far, count)
  far.set(near.data.subarray(0, count))
  blurPicture({ data: far, width: rect.width, height: rect.height }, (settings.soften / 2) * scale, 'nothing', scratch)
  const numbers = 4 * rect.width
  for (let row = 0; row < rect.height; row++) {
    const share = clip(away(row))
    const left = 1 - settings.fade * share
    const own = span(near.data, row * numbers)
    scratch.kernels.mixInto(span(far, row * numbers), own, numbers, share)
    scratch.kernels.addScaled(own, own, numbers, left - 1)
  }
  return near
}
