import { shallowRef } from 'vue'

/** Who waits for a colour from the picture, and is told it, or null where it is left; null where nobody waits. */
export const waiting = shallowRef<((hex: string | null) => void) | null>(null)

/** A colour that is taken from the picture next. */
export function colourFromPicture(): Promise<string | null> {
  leaveDropper()
  return new Promise((tell) => (waiting.value = tell))
}
export function leaveDropper(hex: string | null = null): boolean {
  const tell = waiting.value
  waiting.value = null
  tell?.(hex)
  return tell !== null
}
