import { execFile } from 'node:child_process'
import { promisify } from 'node:util'
import { say } from '#core/say.ts'
import { HttpRefusal } from '../http/refusal.ts'
import { bounded, type Converter, localFile } from './programs.ts'

/** What a file that has to be converted holds, as far as that decides how. */
export interface Source {
  /** Place of the picture's stream in the file. */
  stream: number
  /** How it is coded, as ffmpeg calls it, and in words. */
  codec: string
  called: string
  /** Size of the picture in pixels as it stands upright; `aspect`: how wide one of its pixels is against its height. */
  width: number
  height: number
  aspect: number
  alpha: boolean
  bits: number
  /** Seconds that are in it. */
  seconds: number
  /** Seconds that its picture should last by what the file says of it; 0 where it says nothing. */
  meant: number
  /** Frames a second, on average; 0 where the file does not say. */
  rate: number
  /** Ticks of its clock a second. */
  clock: number
  interlaced: 'no' | 'top' | 'bottom'
  matrix: 'bt709' | 'bt601' | 'bt2020'
  range: 'limited' | 'full'
  transfer: 'sdr' | 'p3' | 'hlg' | 'pq'
  wide: boolean
  /** How its sound is coded; '' without sound. */
  audio: string
  /** Whether it is one picture that lasts as long as one likes. */
  still: boolean
  /** How many of such pictures follow each other in a zip; 0 where it is no sequence. */
  pictures: number
  /** All pictures that run in it, in words: the one that is meant as usual first. */
  streams: { stream: number; label: string }[]
}

interface Stream {
  index: number
  codec_type?: string
  codec_name?: string
  codec_long_name?: string
  profile?: string
  width?: number
  height?: number
  sample_aspect_ratio?: string
  pix_fmt?: string
  field_order?: string
  color_range?: string
  color_space?: string
  color_transfer?: string
  color_primaries?: string
  avg_frame_rate?: string
  r_frame_rate?: string
  time_base?: string
  nb_frames?: string
  duration?: string
  disposition?: { default?: number; attached_pic?: number }
  tags?: Record<string, string>
  side_data_list?: { rotation?: number }[]
}

interface Probed {
  streams?: Stream[]
  frames?: (Partial<Stream> & { interlaced_frame?: number; top_field_first?: number })[]
  format?: Format
}
interface Format {
  duration?: string
  format_name?: string
  tags?: { major_brand?: string }
}
const oneFrame = ['-read_intervals', '%+#1']

/** What ffprobe says; null where it says nothing. */
async function probed(converter: Converter, file: string, what: string[]): Promise<Probed | null> {
  const [program, args] = bounded(converter, 'ffprobe', ['-v', 'error', '-of', 'json', ...what, ...localFile(file)])
  const options = { timeout: patience, maxBuffer: 2 ** 24, killSignal: 'SIGKILL' as const }
  return promisify(execFile)(program, args, options)
    .then(({ stdout }) => JSON.parse(stdout) as Probed)
    .catch(() => null)
}

/** Milliseconds after which looking into a file is given up. */
const patience = 30_000

