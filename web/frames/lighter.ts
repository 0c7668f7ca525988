import type { LighterState } from '#core/records/exchange.ts'
import { limits } from '#core/records/limits.ts'
import { isPictures, type Media } from '#core/records/types.ts'
import { api, ServerError } from '../project/api.ts'

const none: LighterState = { state: 'none', share: 0 }

/** Whether a clip may be seen through a lighter copy. */
export const isLarge = (media: Media): boolean => media.width * media.height > limits.usualFrame && !isPictures(media)

interface Waiting {
  /** Whether it is still wanted. */
  goesOn(): boolean
  /** Whether the clip itself is read slower than it plays; null while that is not known. */
  isSlow(): Promise<boolean | null>
  /** Hears what is known of the copy. */
  told(state: LighterState): void
  pause?(): Promise<void>
}

/**
 * Has a lighter copy of a large clip made where the clip itself is slow to read, and waits for it. Returns its address, or null where
 * there is none: then the clip itself is what is seen.
 */
export async function lighterCopy(
  media: Media,
  { goesOn, isSlow, told, pause = twoSeconds }: Waiting,
): Promise<string | null> {
  for (; goesOn(); await pause()) {
    const slow = await isSlow()
    if (slow === false) break
    if (slow === null) continue
    // Asked again where nobody answers: the server may be starting.
    const known = await api.lighter(media.hash).catch((error: unknown) => {
      if (error instanceof ServerError) return error.status === 0 ? null : none
      throw error
    })
    if (!goesOn()) break
    if (known) told(known)
    if (known?.state === 'there') return api.lighterAddress(media.hash)
    if (known?.state === 'none') break
  }
  return null
}

const twoSeconds = () => new Promise<void>((done) => setTimeout(done, 2000))
