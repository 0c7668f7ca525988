import { useLocalStorage } from '@vueuse/core'
import { usuallyUnsure } from '#core/motion/checks.ts'
import type { PlaneModel } from '#core/tracking/plane.ts'

/** What lies over a part and is no evidence: nothing, the holdouts of its effects, or everyone else of the cast. */
export type LeaveOut = 'nothing' | 'holdouts' | 'others'

/** How the user wants parts to be followed, kept in this browser. */
export const followWishes = useLocalStorage('wisp-follow', {
  model: 'auto' as PlaneModel,
  /** Pixels by which each point of an outline may go to its own edge; 0 for none. */
  letGo: 0,
  leaveOut: 'holdouts' as LeaveOut,
  /** Confidence below which a frame counts as unsure, 0 to 1. */
  unsure: usuallyUnsure,
  /** Whether a run ends at an unsure frame, or marks it and goes on. */
  unsureDoes: 'stop' as 'stop' | 'mark',
})
