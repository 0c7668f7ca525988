import { ffmpeg } from './ffmpeg.ts'

/** A form in which a clip may come: how ffmpeg makes it, and what is special about it. */
export interface Form {
  name: string
  ending: string
  /** Arguments of the coding. */
  coding: string[]
  /** Whether the browser takes it as it is. */
  plain?: boolean
  /** Frames that are to be seen, where these are not {@link strip}.frames. */
  frames?: number
  alpha?: boolean
  /** Whether the browser takes it apart before it is sent: see web/frames/animation.ts. */
  apart?: boolean
}

/** The clip that all of them are made of: patches of known colours over a strip that tells each frame's number. */
export const strip = { width: 320, height: 192, frames: 25, rate: 25, bits: 6 }

export const patches: [number, number, number][] = [
  ...([
    [235, 235, 235],
    [128, 128, 128],
    [32, 32, 32],
    [200, 40, 40],
  ] as [number, number, number][]),
  ...([
    [40, 180, 60],
    [30, 50, 210],
    [220, 190, 40],
    [200, 160, 140],
  ] as [number, number, number][]),
]
const patchWidth = strip.width / patches.length

/** Its frames as RGB, 8 bits, or with alpha: then the right half of each patch lets half of the light through. */
export function stripFrames(alpha = false): Buffer {
  const { width, height, frames, bits } = strip
  const each = alpha ? 4 : 3
  const out = Buffer.alloc(each * width * height * frames)
  for (let f = 0, to = 0; f < frames; f++)
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++, to += each) {
        const inStrip = y < 64
        const bit = (f >> Math.floor((x * bits) / width)) & 1
        const colour = inStrip ? [bit * 235, bit * 235, bit * 235] : patches[Math.floor(x / patchWidth)]!
        out.set(colour, to)
        if (alpha) out[to + 3] = inStrip || x % patchWidth < patchWidth / 2 ? 255 : 128
      }
  return out
}

/** The number that a frame of RGB or RGBA shows in its strip, and the mean colour of each of its patches. */
export function readStrip(pixels: Uint8Array, each: 3 | 4): { number: number; colours: [number, number, number][] } {
  const { width, bits, height } = strip
  let number = 0
  for (let bit = 0; bit < bits; bit++) {
    const at = each * (32 * width + Math.floor(((bit + 0.5) * width) / bits))
    if (pixels[at + 1]! > 128) number |= 1 << bit
  }
  const colours = patches.map((_, i): [number, number, number] => {
    const sums: [number, number, number] = [0, 0, 0]
    let count = 0
    for (let y = 90; y < height - 20; y++)
      for (let x = i * patchWidth + 8; x < (i + 0.5) * patchWidth - 4; x++, count++)
        for (let c = 0; c < 3; c++) sums[c]! += pixels[each * (y * width + x) + c]!
    return sums.map((sum) => sum / count) as [number, number, number]
  })
  return { number, colours }
}

/** Makes the clip in a form. */
export function makeForm({ coding, alpha }: Form, file: string): void {
  const { width, height, rate } = strip
  const raw = ['-f', 'rawvideo', '-pix_fmt', alpha ? 'rgba' : 'rgb24', '-s', `${width}x${height}`, '-r', String(rate)]
  ffmpeg([...raw, '-i', '-', ...coding, file], stripFrames(alpha))
}

const tags = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-color_range', 'tv']
const named = 'setparams=colorspace=bt709:color_primaries=bt709:color_trc=bt709:range=tv'
const bt709 = (format: string) => [
  '-vf',
  `scale=out_color_matrix=bt709:out_range=tv,format=${format},${named}`,
  ...tags,
]
const bt601 = (format: string) => ['-vf', `scale=out_color_matrix=smpte170m:out_range=tv,format=${format}`]
/** Codes as they are, called HLG or PQ in BT.2020: what they mean then is what the standard says. */
const bright = (transfer: string) => [
  ...['-vf', 'scale=out_color_matrix=bt2020:out_range=tv,format=yuv420p10le'],
  ...['-colorspace', 'bt2020nc', '-color_primaries', 'bt2020', '-color_trc', transfer, '-color_range', 'tv'],
]
const p3 = ['-colorspace', 'bt709', '-color_primaries', 'smpte432', '-color_trc', 'bt709', '-color_range', 'tv']
const x264 = ['-c:v', 'libx264', '-crf', '8', '-preset', 'veryfast']
const x265 = ['-c:v', 'libx265', '-crf', '6', '-preset', 'ultrafast', '-x265-params', 'log-level=error']

