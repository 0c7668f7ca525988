import { useLocalStorage } from '@vueuse/core'
import { usuallyUnsure } from '#core/motion/checks.ts'
import type { PlaneModel } from '#core/tracking/plane.ts'

/** What lies over a part and is no evidence: nothing, the holdouts of its effects, or everyone else of the cast. */
export type LeaveOut = 'nothing' | 'holdouts' | 'others'

const usual = {
  model: 'auto' as PlaneModel,
  /** Pixels by which each point of an outline may go to its own edge; 0 for none. */
  edgeFreedom: 0,
  leaveOut: 'holdouts' as LeaveOut,
  /** Confidence below which a frame counts as unsure, 0 to 1. */
  unsure: usuallyUnsure,
  /** Pixels by which the in-betweens of few keys may lie off what was followed. */
  within: 1.5,
  /** Whether a run marks an unsure frame and goes on, or ends there. */
  atUnsure: 'mark' as 'mark' | 'stop',
}

/** What wishes were called when this browser may have kept them. */
const earlierModels: Record<string, PlaneModel> = { shift: 'translation', turn: 'rigid', perspective: 'homography' }
interface Stored extends Partial<Omit<typeof usual, 'model'>> {
  model?: string
  letGo?: number
}
/** Wishes from their stored text; whatever it lacks is as usual. */
export function wishesFrom(text: string): typeof usual {
  const { letGo = usual.edgeFreedom, model = usual.model, ...kept } = JSON.parse(text) as Stored
  return { ...usual, edgeFreedom: letGo, ...kept, model: earlierModels[model] ?? (model as PlaneModel) }
}

/** How the user wants parts to be followed, kept in this browser. */
export const followWishes = useLocalStorage('wisp-follow', usual, {
  serializer: { read: wishesFrom, write: JSON.stringify },
})
