import type { Rect } from '../geometry/rect.ts'
import { centreOf, radiusOf } from '../shapes/traced.ts'
import type { EffectContext } from './kind.ts'

export const wholePicture = ({ size }: EffectContext): Rect => ({ x: 0, y: 0, ...size })

/** Where an effect is centred, in pixels at its scale: in the middle of whom it rides on, else of the picture. */
export function centreOfEffect({ parts, frame, scale, size }: EffectContext, time = frame): { x: number; y: number } {
  const centre = centreOf(parts, time)
  if (centre) return { x: centre.x * scale, y: centre.y * scale }
  return { x: size.width / 2, y: size.height / 2 }
}

/** How large whom it rides on is (half the diagonal of its box), in pixels at the scale; a fifth of the width else. */
export const radiusOfEffect = ({ parts, frame, scale, size }: EffectContext): number => {
  const radius = radiusOf(parts, frame)
  return radius === null ? size.width / 5 : radius * scale
}

/** What is away is not there: an effect that rides on somebody has nothing to do then. */
export const isAway = ({ parts, frame }: EffectContext): boolean =>
  parts.length > 0 && parts.every((part) => !part.at(frame))
