/** npm run bench -- --profile: where the time of a frame goes, from its clip to a file, for docs/speed.md. */
import { spawnSync } from 'node:child_process'
import { writeFileSync } from 'node:fs'
import { cpus } from 'node:os'
import { join } from 'node:path'
import { format } from 'prettier'
import { Scratch, withRoom } from '#core/pixels/buffers/scratch.ts'
import { i420Layout, type Yuv } from '#core/pixels/buffers/yuv.ts'
import { startKernels } from '#core/pixels/kernels/engine.ts'
import { Records } from '#core/records/records.ts'
import { clipPlace } from '#core/records/timing.ts'
import { shotLength } from '#core/records/types.ts'
import { picturesNeeded } from '#core/render/frame.ts'
import { Painter } from '#core/render/painter.ts'
import { sceneOf } from '#core/render/scene.ts'
import { demoRecords } from '../demo/demoRecords.ts'
import { ffmpeg, ffmpegProgram } from '../support/ffmpeg.ts'
import { demoMedia, root } from '../support/places.ts'
import { enlarged, shots, sizes } from './enlarged.ts'
import { clipName, inBrowser, openEnlarged } from './inBrowser.ts'
import type { PageBench } from './page.ts'

/** Shots whose export is measured at those sizes, too. */
const enlargedShots: readonly string[] = ['jetty-swing', 'two-poles']

interface Drawn {
  /** Milliseconds a frame of each stage. */
  stages: Map<string, number>
  /** Milliseconds of each frame. */
  frames: Map<number, number>
  /** Bytes that it is drawn in. */
  held: number
}

/** The drawing of a demo shot at full size, on one thread. */
function drawn(name: string, { k, every }: (typeof sizes)[number]): Drawn {
  const [width, height] = [1280 * k, 720 * k]
  const records = k === 1 ? demoRecords().records : enlarged(demoRecords().records, k)
  const all = new Records(records)
  const scene = { ...sceneOf(all, `shot-${name}`)!, plate: null }
  const clip = join(demoMedia, clipName(name))
  const { bytes, planes } = i420Layout(width, height)
  /** A place in the clip; few of them are kept at once. */
  const read = new Map<number, Yuv>()
  const own = (at: number): Yuv => {
    const frame = Math.floor(clipPlace(scene.shot, at).frame)
    const known = read.get(frame)
    if (known) return known
    const filter = `select=eq(n\\,${frame}),scale=${width}:${height}`
    const raw = ffmpeg([
      ...['-i', clip, '-vf', filter, '-frames:v', '1'],
      ...['-pix_fmt', 'yuv420p', '-f', 'rawvideo', '-'],
    ])
    const yuv: Yuv = {
      ...{ data: new Uint8Array(raw.buffer, raw.byteOffset, bytes), width, height, planes },
      ...{ matrix: 'bt709', range: 'limited', rotation: 0 },
    }
    read.set(frame, yuv)
    return yuv
  }
  const scratch = new Scratch(startKernels())
  const painter = new Painter(scratch)
  const stages = new Map<string, number>()
  const frames = new Map<number, number>()
  /** Stands in for a picture of another clip. */
  const grey = (media: string): Yuv => {
    const known = all.get('media', media)
    const size = known ? { width: known.width, height: known.height } : { width, height }
    const layout = i420Layout(size.width, size.height)
    return { ...own(0), ...size, data: new Uint8Array(layout.bytes).fill(128), planes: layout.planes }
  }
  const order = { content: 'over', of: [], size: { width, height }, reduce: 1 } as const
  let count = 0
  for (let frame = 0; frame < shotLength(scene.shot); frame += every) {
    const yuv = own(frame)
    const others = picturesNeeded(scene, frame).map((need) => ({
      ...need,
      yuv: need.media ? grey(need.media) : own(need.frame),
    }))
    const began = performance.now()
    let last = began
    const lap = (stage: string) => {
      const now = performance.now()
      // The first frame pays for what is made once.
      if (frame) stages.set(stage, (stages.get(stage) ?? 0) + now - last)
      last = performance.now()
    }
    withRoom(() => painter.forVideo(scene, { ...order, frame }, false, yuv, others, lap))
    if (frame) count++
    if (frame) frames.set(frame, performance.now() - began)
    read.clear()
  }
  for (const [stage, ms] of stages) stages.set(stage, ms / count)
  return { stages, frames, held: scratch.held }
}

interface Exported {
  /** Milliseconds a frame of decoding alone, of the encoder alone on ready frames, and of a whole export. */
  decoded: number
  encoded: number
  exported: number
  /** Milliseconds until the first frame of an export was written, and of the one after it. */
  first: number
  again: number
}

