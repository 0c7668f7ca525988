import type { WideTransfer } from '#core/pixels/colour/hdr.ts'
import { limits } from '#core/records/limits.ts'
import type { Source } from './source.ts'

/** How a file is made into one that the browser decodes. */
export interface Plan {
  /** Arguments between the input and the output. */
  args: string[]
  /** The table of colours that it needs beside it, under the name {@link tableName}. */
  table: WideTransfer | null
  ending: 'mp4' | 'webm' | 'png'
  /** Arguments before the input. */
  reading: string[]
}
export const tableName = 'shown.cube'

/** Frames from one that stands for itself to the next: what a step back has to decode at most. */
const group = 12

/**
 * What stands for itself every {@link group} frames, as many frames at the same times, upright, square pixels, BT.709. With
 * alpha it is VP9 in WebM, else H.264 in MP4: of those that the browser decodes the one whose frames come quickest.
 */
export function planOf(source: Source): Plan {
  const { stream, audio, alpha, clock, interlaced } = source
  // OpenEXR holds light; a picture that is shown holds codes.
  const reading = source.codec === 'exr' ? ['-apply_trc', 'iec61966_2_1'] : []
  if (source.still) {
    const sizes = sized(source)
    return {
      ...{ reading, table: null, ending: 'png' },
      args: [
        ...['-map', `0:${stream}`, ...(sizes.length ? ['-vf', sizes.join(',')] : []), '-frames:v', '1'],
        ...['-pix_fmt', alpha ? 'rgba' : 'rgb24', '-c:v', 'png', '-update', '1', '-f', 'image2'],
      ],
    }
  }
  const filters = [...deinterlaced(interlaced), ...sized(source), ...coloured(source)]
  const table = source.wide ? (source.transfer === 'sdr' ? 'sdr' : source.transfer) : null
  const times = ['-fps_mode', 'passthrough', '-enc_time_base', '-1']
  const colour = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-color_range', 'tv']
  const args = [
    ...['-map', `0:${stream}`, '-map', '0:a:0?', '-dn', '-sn', '-map_metadata', '-1', '-map_chapters', '-1'],
    ...['-vf', filters.join(','), ...times, ...colour, '-g', String(group)],
  ]
  if (alpha)
    return {
      args: [
        ...[...args, '-c:v', 'libvpx-vp9', '-pix_fmt', 'yuva420p', '-auto-alt-ref', '0', '-crf', '14', '-b:v', '0'],
        ...['-deadline', 'realtime', '-cpu-used', '6', '-row-mt', '1', '-c:a', 'libopus', '-b:a', '192k', '-f', 'webm'],
      ],
      ...{ reading, table, ending: 'webm' },
    }
  const whole = Math.round(clock)
  const ticks = Math.abs(clock - whole) < 1e-6 && whole <= 1e6 && whole >= 1000 ? whole : 90_000
  return {
    args: [
      ...[...args, '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-preset', 'veryfast', '-crf', '14', '-bf', '0'],
      ...['-x264-params', 'scenecut=0', '-video_track_timescale', String(ticks)],
      ...(audio === 'aac' ? ['-c:a', 'copy'] : ['-c:a', 'aac', '-b:a', '256k']),
      ...['-movflags', '+faststart', '-f', 'mp4'],
    ],
    ...{ reading, table, ending: 'mp4' },
  }
}

/** A picture a frame, of the field that comes first. */
const deinterlaced = (order: Source['interlaced']): string[] =>
  order === 'no' ? [] : [`bwdif=mode=send_frame:parity=${order === 'top' ? 'tff' : 'bff'}:deint=all`]

/** Square pixels, sides that are even, and not more than can be worked with. */
function sized({ width, height, aspect }: Source): string[] {
  const wide = width * aspect
  const fits = Math.min(1, limits.side.max / wide, limits.side.max / height, Math.sqrt(limits.pixels / (wide * height)))
  const even = (side: number) => Math.max(limits.side.min, 2 * Math.floor((side * fits) / 2 + 1e-6))
  const same = fits === 1 && aspect === 1 && width % 2 === 0 && height % 2 === 0
  return same ? [] : [`scale=${even(wide)}:${even(height)}:flags=lanczos`, 'setsar=1']
}

const exact = 'flags=bicubic+accurate_rnd+full_chroma_int+full_chroma_inp'
function coloured({ matrix, range, wide, alpha }: Source): string[] {
  const from = { bt709: 'bt709', bt601: 'smpte170m', bt2020: 'bt2020' }[matrix]
  const input = `in_color_matrix=${from}:in_range=${range === 'full' ? 'pc' : 'tv'}`
  const output = `out_color_matrix=bt709:out_range=tv:${exact}`
  const to = `format=${alpha ? 'yuva420p' : 'yuv420p'}`
  if (!wide) return [`scale=${input}:${output}`, to]
  return [
    `scale=${input}:out_range=pc:${exact}`,
    'format=gbrp16le',
    `lut3d=file=${tableName}:interp=tetrahedral`,
    `scale=in_range=pc:${output}`,
    to,
  ]
}
