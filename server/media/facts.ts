import { ALL_FORMATS, EncodedPacketSink, FilePathSource, Input, type InputVideoTrack } from 'mediabunny'
import { namedRate } from '#core/formats/rate.ts'
import { limits } from '#core/records/limits.ts'
import type { MediaCodec } from '#core/records/types.ts'
import { say } from '#core/say.ts'
import { HttpRefusal } from '../http/refusal.ts'
import type { Facts } from './mediaFacts.ts'
import { type EditList, editListOf } from './editList.ts'
import { mayBeFields, setOfRecord, setOfStream } from './fields.ts'
import { isAnimated, pictureKind, picturesOf } from './pictures.ts'

const cutShort = say`The video is damaged or cut short and can not be read to its end. Copy it from the camera again.`
const decodable: readonly string[] = ['avc', 'vp8', 'vp9', 'av1']
const codecNames: Record<string, string> = { hevc: 'H.265 (HEVC)', prores: 'ProRes', mpeg4: 'MPEG-4 Part 2' }

/** Reads the facts of a stored file. Throws a Refusal that says what is wrong with it and what to do. */
export async function factsOf(file: string, hash: string, bytes: number): Promise<Facts> {
  if (bytes === 0) throw new HttpRefusal(422, say`The file is empty. Copy it from the camera again.`)
  const pictures = await pictureKind(file)
  if (pictures === 'png' && (await isAnimated(file))) throw animated
  if (pictures) return picturesOf(file, pictures, hash, bytes)
  return opened(file, async (input) => {
    if (await isSoundOnly(input)) return soundOf(input, hash, bytes)
    // A header that can not be read has no list; what is wrong with it is said by who reads the rest.
    const edits = await editListOf(file).catch(() => null)
    return read(await shownIn(input, edits), edits, hash, bytes)
  })
}

/**
 * Looks into a file of which only the ends are there: it refuses as {@link factsOf} does what can be told by them, and says
 * whether they told.
 */
export async function glanceAt(file: string): Promise<boolean> {
  const pictures = await pictureKind(file)
  if (pictures === 'png' && (await isAnimated(file))) throw animated
  if (pictures) return false
  return opened(file, async (input) => {
    if (await isSoundOnly(input)) await soundCodecIn(input)
    else await shownIn(input, null)
  }).then(
    () => true,
    (error: unknown) => {
      if (error instanceof HttpRefusal && error.message === cutShort) return false
      throw error
    },
  )
}

const animated = new HttpRefusal(
  415,
  say`The picture is an animated PNG. Save it as a video, or as a sequence of pictures.`,
)

async function opened<T>(file: string, work: (input: Input) => Promise<T>): Promise<T> {
  const input = new Input({ formats: ALL_FORMATS, source: new FilePathSource(file) })
  try {
    await input.getFormat()
    return await work(input)
  } catch (error) {
    if (error instanceof HttpRefusal) throw error
    if (/format/i.test((error as Error).name + (error as Error).message))
      throw new HttpRefusal(
        415,
        say`This is no file that Wisp Trail knows. Check that it is what its name says: a video, a picture, a sound, or a zip of numbered pictures.`,
      )
    throw new HttpRefusal(422, cutShort)
  } finally {
    input.dispose()
  }
}

/** Sound that browsers decode, beside what is kept plainly. */
const soundCodecs: readonly string[] = ['mp3', 'opus', 'vorbis', 'flac', 'aac', 'ulaw', 'alaw']

/** Whether a file is sound alone. A picture beside it, such as that of a record's sleeve, is none of a clip. */
async function isSoundOnly(input: Input): Promise<boolean> {
  return !(await input.getPrimaryVideoTrack()) && (await input.getPrimaryAudioTrack()) !== null
}

