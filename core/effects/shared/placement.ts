import type { SettingsOf } from '../../parameters/builders.ts'
import { type Affine, movedFirst, turnAbout } from '../../pixels/filters/warp.ts'
import type { EffectContext, PictureNeed, RateOf } from '../effect.ts'
import type { clipTimeSettings, placementSettings } from './forms.ts'
import { centreOfEffect } from './place.ts'
import { radians } from './tools.ts'

type Placed = EffectContext<SettingsOf<typeof placementSettings>>

/** The corners of the pin that it lies on, in pixels at the effect's scale; null where it lies on none. */
export function pinCorners({ settings, parts, frame, scale }: Placed): number[] | null {
  if (settings.lies !== 'pin') return null
  const corners = parts.find((part) => part.kind === 'pin')?.at(frame)
  return corners ? corners.map((v) => v * scale) : null
}

/** Its middle in pixels at the effect's scale, and its turn in radians. */
export function placeOf(context: Placed): { x: number; y: number; turn: number } {
  const { settings, size, scale } = context
  const middle = settings.lies === 'member' ? centreOfEffect(context) : { x: size.width / 2, y: size.height / 2 }
  return {
    x: middle.x + settings.x * scale,
    y: middle.y + settings.y * scale,
    turn: radians(settings.turn),
  }
}

/** The frame of another clip that belongs to a frame of the shot: it runs at its own rate in time. */
export const clipFrame = (
  { clip, from, speed, ends }: SettingsOf<typeof clipTimeSettings> & { clip: string },
  frame: number,
  rateOf: RateOf,
): PictureNeed => ({ media: clip, frame: Math.round(from + frame * speed * rateOf(clip)), loop: ends === 'loop' })

/**
 * From a pixel of the picture to one of a clip whose middle lies at a place of it, turned, and `size` times as wide as the
 * picture.
 */
export function clipMap(
  clip: { width: number; height: number },
  picture: { width: number },
  { size, x, y, turn = 0 }: { size: number; x: number; y: number; turn?: number },
): Affine {
  const ratio = clip.width / (picture.width * size)
  const [a, b, c, d, e, f] = movedFirst(turnAbout(0, 0, -turn, ratio), -x, -y)
  return [a, b, c, d, e + clip.width / 2, f + clip.height / 2]
}
