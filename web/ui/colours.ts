import { useLocalStorage } from '@vueuse/core'
import type { ComputedRef, InjectionKey } from 'vue'

/** Where colours come from around a field: what is provided by who knows the project and its picture. */
export interface ColourSources {
  /** Colours that the project uses, the most used first. */
  used: ComputedRef<string[]>
  /** Lets one be taken from the picture; null where none is shown. Gives nothing where it is left. */
  fromPicture: ComputedRef<(() => Promise<string | null>) | null>
}
export const colourSources: InjectionKey<ColourSources> = Symbol('colours')

/** Colours kept in this browser, for every project. */
export const keptColours = useLocalStorage<string[]>('wisp-colours', [])
/** Colours chosen last, in any project of this browser. */
export const lastColours = useLocalStorage<string[]>('wisp-colours-last', [])
const most = { kept: 40, last: 10 }

export function noteColour(hex: string): void {
  lastColours.value = [hex, ...lastColours.value.filter((one) => one !== hex)].slice(0, most.last)
}
export function keepColour(hex: string): void {
  if (!keptColours.value.includes(hex)) keptColours.value = [...keptColours.value, hex].slice(-most.kept)
}
