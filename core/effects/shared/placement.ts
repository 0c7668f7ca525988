import { choice, number, plain, word } from '../../parameters/builders.ts'
import type { EffectContext } from '../effect.ts'
import { centreOfEffect } from './place.ts'
import { radians } from './tools.ts'

/** What inserts and words have in common: what carries them, and their own shift and turn. */
export const lyingSettings = {
  lies: choice(
    'lies',
    'Lies',
    { over: 'over the picture', member: 'on a member, going along', pin: 'on a pin, in perspective' },
    'What carries it.',
  ),
  x: number('x', 'Across', 'px', [-8000, 8000, 1], 0, 'Moved to the right.'),
  y: number('y', 'Down', 'px', [-8000, 8000, 1], 0, 'Moved down.'),
  turn: number('turn', 'Turn', '°', [-3600, 3600, 1], 0, 'Turned about its middle.'),
}

/** The corners of the pin that it lies on, in pixels at the effect's scale; null where it lies on none. */
export function cornersOfLying({ settings, parts, frame, scale }: EffectContext): number[] | null {
  if (word(settings, lyingSettings.lies) !== 'pin') return null
  const corners = parts.find((part) => part.kind === 'pin')?.at(frame)
  return corners ? corners.map((v) => v * scale) : null
}

/** Its middle in pixels at the effect's scale, and its turn in radians. */
export function placeOfLying(context: EffectContext): { x: number; y: number; turn: number } {
  const { settings, size, scale } = context
  const carried = word(settings, lyingSettings.lies) === 'member'
  const middle = carried ? centreOfEffect(context) : { x: size.width / 2, y: size.height / 2 }
  return {
    x: middle.x + plain(settings, lyingSettings.x) * scale,
    y: middle.y + plain(settings, lyingSettings.y) * scale,
    turn: radians(plain(settings, lyingSettings.turn)),
  }
}
