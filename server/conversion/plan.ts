import type { BrightLight, WideTransfer } from '#core/pixels/colour/hdr.ts'
import type { ConversionChoices, ConversionQuestions } from '#core/records/exchange.ts'
import { limits } from '#core/records/limits.ts'
import type { Converter } from './programs.ts'
import type { Source } from './source.ts'

/** How a file is made into one that the browser decodes. */
export interface Plan {
  /** Arguments between the input and the output. */
  args: string[]
  /** The table of colours that it needs beside it, under the name {@link tableName}. */
  table: { transfer: WideTransfer; bright: BrightLight } | null
  /** A zip holds the pictures that the output's pattern names. */
  ending: 'mp4' | 'webm' | 'png' | 'exr' | 'zip'
  /** Of which kind the pictures of a zip are. */
  picture?: 'png' | 'exr'
  /** Arguments before the input. */
  reading: string[]
}
export const tableName = 'shown.cube'

/** Frames from one that stands for itself to the next: what a step back has to decode at most. */
const group = 12

/**
 * What stands for itself every {@link group} frames, as many frames at the same times, upright, square pixels, BT.709. With
 * alpha it is VP9 in WebM, else H.264 in MP4: of those that the browser decodes the one whose frames come quickest. The
 * packaged converter works with one core and without its vector units: it takes the shortest way, its file is half as
 * large again, and what has alpha becomes VP8.
 */
export function planOf(
  source: Source,
  { packaged }: Pick<Converter, 'packaged'>,
  choices: ConversionChoices | null = null,
): Plan {
  const { stream, audio, alpha, clock, interlaced } = source
  const width = choices?.width ?? widthsOf(source)[0]!
  if (source.still) return planOfStill(source, width, choices !== null)
  const filters = [
    ...deinterlaced(interlaced, choices?.picture ?? 'frame'),
    ...sized(source, width),
    ...coloured(source),
  ]
  const table = tableOf(source, choices?.bright)
  const times = ['-fps_mode', 'passthrough', '-enc_time_base', '-1']
  const colour = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-color_range', 'tv']
  const args = [
    ...['-map', `0:${stream}`, '-map', '0:a:0?', '-dn', '-sn', '-map_metadata', '-1', '-map_chapters', '-1'],
    ...['-vf', filters.join(','), ...times, ...colour, '-g', String(group)],
  ]
  if (alpha)
    return {
      args: [
        ...[...args, '-pix_fmt', 'yuva420p', '-auto-alt-ref', '0', ...(packaged ? vp8 : vp9)],
        ...['-c:a', 'libopus', '-b:a', '192k', '-f', 'webm'],
      ],
      ...{ reading: [], table, ending: 'webm' },
    }
  const whole = Math.round(clock)
  const ticks = Math.abs(clock - whole) < 1e-6 && whole <= 1e6 && whole >= 1000 ? whole : 90_000
  return {
    args: [
      ...[...args, '-c:v', 'libx264', '-preset', packaged ? 'ultrafast' : 'veryfast'],
      ...['-pix_fmt', 'yuv420p', '-crf', '14', '-bf', '0'],
      ...['-x264-params', 'scenecut=0', '-video_track_timescale', String(ticks)],
      ...(audio === 'aac' ? ['-c:a', 'copy'] : ['-c:a', 'aac', '-b:a', '256k']),
      ...['-movflags', '+faststart', '-f', 'mp4'],
    ],
    ...{ reading: [], table, ending: 'mp4' },
  }
}

/**
 * Pictures become PNG, of 16 bits where they have more than 8. What is light already stays so: OpenEXR becomes OpenEXR of one plain
 * form. Only where it is too large and has to be scaled it becomes PNG, too: ffmpeg's scaling knows no light above white.
 */
function planOfStill(source: Source, width: number, chosen: boolean): Plan {
  const { alpha, bits, pictures } = source
  // A picture alone may have odd sides.
  const asItIs = !chosen && source.aspect === 1 && width === even(source.width)
  const light = source.codec === 'exr' && asItIs
  const filters = [...(asItIs ? [] : sized(source, width)), ...inBt709(source)]
  const many = ['-fps_mode', 'passthrough', '-start_number', '1']
  const deep = bits > 8 ? (alpha ? 'rgba64be' : 'rgb48be') : alpha ? 'rgba' : 'rgb24'
  return {
    ...{ table: tableOf(source), ending: pictures ? 'zip' : light ? 'exr' : 'png' },
    picture: light ? 'exr' : 'png',
    reading: [
      // Codes for who is shown codes.
      ...(source.codec === 'exr' && !light ? ['-apply_trc', 'iec61966_2_1'] : []),
      ...(pictures ? ['-f', 'image2', '-framerate', String(source.rate)] : []),
    ],
    args: [
      ...['-map', `0:${source.stream}`, ...(filters.length ? ['-vf', filters.join(',')] : [])],
      ...(pictures ? many : ['-frames:v', '1', '-update', '1']),
      ...(light ? ['-c:v', 'exr', '-compression', 'zip16', '-format', 'half'] : ['-pix_fmt', deep, '-c:v', 'png']),
      ...['-f', 'image2'],
    ],
  }
}