/** What is measured of a shot's export in the browser, by its name and its size. */
const inPage = () =>
  inBrowser(async (page, address, project, folder) => {
    const all = new Records(demoRecords().records)
    const measured = async (shot: string, large: string): Promise<Exported> => {
      const count = shotLength(all.get('shot', `shot-${shot}`)!)
      await page.goto(address)
      await page.addScriptTag({ type: 'module', url: '/bench.js' })
      await page.waitForFunction('window.bench')
      const order = [`shot-${shot}`, project, count, large] as const
      const alone = async (what: 'decoded' | 'encoded') =>
        (await page.evaluate(
          ([name, id, own, frames, instead]) =>
            (window as unknown as { bench: PageBench }).bench[name](own, id, [0, frames], instead),
          [what, ...order] as const,
        )) / count
      const exported = () =>
        page.evaluate(
          ([id, own, frames, instead]) =>
            (window as unknown as { bench: PageBench }).bench.exportedInParts(own, id, [0, frames], instead),
          order,
        )
      const [decoded, encoded] = [await alone('decoded'), await alone('encoded')]
      const [{ first }, second] = [await exported(), await exported()]
      return { decoded, encoded, first, again: second.first, exported: second.rest / (count - 1) }
    }
    const out = new Map<string, Exported>()
    for (const shot of shots) out.set(`${shot} 720p`, await measured(shot, ''))
    for (const shot of enlargedShots)
      for (const { name, k } of sizes.slice(1)) {
        const project = await openEnlarged(page, address, folder, clipName(shot), 720 * k)
        out.set(`${shot} ${name}`, await measured(shot, project))
      }
    return out
  })

/**
 * Milliseconds a frame of an export at the least, where so many cores do nothing else: decoding and encoding go on by themselves,
 * and as many renderers draw as there are cores, at most as many as a page begins.
 */
const atBest = (cores: number, { decoded, drawing, encoded }: Record<'decoded' | 'drawing' | 'encoded', number>) =>
  Math.max(decoded, encoded, drawing / Math.min(cores, mostRenderers), (decoded + drawing + encoded) / cores)
const mostRenderers = 4

/** What this machine is, for whoever compares. */
const machine = () => {
  const [first] = cpus()
  const [version] = String(spawnSync(ffmpegProgram, ['-version']).stdout).split(' Copyright')
  return `${cpus().length} cores (${first!.model.trim()}), Node ${process.versions.node}, ${version}`
}

export async function profile(): Promise<void> {
  const page = await inPage()
  const lines = [
    '# Where the time of a frame goes',
    '',
    'Made by `npm run bench -- --profile`: milliseconds a frame at 1280 x 720. Drawing is measured on one thread over every',
    'fourth frame, with the shot’s own pictures; decoding and encoding alone in the browser over all of them. Of an export of',
    'them to H.264 stands what a frame takes once the first is written, and how many milliseconds that one takes: the first',
    'time, and in the second file. What 1, 2, 4 and 8 such cores would take at the least is reckoned from the stages: decoding and',
    'encoding beside each other, up to four renderers, nothing lost in handing over.',
    '',
    'The second table of a shot: drawing alone of every 24th frame of the shot enlarged to what phones film, its clips enlarged',
    'with it; what a pixel costs beside one at 720p, and the memory that one renderer draws in. Of two shots also their whole',
    'exports at those sizes: a frame of it, and its share of what is reckoned for the cores here.',
    '',
    `On ${machine()}.`,
    '',
  ]
  for (const shot of shots) {
    const bySize = sizes.map((size) => drawn(shot, size))
    // Cards come and go: sizes are compared by the same frames.
    const common = [...bySize.at(-1)!.frames.keys()]
    const wholes = bySize.map(
      ({ frames }) => common.reduce((all, frame) => all + frames.get(frame)!, 0) / common.length,
    )
    const stages = [...bySize[0]!.stages].sort((a, b) => b[1] - a[1])
    const { decoded, encoded, exported, first, again } = page.get(`${shot} 720p`)!
    const drawing = stages.reduce((all, [, ms]) => all + ms, 0)
    const reckoned = (cores: number) => atBest(cores, { decoded, drawing, encoded })
    const rows: (readonly [string, number])[] = [
      ['decoding', decoded],
      ...stages,
      ['encoding', encoded],
      ['**together**', decoded + drawing + encoded],
      ...[1, 2, 4, 8].map(
        (cores) => [`reckoned for ${cores} ${cores > 1 ? 'cores' : 'core'}`, reckoned(cores)] as const,
      ),
      ['**a frame of an export**', exported],
      ['its first frame', first],
      ['its first frame, second file', again],
    ]
    lines.push(`## ${shot}`, '', '| stage | ms |', '|---|---:|')
    for (const [stage, ms] of rows) lines.push(`| ${stage} | ${ms.toFixed(1)} |`)
    const share = (exported / reckoned(cpus().length)).toFixed(2)
    lines.push('', `The export takes ${share} times what is reckoned for the ${cpus().length} cores here.`)
    lines.push('', '| drawn at | ms | a pixel, beside 720p | MB | exported | of what is reckoned |')
    lines.push('|---|---:|---:|---:|---:|---:|')
    for (const [i, { name, k }] of sizes.entries()) {
      const share = wholes[i]! / wholes[0]! / k ** 2
      const large = page.get(`${shot} ${name}`)
      const own = [...bySize[i]!.stages.values()].reduce((all, ms) => all + ms, 0)
      const best = large && atBest(cpus().length, { ...large, drawing: own })
      const whole = large ? `${large.exported.toFixed(0)} | ${(large.exported / best!).toFixed(2)}` : ' | '
      const held = (bySize[i]!.held / 1024 ** 2).toFixed(0)
      lines.push(`| ${name} | ${wholes[i]!.toFixed(0)} | ${share.toFixed(2)} | ${held} | ${whole} |`)
    }
    lines.push('')
  }
  const text = await format(lines.join('\n'), { parser: 'markdown', printWidth: 120 })
  console.log(text)
  writeFileSync(join(root, 'docs/speed.md'), text)
}
