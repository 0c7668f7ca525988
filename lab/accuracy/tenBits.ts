import { join } from 'node:path'
import { toEncoded, toLinear } from '#core/pixels/colour/transfer.ts'
import type { Converter } from '../../server/conversion/programs.ts'
import { Chance } from '../support/chance.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { bringIn } from './bringIn.ts'

/** A dusk sky: forty levels of 255 from its left to its right. */
const sky = { width: 1280, height: 720, frames: 4 }
const meant = (x: number) => (30 + (40 * x) / sky.width) / 255
/** What is done to its light: a wide halo is laid over it, or it is made four times as bright. */
const grades: [string, (light: number, x: number) => number][] = [
  ['under a halo', (light, x) => light + 0.12 * Math.exp(-(((x - 640) / 300) ** 2))],
  ['two stops brighter', (light) => 4 * light],
]
/** Levels of 255 by which the grain of its camera is off (standard deviation). */
const grains = [0, 0.5, 1.5]

/**
 * Whether ten bits are worth keeping: a slope of light in 10 bits, as it is and as it comes in with 8, each with a grade, in the 8 bits
 * that are shown in the end. Rows of a table: how far off (root mean square over columns, each the mean of its pixels, as an eye
 * takes them) and the largest step from one column to the next that is not meant, levels of 255.
 */
export async function tenBitRows(converter: Converter, folder: string): Promise<string[]> {
  const rows: string[] = []
  for (const grain of grains) {
    const { width, height, frames } = sky
    const chance = new Chance(5)
    const off = () => 1.73 * grain * (chance.between(-1, 1) + chance.between(-1, 1)) * Math.SQRT1_2
    const pixels = width * height
    const raw = new Uint16Array(1.5 * pixels * frames).fill(512)
    for (let f = 0; f < frames; f++)
      for (let i = 0; i < pixels; i++)
        raw[1.5 * pixels * f + i] = Math.round(64 + 876 * (meant(i % width) + off() / 255))
    const file = join(folder, `sky-${grain}.mkv`)
    const tags = ['-colorspace', 'bt709', '-color_range', 'tv', '-color_primaries', 'bt709', '-color_trc', 'bt709']
    const input = ['-f', 'rawvideo', '-pix_fmt', 'yuv420p10le', '-s', `${width}x${height}`, '-r', '25', '-i', '-']
    ffmpeg([...input, '-c:v', 'ffv1', ...tags, file], new Uint8Array(raw.buffer))
    const { made } = await bringIn(converter, file, folder)
    const luma = ffmpeg(['-i', made, '-f', 'rawvideo', '-pix_fmt', 'gray', '-vf', 'extractplanes=y', '-'])
    const ten = (i: number) => (raw[1.5 * pixels + i]! - 64) / 876
    const eight = (i: number) => (luma[pixels + i]! - 16) / 219
    for (const [name, grade] of grades) {
      const cells = [ten, eight].map((at) => seen(at, grade))
      rows.push(`| ${grain} | ${name} | ${cells.join(' | ')} |`)
    }
  }
  return rows
}

function seen(at: (i: number) => number, grade: (light: number, x: number) => number): string {
  const { width, height } = sky
  const shown = (code: number, x: number) => 255 * Math.min(1, toEncoded(grade(toLinear(Math.max(0, code)), x)))
  const off = Array.from({ length: width }, (_, x) => {
    let sum = 0
    for (let y = 0; y < height; y++) sum += Math.round(shown(at(y * width + x), x))
    return sum / height - shown(meant(x), x)
  })
  const rms = Math.sqrt(off.reduce((sum, v) => sum + v * v, 0) / width)
  // Three columns against the next three: narrower ones are no band.
  const three = (x: number) => (off[x]! + off[x + 1]! + off[x + 2]!) / 3
  const step = Math.max(...off.slice(6).map((_, x) => Math.abs(three(x + 3) - three(x))))
  return `${rms.toFixed(2)}, ${step.toFixed(2)}`
}
