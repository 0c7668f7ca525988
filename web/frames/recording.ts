import { LRUCache } from 'lru-cache'
import { ALL_FORMATS, AudioSampleSink, Input, type InputAudioTrack, UrlSource } from 'mediabunny'
import { id3Length, type Mp3Padding, mp3Padding } from '#core/formats/mp3.ts'
import { Refusal } from '#core/refusal.ts'
import type { Recording } from '#core/sound/lane.ts'
import { foldToStereo } from '#core/sound/signal/fold.ts'
import { resample, sincReach } from '#core/sound/signal/sinc.ts'
import { soundRate, type Stereo, stereo } from '#core/sound/signal/stereo.ts'
import { say } from '#core/say.ts'

/** Samples to a piece that is decoded at once: ten seconds. */
const pieceSize = 10 * soundRate
/** Bytes of decoded pieces that are kept of a file: five minutes. */
const budget = 30 * pieceSize * 8

/** What an MP3 file says of the silence around its sound. */
async function mp3PaddingOf(address: string): Promise<Mp3Padding | null> {
  const bytes = async (from: number, count: number) => {
    const answer = await fetch(address, { headers: { Range: `bytes=${from}-${from + count - 1}` } })
    return new Uint8Array(await answer.arrayBuffer())
  }
  return mp3Padding(await bytes(id3Length(await bytes(0, 10)), 2048))
}

/** The sound of a file as the mix reads it, decoded piece by piece where it is needed. */
export class FileSound implements Recording {
  length = 0
  private input: Input | null = null
  private track: InputAudioTrack | null = null
  private rate = soundRate
  /** Samples of the file that its decoder gives before the sound begins. */
  private before = 0
  private readonly pieces = new LRUCache<number, Stereo>({
    maxSize: budget,
    sizeCalculation: ({ left }) => 8 * left.length,
  })
  private readonly underWay = new Map<number, Promise<void>>()

  /** Opens the file; throws a sentence where it is not there or holds no sound that this browser decodes. */
  async open(address: string): Promise<void> {
    this.input = new Input({ formats: ALL_FORMATS, source: new UrlSource(address) })
    const track = await this.input.getPrimaryAudioTrack().catch((cause: unknown) => {
      throw new Refusal(say`Its sound can not be read. Bring the same file in again.`, { cause })
    })
    if (!track || !(await track.canDecode()))
      throw new Refusal(say`This browser can not decode its sound. Save it as WAV, MP3 or FLAC and bring that in.`)
    this.track = track
    this.rate = await track.getSampleRate()
    const padding = (await track.getCodec()) === 'mp3' ? await mp3PaddingOf(address) : null
    this.before = padding?.before ?? 0
    const seconds = (await track.computeDuration()) - ((padding?.before ?? 0) + (padding?.behind ?? 0)) / this.rate
    this.length = Math.max(0, Math.round(seconds * soundRate))
  }

  close(): void {
    this.input?.dispose()
    this.pieces.clear()
  }

  /** Makes sure that these samples can be read. */
  async load(from: number, to: number): Promise<void> {
    const first = Math.max(0, Math.floor(from / pieceSize))
    const last = Math.floor((Math.min(to, this.length) - 1) / pieceSize)
    for (let piece = first; piece <= last; piece++) {
      if (this.pieces.has(piece)) continue
      let loading = this.underWay.get(piece)
      if (!loading) {
        loading = this.decode(piece).finally(() => this.underWay.delete(piece))
        this.underWay.set(piece, loading)
      }
      await loading
    }
  }

  /** Whether all of these samples can be read without waiting. */
  has(from: number, to: number): boolean {
    const last = Math.floor((Math.min(to, this.length) - 1) / pieceSize)
    for (let piece = Math.max(0, Math.floor(from / pieceSize)); piece <= last; piece++)
      if (!this.pieces.has(piece)) return false
    return true
  }

  read(from: number, count: number, left: Float32Array, right: Float32Array): void {
    for (let at = 0; at < count;) {
      const sample = from + at
      if (sample < 0) {
        const some = Math.min(count - at, -sample)
        left.fill(0, at, at + some)
        right.fill(0, at, at + some)
        at += some
        continue
      }
      const place = sample % pieceSize
      const some = Math.min(count - at, pieceSize - place)
      const piece = this.pieces.get(Math.floor(sample / pieceSize))
      if (piece) {
        left.set(piece.left.subarray(place, place + some), at)
        right.set(piece.right.subarray(place, place + some), at)
      } else {
        left.fill(0, at, at + some)
        right.fill(0, at, at + some)
      }
      at += some
    }
  }

  private async decode(piece: number): Promise<void> {
    const { rate, track } = this
    const out = stereo(pieceSize)
    if (!track) return
    // In samples of the file, with what the resampling looks at on both sides.
    const around = rate === soundRate ? 0 : sincReach(rate / soundRate)
    const first = this.before + Math.floor((piece * pieceSize * rate) / soundRate)
    const start = first - around
    const raw = stereo(Math.ceil((pieceSize * rate) / soundRate) + 2 * around + 2)
    const sink = new AudioSampleSink(track)
    for await (const sample of sink.samples(Math.max(0, start / rate), (start + raw.left.length) / rate)) {
      const channels = Array.from({ length: sample.numberOfChannels }, (_, planeIndex) => {
        const plane = new Float32Array(sample.numberOfFrames)
        sample.copyTo(plane, { planeIndex, format: 'f32-planar' })
        return plane
      })
      const two = stereo(sample.numberOfFrames)
      foldToStereo(channels, two)
      const at = Math.round(sample.timestamp * rate) - start
      sample.close()
      const from = Math.max(0, -at)
      const to = Math.min(two.left.length, raw.left.length - at)
      if (from >= to) continue
      raw.left.set(two.left.subarray(from, to), at + from)
      raw.right.set(two.right.subarray(from, to), at + from)
    }
    for (const side of ['left', 'right'] as const) resample(raw[side], around, [rate, soundRate], out[side])
    this.pieces.set(piece, out)
  }
}
