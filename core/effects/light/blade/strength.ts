import { hashed } from '../../../pixels/filters/noise.ts'
import type { SettingsOfKind } from '../../effect.ts'
import type { blade } from './blade.ts'

/** Strength of a blade at a frame with its flicker, 0..4. */
export const strengthOf = (
  { strength, flicker, seed }: Pick<SettingsOfKind<typeof blade>, 'strength' | 'flicker' | 'seed'>,
  frame: number,
): number => strength * (1 - flicker * hashed(frame, seed))
