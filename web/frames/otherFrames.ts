import type { PictureNeed } from '#core/effects/kind.ts'
import type { Shot } from '#core/model/records.ts'
import type { DecodeWorker } from '../workers/decode.worker.ts'
import type { OtherFrame } from '../workers/render.worker.ts'

/** Decoded frames that a frame's effects asked for; what can not be had is left out. */
export async function otherFrames(needs: PictureNeed[], shot: Shot, decoder: DecodeWorker): Promise<OtherFrame[]> {
  const found = await Promise.all(
    needs.map(async (need) => {
      const frame = Math.min(shot.out - 1, Math.max(shot.in, shot.in + need.frame))
      return need.media ? null : { ...need, yuv: await decoder.get(frame) }
    }),
  )
  return found.filter((one) => one !== null)
}
