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
 * Has a lighter copy of a large clip made where there is none yet and the clip itself is slow to read, and waits for it. Returns
 * its address, or null where there is none: then the clip itself is what is seen.
 */
export async function lighterCopy(
  media: Media,
  { goesOn, isSlow, told, pause = twoSeconds }: Waiting,
): Promise<string | null> {
  for (let slow: boolean | null = null; goesOn(); await pause()) {
    slow ||= await isSlow()
    if (slow === false) break
    const known = await asked(media.hash, slow === true)
    if (!goesOn()) break
    if (known) told(known)
    if (known?.state === 'there') return api.lighterAddress(media.hash)
    if (known?.state === 'none' && slow) break
  }
  return null
}

/** What the server knows; null where it does not answer: it may be starting. */
const asked = (hash: string, make: boolean) =>
  api.lighter(hash, make).catch((error: unknown) => {
    if (error instanceof ServerError) return error.status === 0 ? null : none
    throw error
  })

const twoSeconds = () => new Promise<void>((done) => setTimeout(done, 2000))
