import { mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { shown } from '#core/pixels/colour/hdr.ts'
import { planOf } from '../../server/conversion/plan.ts'
import { type Converter, findConverter, packagedConverter } from '../../server/conversion/programs.ts'
import { type Source, sourceOf } from '../../server/conversion/source.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { type Form, forms, makeForm, patches, readStrip, strip } from '../support/formats.ts'
import { root } from '../support/places.ts'
import { bringIn, converted } from './bringIn.ts'
import { damageRows } from './damaged.ts'
import { groupRows } from './groups.ts'
import { tenBitRows } from './tenBits.ts'

/** What became of a clip in one form. */
interface FormFigure {
  name: string
  /** As it is, or what it was made into. */
  becomes: string
  frames: number
  inOrder: boolean
  /** Milliseconds that a frame lies off its time at most. */
  timeOff: number
  /** Levels of 255 that patches are off: mean and worst. */
  off: number
  worst: number
  /** Why it did not come in. */
  refused: string
}

/** Makes every form, brings it in, and writes docs/formats.md from what came of it. */
export async function formats(): Promise<readonly FormFigure[]> {
  const [converter, packaged] = [await findConverter(), await packagedConverter()]
  if (!converter || converter.packaged || !packaged) throw new Error('Install ffmpeg to measure what it converts.')
  const folder = await mkdtemp(join(tmpdir(), 'wisp-forms-'))
  try {
    const [figures, others]: FormFigure[][] = [[], []]
    for (const form of forms.filter(({ apart }) => !apart)) {
      figures!.push(await figureOf(form, converter, folder))
      others!.push(await figureOf(form, packaged, folder))
    }
    const rows = figures!.map((figure, i) => rowOf(figure, others![i]!))
    const speed = await against(converter, packaged, folder)
    const damaged = await damageRows(converter, folder)
    const tenBits = await tenBitRows(converter, folder)
    const groups = groupRows(folder)
    await writeFile(join(root, 'docs/formats.md'), pageOf(rows, speed, damaged, tenBits, groups))
    rows.forEach((row) => console.log(row))
    console.log(speed)
    ;[...damaged, ...tenBits, ...groups].forEach((row) => console.log(row))
    return figures!
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}

async function figureOf(form: Form, converter: Converter, folder: string): Promise<FormFigure> {
  const file = join(folder, `${form.name.replace(/\W+/g, '-')}.${form.ending}`)
  makeForm(form, file)
  const blank = { name: form.name, frames: 0, inOrder: false, timeOff: 0, off: 0, worst: 0, becomes: '', refused: '' }
  try {
    const { made, facts, source } = await bringIn(converter, file, folder)
    const colours = expected(source)
    const seen = framesOf(made).map((pixels) => readStrip(pixels, 3))
    const offs = seen.flatMap((one) => one.colours.flatMap((c, i) => c.map((v, k) => Math.abs(v - colours[i]![k]!))))
    return {
      ...blank,
      becomes: !source
        ? 'as it is'
        : { avc: 'H.264', vp8: 'VP8 with alpha', vp9: 'VP9 with alpha' }[facts.codec as 'avc'],
      frames: facts.frames,
      inOrder: seen.length === strip.frames && seen.every(({ number }, f) => number === f),
      timeOff: 1000 * Math.max(...facts.times.map((t, f) => Math.abs(t - facts.times[0]! - f / strip.rate))),
      off: offs.reduce((a, b) => a + b, 0) / offs.length,
      worst: Math.max(...offs),
    }
  } catch (error) {
    return { ...blank, refused: (error as Error).message }
  }
}
/** What the patches ought to be: themselves, or what the formula says where their codes mean something brighter. */
const expected = (source: Source | null): [number, number, number][] =>
  patches.map((codes) =>
    source?.wide
      ? (shown(codes.map((v) => v / 255) as [number, number, number], source.transfer).map(
          (v) => 255 * v,
        ) as typeof codes)
      : codes,
  )

function framesOf(file: string): Buffer[] {
  const exact = 'scale=in_color_matrix=bt709:in_range=tv:flags=accurate_rnd+full_chroma_int'
  const all = ffmpeg(['-i', file, '-vf', exact, '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-fps_mode', 'passthrough', '-'])
  const size = 3 * strip.width * strip.height
  return Array.from({ length: all.length / size }, (_, f) => all.subarray(f * size, (f + 1) * size))
}

/** How long a phone's clip takes, against ffmpeg alone doing the same. */
async function against(converter: Converter, packaged: Converter, folder: string): Promise<string> {
  const file = join(folder, 'phone.mov')
  const drawn = ['-f', 'lavfi', '-i', 'testsrc2=s=1920x1080:r=30:d=5,noise=alls=6:allf=t', '-pix_fmt', 'yuv420p10le']
  ffmpeg([...drawn, '-c:v', 'libx265', '-preset', 'ultrafast', '-crf', '22', '-x265-params', 'log-level=error', file])
  const timed = async (work: () => unknown) => {
    const start = performance.now()
    await work()
    return (performance.now() - start) / 1000
  }
  const ours = await timed(async () => converted(converter, file, (await sourceOf(converter, file))!, folder))
  const plan = planOf((await sourceOf(converter, file))!, converter)
  const alone = await timed(() => ffmpeg(['-i', file, ...plan.args, join(folder, 'alone.mp4')]))
  const slow = await timed(async () => converted(packaged, file, (await sourceOf(packaged, file))!, folder))
  return `Five seconds of 1080p in HEVC with 10 bits: ${ours.toFixed(1)} s, ${(ours / alone).toFixed(2)} times what ffmpeg alone takes for the same. With the
converter that comes with Wisp Trail: ${slow.toFixed(0)} s, ${(slow / ours).toFixed(1)} times as long.`
}

function rowOf(figure: FormFigure, other: FormFigure): string {
  const { name, becomes, frames, timeOff, off, worst, refused } = figure
  const counted = ({ frames, inOrder }: FormFigure) =>
    `${frames} of ${strip.frames}${inOrder ? ', in order' : ', **wrong**'}`
  const colours = `${off.toFixed(2)}, ${worst.toFixed(1)}`
  const own = refused
    ? `refused: ${refused} | | |`
    : `${becomes} | ${counted(figure)} | ${timeOff.toFixed(2)} ms | ${colours}`
  const same = !other.refused && other.frames === frames && other.inOrder && Math.abs(other.off - off) < 0.05
  const packaged = same
    ? 'the same'
    : other.refused
      ? 'refused'
      : `${other.becomes}, ${counted(other)}, ${other.off.toFixed(2)}, ${other.worst.toFixed(1)}`
  return `| ${name} | ${own} | ${packaged} |`
}

const pageOf = (
  rows: readonly string[],
  speed: string,
  damaged: readonly string[],
  tenBits: readonly string[],
  groups: readonly string[],
): string => `# What comes in

Made by \`npm run measure -- formats\`. Each form is made by ffmpeg from one clip of ${strip.frames} frames, ${strip.width} x ${strip.height} pixels: patches of
known colours under a strip that tells the frame's number. Colours are compared with what they were, levels of 255; where the
codes mean HLG or PQ in BT.2020, with what ITU-R BT.2446-1, method A, makes of them (\`core/pixels/colour/hdr.ts\`).

| form | becomes | frames | times off, at most | colours off: mean, worst | with the packaged converter |
| --- | --- | --- | --- | --- | --- |
${rows.join('\n')}

${speed}

## Damaged

Each form once more: cut off after one to ten elevenths of its bytes, and with one bit in a thousand bytes turned over, ten times. What
of it can be shown comes in; all else is refused with a sentence. Nothing else may happen.

| form | cut off: comes in, refused | bits turned: comes in, refused | anything else | longest |
| --- | --- | --- | --- | --- |
${damaged.join('\n')}

## Ten bits

Is it worth keeping ten bits? A dusk sky of forty levels over 1280 pixels, in 10 bits, as it is and as it comes in with 8, each graded in linear
light and shown with 8 bits in the end: levels of 255 that it is off (root mean square), and its largest band.

| grain | graded | 10 bits kept | as it comes in |
| --- | --- | --- | --- |
${tenBits.join('\n')}

Under a halo, which is where bands are feared, both are within the one level that 8 bits show; only what is made several times as
bright shows more of them. So clips come in with 8 bits: H.264 that every step decodes at once.

## How long a group is

A step back decodes from the last frame that stands for itself. A second of 720p with grain, at 24 frames:

| frames of a group | size | time to make | a step back over its beginning |
| --- | --- | --- | --- |
${groups.join('\n')}

Twelve: half the wait of twenty-four, for a file that is a few per cent larger.

## What becomes of what

What the browser decodes truly comes in as it is: H.264, VP8, VP9 and AV1 with 8 bits and 4:2:0 in MP4, MOV, WebM and MKV, and PNG and
JPEG. Everything else that ffmpeg reads is converted by the server when it is dropped: to H.264 with a frame that stands for itself
every 12 frames, upright, square pixels, BT.709; with alpha to VP9; a picture alone (WebP, TIFF, BMP, AVIF) to PNG, and
a zip or a choice of numbered ones to a sequence of PNG. An animated WebP is taken apart by the browser. Every frame
keeps its time; odd sides become even ones, pixels square. What is interlaced, larger than 4096 x 2304, brighter than a usual screen shows or has several pictures is
asked about first, with what fits marked; bright light is seen as it would become. The file as it came in is kept until somebody
lets it go. OpenEXR, and a PNG whose gamma says so, hold light and are taken as such. Pictures of more than 8 bits keep them, and
OpenEXR its light above white: effects work with it, and only what is shown ends at white. OpenEXR of one part with red, green and blue
or grey comes in as it is, in lines or tiles; cropped, of several parts or with other channels it is made so first.

## The converter

\`ffmpeg\` on the path, or where FFMPEG says. Where there is none, \`@ffmpeg/core\` (GPL-2.0 or later, 32 MB), which is FFmpeg compiled to
WebAssembly, run as a program of its own: one package for every system, the same arguments, and whatever a file makes it do it sees
its own folder and that file alone. It has no decoder of AV1, and works on one core. Looked at and not taken: \`node-av\` (FFmpeg 8 as
native code, 175 MB for each system, another interface for the same work, and its code within Node's process), the
binaries of \`@ffmpeg-installer\` (of 2018, which is no age for what reads files of strangers), \`@libav.js\` (the published variants that were looked at
hold no encoder of H.264).
`