/** How the sound of a file is coded; refuses what browsers do not decode. */
async function soundCodecIn(input: Input): Promise<string> {
  const codec = await (await input.getPrimaryAudioTrack())!.getCodec()
  if (!codec || !(codec.startsWith('pcm-') || soundCodecs.includes(codec)))
    throw new HttpRefusal(
      422,
      say`The sound is coded as ${codec ?? say`something unknown`}, which the browser can not decode. Save it as WAV, MP3 or FLAC first.`,
    )
  return codec
}

/** Facts of a file without a picture. */
async function soundOf(input: Input, hash: string, bytes: number): Promise<Facts> {
  const codec = await soundCodecIn(input)
  const track = (await input.getPrimaryAudioTrack())!
  const seconds = await track.computeDuration().catch(() => 0)
  const last = seconds > 0 ? await new EncodedPacketSink(track).getPacket(seconds).catch(() => null) : null
  if (!last || last.data.byteLength === 0)
    throw new HttpRefusal(
      422,
      say`There is no sound in this file: it is empty or cut short. Copy it from where it came again.`,
    )
  return {
    ...{ hash, bytes, codec: 'sound', audio: codec, width: 0, height: 0, rotation: 0, frames: 0, rate: 1 },
    ...{ variableRate: false, seconds, matrix: 'bt709', range: 'limited', tagged: true, times: [] },
  }
}

/** What is to be seen of a file: its picture, which the browser decodes truly. */
async function shownIn(input: Input, edits: EditList | null) {
  const track = await input.getPrimaryVideoTrack()
  // What is not seen here the converter may see.
  if (!track && (await input.getTracks()).length === 0) throw new HttpRefusal(415, cutShort)
  if (!track) throw new HttpRefusal(415, say`There is no picture in this file, only sound or data. Choose a video.`)
  const codec = await track.getCodec()
  if (!codec || !decodable.includes(codec))
    throw new HttpRefusal(
      415,
      say`The picture is coded as ${codecNames[codec ?? ''] ?? codec ?? say`something unknown`}, which the browser can not decode. Convert the clip to H.264 in MP4 first, with any video converter.`,
    )
  const colour = await track.getColorSpace()
  const beyond = await beyondPlain(track, codec, colour)
  if (beyond)
    throw new HttpRefusal(
      415,
      say`The picture is ${beyond}, which the browser does not show truly. Convert the clip to H.264 with 8 bits in MP4 first.`,
    )
  if (codec === 'avc' && (await hasFields(track)))
    throw new HttpRefusal(
      415,
      say`The picture is interlaced: made of two fields of different moments. Make frames of them first, with any video converter.`,
    )
  const rotation = (await track.getRotation()) as Facts['rotation']
  // Pixels as they are stored, turned upright: a picture with stretched pixels is traced on its own grid.
  const coded = [await track.getCodedWidth(), await track.getCodedHeight()] as const
  const [width, height] = rotation % 180 ? [coded[1], coded[0]] : coded
  const { min, max } = limits.side
  if (width < min || height < min)
    throw new HttpRefusal(
      422,
      say`The picture is ${width} x ${height} pixels; the smallest that can be traced is ${min} x ${min}.`,
    )
  if (width > max || height > max || width * height > limits.pixels)
    throw new HttpRefusal(
      415,
      say`The picture is ${width} x ${height} pixels; the largest that fits is 4096 x 2304. Scale the clip down first.`,
    )
  if (edits && edits.cuts > 1)
    throw new HttpRefusal(
      415,
      say`The clip is cut together of several pieces inside its file. Export it anew as MP4 first.`,
    )
  return { input, track, codec: codec as MediaCodec, colour, rotation, width, height }
}