const tableOf = ({ wide, transfer }: Source, bright: BrightLight = 'kept'): Plan['table'] =>
  wide ? { transfer, bright } : null

/** A frame of the middle as a small PNG, its light as it would become. */
export function previewOf(source: Source, bright: BrightLight): Plan {
  const width = Math.min(previewWidth, widthsOf(source)[0]!)
  const filters = [...sized(source, width), ...inBt709(source), 'format=rgb24']
  return {
    reading: ['-ss', (source.seconds / 3).toFixed(3)],
    table: tableOf(source, bright),
    ending: 'png',
    args: [
      ...['-map', `0:${source.stream}`, '-vf', filters.join(','), '-frames:v', '1'],
      ...['-c:v', 'png', '-update', '1', '-f', 'image2'],
    ],
  }
}
const previewWidth = 320

const vp9 = [
  ...['-c:v', 'libvpx-vp9', '-crf', '14', '-b:v', '0'],
  ...['-deadline', 'realtime', '-cpu-used', '6', '-row-mt', '1'],
]
/** Compiled to WebAssembly, the encoder of VP9 reaches beyond its memory. */
const vp8 = ['-c:v', 'libvpx', '-crf', '6', '-b:v', '100M', '-deadline', 'good', '-cpu-used', '4']

/** Two fields as one picture, or a picture of each. */
const deinterlaced = (order: Source['interlaced'], picture: ConversionChoices['picture']): string[] =>
  order === 'no' ? [] : [`bwdif=mode=send_${picture}:parity=${order === 'top' ? 'tff' : 'bff'}:deint=all`]

/**
 * Bytes that a converted clip will hardly stay below, by pixels: between those of a still camera and those of grain, measured
 * on filmed clips.
 */
export function roomFor(source: Source, choices: ConversionChoices | null): number {
  const { wide, high } = square(source)
  const width = choices?.width ?? widthsOf(source)[0]!
  if (source.still) return (source.bits > 8 ? 5 : 1.5) * width * ((high * width) / wide) * Math.max(1, source.pictures)
  const frames = source.seconds * source.rate * (choices?.picture === 'field' ? 2 : 1)
  return 0.02 * width * ((high * width) / wide) * frames
}

const even = (side: number) => Math.max(limits.side.min, 2 * Math.floor(side / 2 + 1e-6))

/** Size in square pixels: the side that is coded coarser is the one that grows. */
const square = ({ width, height, aspect }: Source) => ({
  wide: width * Math.max(1, aspect),
  high: height / Math.min(1, aspect),
})

/** Widths in square pixels that a clip may get: its own, or the largest that can be worked with, and usual smaller ones. */
export function widthsOf(source: Source): number[] {
  const { wide, high } = square(source)
  const { side, pixels } = limits
  const fits = Math.min(1, side.max / wide, side.max / high, Math.sqrt(pixels / (wide * high)))
  const most = even(wide * fits)
  return [most, ...[3840, 2560, 1920, 1280].filter((one) => one < most)]
}

/** What is to be asked of a clip before it is converted; null where nothing is in doubt. */
export function questionsOf(source: Source): ConversionQuestions | null {
  const widths = widthsOf(source)
  const interlaced = source.interlaced !== 'no'
  const tooLarge = widths[0]! < even(square(source).wide)
  const bright = ['hlg', 'pq'].includes(source.transfer) && !source.still
  if (!interlaced && !tooLarge && !bright && source.streams.length < 2) return null
  return {
    ...{ streams: source.streams, interlaced, bright, widths: tooLarge ? widths : widths.slice(0, 1) },
    best: { stream: source.stream, picture: 'frame', width: widths[0]!, bright: 'kept' },
  }
}

/** Square pixels, sides that are even, as wide as told. */
function sized(source: Source, wide: number): string[] {
  const { width, height, aspect } = source
  const whole = square(source)
  const high = even((whole.high * wide) / whole.wide)
  return wide === width && high === height && aspect === 1 ? [] : [`scale=${wide}:${high}:flags=lanczos`, 'setsar=1']
}

const exact = 'flags=bicubic+accurate_rnd+full_chroma_int+full_chroma_inp'
const inputOf = ({ matrix, range }: Source) =>
  `in_color_matrix=${{ bt709: 'bt709', bt601: 'smpte170m', bt2020: 'bt2020' }[matrix]}:in_range=${range === 'full' ? 'pc' : 'tv'}`
function coloured(source: Source): string[] {
  const { wide, alpha } = source
  const input = inputOf(source)
  const output = `out_color_matrix=bt709:out_range=tv:${exact}`
  const to = `format=${alpha ? 'yuva420p' : 'yuv420p'}`
  return wide ? [...inBt709(source), `scale=in_range=pc:${output}`, to] : [`scale=${input}:${output}`, to]
}

/** What is wide or bright as R, G and B of BT.709, by the table beside it; nothing where it is that already. */
const inBt709 = (source: Source): string[] =>
  source.wide
    ? [
        `scale=${inputOf(source)}:out_range=pc:${exact}`,
        'format=gbrp16le',
        `lut3d=file=${tableName}:interp=tetrahedral`,
      ]
    : []
