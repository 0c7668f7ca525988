import type { Tween } from '#core/records/types.ts'

/** Styles of in-betweens as they stand in lists. */
export const tweens: { value: Tween; label: string }[] = [
  { value: 'arc', label: 'arc' },
  { value: 'straight', label: 'straight' },
  { value: 'eased', label: 'eased' },
  { value: 'held', label: 'held' },
]