async function read(
  { input, track, codec, colour, rotation, width, height }: Awaited<ReturnType<typeof shownIn>>,
  edits: EditList | null,
  hash: string,
  bytes: number,
): Promise<Facts> {
  const all = await timesOf(new EncodedPacketSink(track))
  // What was trimmed off is still in the file, before and after what is to be seen.
  const times = all.filter((time) => time > -trimmed && time < (edits?.until ?? Infinity) - trimmed)
  if (times.length === 0) throw new HttpRefusal(422, say`The video holds not one frame. Copy it from the camera again.`)
  const audio = await input.getPrimaryAudioTrack()
  const gaps = times.slice(1).map((time, i) => time - times[i]!)
  const mean = gaps.length ? (times.at(-1)! - times[0]!) / gaps.length : 1 / 24
  return {
    hash,
    bytes,
    codec,
    audio: (await audio?.getCodec()) ?? '',
    width,
    height,
    rotation,
    frames: times.length,
    rate: namedRate(1 / mean, times.at(-1)! - times[0]!),
    // Containers round times to milliseconds or worse; a real change of rate is larger than that.
    variableRate: gaps.some((gap) => Math.abs(gap - mean) > Math.max(0.0021, mean * 0.02)),
    seconds: times.at(-1)! - times[0]! + mean,
    matrix: colour.matrix
      ? colour.matrix === 'bt709'
        ? 'bt709'
        : 'bt601'
      : Math.min(width, height) >= 720
        ? 'bt709'
        : 'bt601',
    range: colour.fullRange ? 'full' : 'limited',
    tagged: Boolean(colour.matrix),
    times,
  }
}

/** What of a picture that the browser decodes comes out wrong, in words: more than 8 bits, finer colour, bright or wide light. */
async function beyondPlain(track: InputVideoTrack, codec: string, colour: VideoColorSpaceInit): Promise<string | null> {
  const coded = (await track.getCodecParameterString()) ?? ''
  // Types of the browser do not know all that files say.
  const { transfer, primaries, matrix } = colour as Record<string, string | undefined>
  if (transfer === 'hlg' || transfer === 'pq') return say`in ${transfer.toUpperCase()}`
  if (primaries === 'smpte432') return say`in the wide colours of Display P3`
  if (primaries === 'bt2020' || matrix?.startsWith('bt2020')) return say`in the wide colours of BT.2020`
  // The profile of H.264, VP9 or AV1: ISO/IEC 14496-15, the VP9 and the AV1 bindings to ISO files.
  const [, profile, , depth] = coded.split('.')
  const high = codec === 'avc' ? /^(6E|7A|F4|2C)/i.test(profile ?? '') : false
  const deep = codec === 'vp9' || codec === 'av1' ? Number.parseInt(depth ?? '8', 10) > 8 : false
  const fine =
    codec === 'vp9' || codec === 'av1'
      ? profile === '01' || profile === '1' || profile === '03' || profile === '2'
      : false
  if (high || deep || fine) return say`coded in more than 8 bits, or with colour as fine as light`
  const [square, stored] = [await track.getSquarePixelWidth(), await track.getCodedWidth()]
  return square === stored ? null : say`stretched: its pixels are not square`
}

async function hasFields(track: InputVideoTrack): Promise<boolean> {
  const record = (await track.getDecoderConfig())?.description
  const set = record
    ? setOfRecord(new Uint8Array(ArrayBuffer.isView(record) ? record.buffer.slice(record.byteOffset) : record))
    : setOfStream((await new EncodedPacketSink(track).getFirstPacket())?.data ?? new Uint8Array())
  return set !== null && mayBeFields(set)
}

/** Seconds by which the ends of what is to be seen may be rounded. */
const trimmed = 0.002

/** All presentation times, sorted. The last packet is read in full: a file cut short ends here. */
async function timesOf(sink: EncodedPacketSink): Promise<number[]> {
  const times: number[] = []
  let last = null
  for await (const packet of sink.packets(undefined, undefined, { metadataOnly: true })) {
    times.push(packet.timestamp)
    if (times.length > limits.frames)
      throw new HttpRefusal(422, say`The clip says that it has more than ${limits.frames} frames. It is damaged.`)
    if (!last || packet.sequenceNumber > last.sequenceNumber) last = packet
  }
  if (last) {
    const whole = await sink.getPacket(last.timestamp)
    if (!whole || whole.data.byteLength === 0) throw new Error('cut short')
  }
  return times.sort((a, b) => a - b)
}
