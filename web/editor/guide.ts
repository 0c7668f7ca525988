import { useLocalStorage } from '@vueuse/core'
import type { ComputedRef, InjectionKey } from 'vue'

/** What comes next on the way from a clip to a film, as one line. */
export interface Guide {
  say: string
  keys?: [press: string, what: string][]
  /** Where it goes on, and what does that. */
  go?: { label: string; run: () => void }
}
/** What comes next; null where nothing is said. Provided by who knows all steps. */
export const guideKey: InjectionKey<ComputedRef<Guide | null>> = Symbol('guide')

/** Whether a newcomer is led, in this browser. */
export const guiding = useLocalStorage('wisp-guide', false)