/** Every form that is tried. */
export const forms: Form[] = [
  { name: 'H.264, 8 bit', ending: 'mp4', coding: [...bt709('yuv420p'), ...x264], plain: true },
  { name: 'H.264, 10 bit', ending: 'mp4', coding: [...bt709('yuv420p10le'), ...x264] },
  { name: 'H.264, 4:2:2', ending: 'mp4', coding: [...bt709('yuv422p'), ...x264] },
  { name: 'H.264, 4:4:4', ending: 'mp4', coding: [...bt709('yuv444p'), ...x264] },
  { name: 'HEVC, 8 bit', ending: 'mp4', coding: [...bt709('yuv420p'), ...x265, '-tag:v', 'hvc1'] },
  { name: 'HEVC, 10 bit', ending: 'mov', coding: [...bt709('yuv420p10le'), ...x265, '-tag:v', 'hvc1'] },
  { name: 'HEVC, 10 bit, HLG', ending: 'mov', coding: [...bright('arib-std-b67'), ...x265, '-tag:v', 'hvc1'] },
  { name: 'HEVC, 10 bit, PQ', ending: 'mp4', coding: [...bright('smpte2084'), ...x265, '-tag:v', 'hvc1'] },
  {
    name: 'HEVC, Display P3',
    ending: 'mov',
    coding: ['-vf', 'scale=out_color_matrix=bt709:out_range=tv,format=yuv420p', ...p3, ...x265, '-tag:v', 'hvc1'],
  },
  {
    name: 'VP9, 10 bit',
    ending: 'webm',
    coding: [...bt709('yuv420p10le'), '-c:v', 'libvpx-vp9', '-crf', '10', '-b:v', '0'],
  },
  { name: 'ProRes 422', ending: 'mov', coding: [...bt709('yuv422p10le'), '-c:v', 'prores_ks', '-profile:v', '3'] },
  {
    name: 'ProRes 4444 with alpha',
    ending: 'mov',
    alpha: true,
    coding: [...bt709('yuva444p10le'), '-c:v', 'prores_ks', '-profile:v', '4'],
  },
  { name: 'DNxHR', ending: 'mov', coding: [...bt709('yuv422p'), '-c:v', 'dnxhd', '-profile:v', 'dnxhr_hq'] },
  { name: 'MJPEG in AVI', ending: 'avi', coding: ['-vf', 'format=yuvj420p', '-c:v', 'mjpeg', '-q:v', '2'] },
  { name: 'MPEG-4 Part 2 in AVI', ending: 'avi', coding: [...bt601('yuv420p'), '-c:v', 'mpeg4', '-q:v', '2'] },
  { name: 'MPEG-2 in MPEG-TS', ending: 'mts', coding: [...bt601('yuv420p'), '-c:v', 'mpeg2video', '-q:v', '2'] },
  { name: 'H.264 in MKV, 10 bit', ending: 'mkv', coding: [...bt709('yuv420p10le'), ...x264] },
  { name: 'MPEG-4 Part 2 in 3GP', ending: '3gp', coding: [...bt601('yuv420p'), '-c:v', 'mpeg4', '-q:v', '2'] },
  { name: 'WMV 8', ending: 'wmv', coding: [...bt601('yuv420p'), '-c:v', 'wmv2', '-q:v', '2'] },
  { name: 'Flash video', ending: 'flv', coding: [...bt601('yuv420p'), '-c:v', 'flv1', '-q:v', '2'] },
  { name: 'GIF', ending: 'gif', coding: ['-c:v', 'gif'] },
  { name: 'animated PNG', ending: 'apng', coding: ['-c:v', 'apng', '-plays', '0'] },
  { name: 'animated WebP', ending: 'webp', coding: ['-c:v', 'libwebp', '-quality', '95', '-loop', '0'], apart: true },
]
