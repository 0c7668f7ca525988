import { encode } from 'fast-png'
import { Refusal } from '#core/refusal.ts'
import { say } from '#core/say.ts'

/** Seconds of a frame that does not say how long it lasts. */
const usual = 0.1
/** Pictures that an animation may become: what has more is a film. */
const most = 3000

/** Whether a file is a WebP of several frames: the flag of its extended header (RFC 9649, 2.7). */
export async function isAnimatedWebp(file: Blob): Promise<boolean> {
  const head = new DataView(await file.slice(0, 21).arrayBuffer())
  const word = (at: number) => String.fromCharCode(...new Uint8Array(head.buffer, at, 4))
  return (
    head.byteLength === 21 &&
    word(0) === 'RIFF' &&
    word(8) === 'WEBP' &&
    word(12) === 'VP8X' &&
    (head.getUint8(20) & 2) > 0
  )
}

/**
 * The pictures of an animation as PNG files at a constant rate: a frame that lasts longer comes several times. `take` is told each, in
 * their order. Gives the rate, pictures a second.
 */
export async function unrolled(file: Blob, take: (png: Uint8Array) => void): Promise<number> {
  const decoder = new ImageDecoder({ data: await file.arrayBuffer(), type: 'image/webp' })
  try {
    await decoder.tracks.ready
    await decoder.completed
    const count = decoder.tracks.selectedTrack?.frameCount ?? 0
    if (count === 0) throw new Refusal(say`The animation holds not one picture. Save it anew.`)
    const lasts: number[] = []
    for (let frameIndex = 0; frameIndex < count; frameIndex++) {
      const { image } = await decoder.decode({ frameIndex })
      lasts.push((image.duration ?? 0) / 1e6 || usual)
      image.close()
    }
    const each = Math.min(...lasts)
    const times = lasts.map((seconds) => Math.round(seconds / each))
    if (times.reduce((a, b) => a + b, 0) > most)
      throw new Refusal(
        say`The animation is longer than ${most} pictures. Export it as a video from the program that made it.`,
      )
    for (let frameIndex = 0; frameIndex < count; frameIndex++) {
      const { image } = await decoder.decode({ frameIndex })
      try {
        const png = await pngOf(image)
        for (let i = 0; i < times[frameIndex]!; i++) take(png)
      } finally {
        image.close()
      }
    }
    return Math.round(1000 / each) / 1000
  } catch (error) {
    if (error instanceof Refusal) throw error
    throw new Refusal(
      say`The animation is damaged, or this browser can not read it. Save it anew, or export it as a video.`,
      {
        cause: error,
      },
    )
  } finally {
    decoder.close()
  }
}

/** Straight alpha, as it was coded: a canvas would destroy colour under low alpha. */
async function pngOf(image: VideoFrame): Promise<Uint8Array> {
  const { width, height } = image.visibleRect!
  const data = new Uint8Array(image.allocationSize({ format: 'RGBA' }))
  await image.copyTo(data, { format: 'RGBA' })
  // Animations without alpha have bytes there that mean nothing.
  if (image.format?.endsWith('X')) for (let i = 3; i < data.length; i += 4) data[i] = 255
  return encode({ width, height, data, channels: 4 })
}
