import { framesOf, isPictures, isStill, type Media } from '#core/records/types.ts'
import { api } from '../project/api.ts'
import type { Clip } from './decode.worker.ts'

/** What a decoder needs to know of a clip. `times`: seconds of its frames. */
export const clipOf = (media: Media, times: number[]): Clip => ({
  address: api.footageAddress(media.hash),
  times,
  matrix: media.matrix,
  range: media.range,
  rotation: media.rotation as Clip['rotation'],
  still: isStill(media),
  pictures: isPictures(media),
})

/** Seconds of a clip's frames; of a sequence by the rate that it was given, of a video as the file says. */
export const timesOf = async (media: Media): Promise<number[]> =>
  isPictures(media) ? Array.from({ length: framesOf(media) }, (_, i) => i / media.rate) : api.frameTimes(media.hash)
