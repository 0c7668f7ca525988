import type { Tween } from '#core/records/types.ts'
import { say } from '#core/say.ts'

/** Styles of in-betweens as they stand in lists. */
export const tweens: { value: Tween; label: string }[] = [
  { value: 'arc', label: say`arc` },
  { value: 'straight', label: say`straight` },
  { value: 'eased', label: say`eased` },
  { value: 'held', label: say`held` },
]
