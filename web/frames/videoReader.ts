import {
  ALL_FORMATS,
  EncodedPacketSink,
  Input,
  type InputVideoTrack,
  UrlSource,
  type VideoSample,
  VideoSampleSink,
} from 'mediabunny'
import { limits } from '#core/records/limits.ts'
import { Refusal } from '#core/refusal.ts'
import { say } from '#core/say.ts'

/** How many frames ahead of an open decoder it is still quicker to decode on than to start at a key frame. */
const goOnFor = 24

/** A video file whose frames are decoded one after the other, or from the key frame before one. */
export class VideoReader {
  readonly input: Input
  /** Pixels of a frame as it is coded. */
  readonly size: { width: number; height: number }
  /** Seconds of every frame in this file, rising. */
  private readonly times: readonly number[]
  private readonly sink: VideoSampleSink
  private readonly packets: EncodedPacketSink
  private iterator: AsyncGenerator<VideoSample, void, unknown> | null = null
  /** Frame that the iterator gives next. */
  private next = 0

  /**
   * Opens a file. `times`: seconds of its frames, or, with `itsOwnStart`, by how much they lie apart: then the file says where they begin.
   * Throws a Refusal where this browser can not decode it.
   */
  static async open(address: string, times: readonly number[], from?: 'itsOwnStart'): Promise<VideoReader> {
    const input = new Input({ formats: ALL_FORMATS, source: new UrlSource(address) })
    try {
      const track = await input.getPrimaryVideoTrack().catch(async (error: unknown) => {
        console.error(error)
        throw await whyUnread(address)
      })
      if (!track || !(await track.canDecode())) throw await undecoded(track)
      const apart = from ? (await track.getFirstTimestamp()) - times[0]! : 0
      return new VideoReader(input, track, apart ? times.map((time) => time + apart) : times)
    } catch (error) {
      input.dispose()
      throw error
    }
  }

  private constructor(input: Input, track: InputVideoTrack, times: readonly number[]) {
    this.input = input
    this.times = times
    this.size = { width: track.codedWidth, height: track.codedHeight }
    this.sink = new VideoSampleSink(track)
    this.packets = new EncodedPacketSink(track)
  }

  /** Whether a frame is reached by decoding on. */
  reaches(frame: number): boolean {
    return this.iterator !== null && frame >= this.next && frame <= this.next + goOnFor
  }

  /**
   * Decodes to a frame, and hands each on the way to `take` with its number. Of a frame that the decoder skips (damaged data) the one
   * after it comes. Throws a Refusal where the file ends before it or is not decoded so far.
   */
  async to<T>(frame: number, take: (sample: VideoSample, at: number) => Promise<T>): Promise<{ at: number; taken: T }> {
    const { times } = this
    if (!this.reaches(frame)) {
      await this.iterator?.return()
      const key = await this.packets.getKeyPacket(times[frame]!, { verifyKeyPackets: true })
      const start = key ? key.timestamp : times[0]!
      this.next = Math.max(0, nearest(times, start))
      this.iterator = this.sink.samples(times[this.next]!)
    }
    for (;;) {
      const { value: sample, done } = await this.iterator!.next().catch((cause: unknown) => {
        throw new Refusal(
          say`This browser could not decode the clip to its end. Copy it from the camera again, or convert it to H.264 in MP4.`,
          { cause },
        )
      })
      if (done || !sample)
        throw new Refusal(say`The clip ends before its frame ${frame + 1}. Copy it from the camera again.`)
      try {
        // A decoder may hand out leading frames of an open group; their time says which frame this is.
        const at = nearest(times, sample.timestamp)
        const taken = await take(sample, at)
        this.next = at + 1
        if (at >= frame) return { at, taken }
      } finally {
        sample.close()
      }
    }
  }

  /** Begins anew with the next frame that is asked for. */
  rest(): void {
    // It is over either way: what fails while it ends has nobody to be told to.
    this.iterator?.return().catch(() => {})
    this.iterator = null
  }

  close(): void {
    this.rest()
    this.input.dispose()
  }
}

/** Why a clip is not decoded: frames that are too large for a decoder are the one thing that another coding does not mend. */
async function undecoded(track: InputVideoTrack | null): Promise<Refusal> {
  const { codedWidth: width = 0, codedHeight: height = 0 } = track ?? {}
  const config = width * height > limits.usualFrame ? await track!.getDecoderConfig() : null
  const smaller = { codedWidth: 1280, codedHeight: 720 }
  return config && (await VideoDecoder.isConfigSupported({ ...config, ...smaller })).supported
    ? new Refusal(
        say`This browser can not decode frames of ${width} x ${height}. Bring the clip in at a smaller size, as 1920 x 1080, or open Wisp Trail on another machine.`,
      )
    : new Refusal(
        say`This browser can not decode the clip. Open Wisp Trail in Chromium, or convert the clip to H.264 in MP4 first.`,
      )
}

/** Why a clip could not be read: it is not there, nobody answers, or it is no clip that can be read. */
async function whyUnread(address: string): Promise<Refusal> {
  const answer = await fetch(address, { method: 'HEAD' }).catch(() => null)
  if (!answer) return notThere()
  if (!answer.ok) return new Refusal(say`The clip is not on the server any more. Bring the same file in again.`)
  return new Refusal(say`The clip can not be read; it may be damaged. Bring it in again from the camera.`)
}

export const notThere = () => new Refusal(say`The Wisp Trail server does not answer. Start it again, then try again.`)

/** Index of the time closest to `time`. */
function nearest(times: readonly number[], time: number): number {
  let low = 0
  let high = times.length - 1
  while (low < high) {
    const mid = (low + high) >> 1
    if (times[mid]! < time) low = mid + 1
    else high = mid
  }
  return low > 0 && time - times[low - 1]! < times[low]! - time ? low - 1 : low
}
