import { noRect, type Rect } from '../../geometry/rect.ts'
import { centreOf } from '../../shapes/traced.ts'
import type { EffectContext } from '../effect.ts'

export const wholePicture = ({ size }: EffectContext<unknown>): Rect => ({ x: 0, y: 0, ...size })

/** Where an effect is centred, in pixels at its scale: in the middle of whom it rides on, else of the picture. */
export function centreOfEffect(
  { parts, frame, scale, size }: EffectContext<unknown>,
  time = frame,
): { x: number; y: number } {
  const centre = centreOf(parts, time)
  if (centre) return { x: centre.x * scale, y: centre.y * scale }
  return { x: size.width / 2, y: size.height / 2 }
}

/** What is away is not there: an effect that rides on somebody has nothing to do then. */
export const isAway = ({ parts, frame }: EffectContext<unknown>): boolean =>
  parts.length > 0 && parts.every((part) => !part.at(frame))

/** Nothing where whom it rides on is away, else the whole picture. */
export const wherever = (context: EffectContext<unknown>): Rect => (isAway(context) ? noRect : wholePicture(context))
