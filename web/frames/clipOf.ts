import type { Media } from '#core/model/records.ts'
import { api } from '../api.ts'
import type { Clip } from '../workers/decode.worker.ts'

/** What a decoder needs to know of a clip. `times`: seconds of its frames. */
export const clipOf = (media: Media, times: number[]): Clip => ({
  address: api.footageAddress(media.hash),
  times,
  matrix: media.matrix,
  range: media.range,
  rotation: media.rotation as Clip['rotation'],
})