/** Looks into a file, at the stream that is told or the one that is meant: null where there is no picture in it. Throws a Refusal where nothing in it can be made into pictures. */
export async function sourceOf(converter: Converter, file: string, stream?: number): Promise<Source | null> {
  const said = await probed(converter, file, ['-show_format', '-show_streams'])
  const streams = said?.streams ?? []
  const pictures = streams.filter((one) => one.codec_type === 'video' && !one.disposition?.attached_pic)
  const usual = (one: Stream) => (one.disposition?.default ? 1e9 : 0) + (one.width ?? 0) * (one.height ?? 0)
  const sorted = [...pictures].sort((a, b) => usual(b) - usual(a))
  const best = sorted.find((one) => one.index === stream) ?? sorted[0]
  if (!best) return null
  if (!best.codec_name || best.codec_name === 'unknown' || !best.width || !best.height)
    throw new HttpRefusal(415, say`The picture is coded in a way that nothing here can decode. ${elsewhere}`)
  // A HEIF picture of tiles (ISO/IEC 23008-12, 6.6.2.3) is that many streams: one of them is not the picture.
  const alike = pictures.filter(({ width, height }) => width === best.width && height === best.height)
  if (isHeif(said?.format) && alike.length > 1)
    throw new HttpRefusal(
      415,
      say`The picture is put together of tiles, as phones save HEIC. Save it as JPEG or PNG, or let the phone share it as “most compatible”.`,
    )
  const sound = streams.find((one) => one.codec_type === 'audio')
  // Some tell only on the first frame what its codes mean, and whether it is made of two fields.
  const first = await probed(converter, file, ['-select_streams', String(best.index), '-show_frames', ...oneFrame])
  const frame = first?.frames?.[0] ?? {}
  for (const name of ['color_range', 'color_space', 'color_transfer', 'color_primaries'] as const)
    if (!best[name] || best[name] === 'unknown') best[name] = frame[name]
  const fields = frame.interlaced_frame ? (frame.top_field_first ? 'tt' : 'bb') : best.field_order
  const format = best.pix_fmt ?? ''
  const transfer =
    best.color_transfer === 'arib-std-b67'
      ? 'hlg'
      : best.color_transfer === 'smpte2084'
        ? 'pq'
        : best.color_primaries === 'smpte432'
          ? 'p3'
          : ('sdr' as const)
  const bits = Number(
    /(?:p|gray|rgb\D*|f)(9|10|12|14|16|32)(?:le|be)?$/.exec(format)?.[1] ?? (/48|64/.test(format) ? 16 : 8),
  )
  const rgb = /^(gbr|rgb|bgr|argb|abgr|pal8|0rgb|0bgr)/.test(format)
  const source: Source = {
    stream: best.index,
    codec: best.codec_name,
    called: '',
    ...upright(best),
    alpha: /^(yuva|ya|rgba|bgra|argb|abgr|gbrap|pal8)/.test(format) || best.tags?.alpha_mode === '1',
    bits,
    meant: meantOf(best, said?.format, Boolean(sound)),
    seconds: Number(best.duration ?? said?.format?.duration ?? 0) || 0,
    rate: ratioOf(best.avg_frame_rate) || ratioOf(best.r_frame_rate),
    clock: 1 / (ratioOf(best.time_base) || 1e-5),
    interlaced: interlacedBy(fields),
    matrix: rgb ? 'bt709' : matrixOf(best),
    range: rgb || best.color_range === 'pc' || format.startsWith('yuvj') ? 'full' : 'limited',
    transfer,
    wide: transfer !== 'sdr' || best.color_primaries === 'bt2020',
    audio: sound?.codec_name ?? '',
    still: isStill(said?.format, best) && !sound,
    pictures: 0,
    streams: sorted.map((one) => ({ stream: one.index, label: `${one.width} × ${one.height}` })),
  }
  return { ...source, called: calledBy(source, best) }
}
/** How long a picture should last: who was cut short says so by his header only, and each container says it elsewhere. */
function meantOf({ nb_frames, avg_frame_rate, tags }: Stream, format: Format | undefined, sound: boolean): number {
  const name = format?.format_name ?? ''
  if (name === 'avi') return (Number(nb_frames) || 0) / (ratioOf(avg_frame_rate) || 1) || 0
  const [hours = 0, minutes = 0, seconds = 0] = (tags?.DURATION ?? '').split(':').map(Number)
  if (name.startsWith('matroska') && tags?.DURATION) return 3600 * hours + 60 * minutes + seconds || 0
  // Of both together: the sound may be what lasts.
  return name === 'flv' && !sound ? Number(format?.duration) || 0 : 0
}
/** ffmpeg turns a picture upright before anything else is done to it: what is wide then is what was high. */
function upright({ width, height, sample_aspect_ratio, side_data_list, tags }: Stream) {
  const aspect = ratioOf(sample_aspect_ratio?.replace(':', '/')) || 1
  const turn = side_data_list?.find(({ rotation }) => rotation !== undefined)?.rotation ?? Number(tags?.rotate ?? 0)
  const stored = { width: width!, height: height!, aspect }
  return turn % 180 === 0 ? stored : { width: height!, height: width!, aspect: 1 / aspect }
}
const elsewhere = say`Export it as MP4 from the program that made it.`

/** A fraction such as 30000/1001; 0 where it says nothing. */
function ratioOf(fraction: string | undefined): number {
  const [above, below] = (fraction ?? '').split('/').map(Number)
  return above && below ? above / below : 0
}

function interlacedBy(order: string | undefined): Source['interlaced'] {
  if (order === 'tt' || order === 'tb') return 'top'
  return order === 'bb' || order === 'bt' ? 'bottom' : 'no'
}

function matrixOf({ color_space: space, width, height }: Stream): Source['matrix'] {
  if (space?.startsWith('bt2020')) return 'bt2020'
  if (space === 'bt709') return 'bt709'
  if (space && space !== 'unknown') return 'bt601'
  return Math.min(width!, height!) >= 720 ? 'bt709' : 'bt601'
}

const names: Record<string, string> = {
  ...{ hevc: 'HEVC', h264: 'H.264', prores: 'ProRes', dnxhd: 'DNxHD', mjpeg: 'MJPEG', mpeg4: 'MPEG-4 Part 2' },
  ...{ mpeg2video: 'MPEG-2', mpeg1video: 'MPEG-1', dvvideo: 'DV', gif: 'GIF', apng: 'animated PNG', webp: 'WebP' },
  ...{ vp8: 'VP8', vp9: 'VP9', av1: 'AV1', flv1: 'Flash video', wmv1: 'WMV 7', wmv2: 'WMV 8', wmv3: 'WMV 9' },
  ...{ vc1: 'VC-1', h263: 'H.263', tiff: 'TIFF', bmp: 'BMP', exr: 'OpenEXR', png: 'PNG', theora: 'Theora' },
  ...{ msmpeg4v2: 'MPEG-4 v2', msmpeg4v3: 'MPEG-4 v3', rawvideo: 'uncompressed', cfhd: 'CineForm', ffv1: 'FFV1' },
}
/** One picture alone: in a file of its own, or as HEIF and AVIF have it (ISO/IEC 23008-12, by the brand of the file). */
const isStill = (format: Format | undefined, { nb_frames }: Stream): boolean =>
  /_pipe$|^image2/.test(format?.format_name ?? '') || (isHeif(format) && !(Number(nb_frames) > 1))
const isHeif = (format: Format | undefined): boolean => /^(avif|heic|heix|mif1)/.test(format?.tags?.major_brand ?? '')

/** How a picture is coded, in words: what people know their clips by. */
function calledBy(source: Source, { codec_long_name, profile }: Stream): string {
  const name = names[source.codec] ?? codec_long_name ?? source.codec
  const also = source.codec === 'prores' && profile ? ` ${profile}` : ''
  const bright = { sdr: '', p3: ', Display P3', hlg: ', HLG', pq: ', PQ' }[source.transfer]
  return `${name}${also}${source.bits > 8 ? say`, ${source.bits} bit` : ''}${bright}`
}
