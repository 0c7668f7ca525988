import { i420Layout } from '#core/pixels/buffers/yuv.ts'
import { followPicture, type FollowPicture } from '#core/tracking/frame.ts'
import { ffmpeg } from './ffmpeg.ts'

/** All frames of a clip as followers read them. Needs ffmpeg. */
export function framesOf(file: string, width: number, height: number): FollowPicture[] {
  const { bytes, planes } = i420Layout(width, height)
  const stdout = ffmpeg(['-i', file, '-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-'])
  return Array.from({ length: Math.floor(stdout.length / bytes) }, (_, i) =>
    followPicture({
      ...{ data: new Uint8Array(stdout.buffer, stdout.byteOffset + i * bytes, bytes), width, height, planes },
      ...{ matrix: 'bt709', range: 'limited', rotation: 0 },
    }),
  )
}
