import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { flatten } from '#core/geometry/path.ts'
import { boundsOf, unite } from '#core/geometry/rect.ts'
import { coverPolygon } from '#core/matte/coverage.ts'
import { anchors, type PartKind } from '#core/shapes/kind.ts'
import { outline } from '#core/shapes/kinds/outline.ts'
import { rod } from '#core/shapes/kinds/rod.ts'
import type { Backdrops } from '#core/tracking/backdrops.ts'
import { follow as followTask, type FollowedFrame, type HandKey } from '#core/tracking/follow.ts'
import type { FollowPicture } from '#core/tracking/frame.ts'
import { outlineNodes } from '../scenes/paint.ts'
import { framesOf } from '../support/frames.ts'
import { backdropsOf, unwatched } from '../support/unwatched.ts'
import { performance as performanceOf } from './footage.ts'
import { drawnPerformer, painted, type PaintedFigure, performers, printPainted } from './painted.ts'

export interface Figure {
  what: string
  /** Errors in px of the worst point of a frame: median, 95th percentile, largest. */
  median: number
  p95: number
  worst: number
  /** Share of the frames within 3 and within 5 px. */
  within3: number
  within5: number
  /** Of the frames wrong by more than 5 and by more than 10 px, those that were marked unsure. */
  wrong5: string
  wrong10: string
  /** Right frames that were marked all the same. */
  marked: number
  /** Keys until every frame lies within 3 px, each the truth at the worst frame; the first one counts. */
  keys: number | string
  /** Median intersection over union, of outlines. */
  overlap?: number
  ms: number
}

/** Something to follow: a part's kind, its settings, and its points on every frame as they are known. */
export interface Subject {
  what: string
  kind: PartKind
  settings: Record<string, number>
  truth: (readonly number[] | null)[]
  /** Frames with a hand key at the start. */
  keys: number[]
  corrects: boolean
}

const unsure = 0.5
const mostKeys = 10

/** Follows what is known of drawn performances that the followers have not seen, and says how far off they were. */
export async function follow(seed: number): Promise<(Figure | PaintedFigure)[]> {
  const folder = await mkdtemp(join(tmpdir(), 'wisp-follow-'))
  try {
    const figures: Figure[] = []
    const swing = performanceOf('jetty-swing', seed, folder)
    figures.push(
      ...(await measured(swing.file, [
        pole('swing, one key', swing.truth.rods[0]!, [0], true),
        pole('swing, backwards from the last frame', swing.truth.rods[0]!, [swing.truth.frames - 1], false),
      ])),
    )
    const mask = performanceOf('heron-mask', seed, folder)
    const eyes = mask.truth.outlines.filter(({ name }) => /eye|beak|brow/.test(name))
    figures.push(
      ...(await measured(
        mask.file,
        eyes.map((one) => shape(one.name, one.points, [0])),
      )),
    )
    const hard = performanceOf('two-poles', seed, join(folder, 'hard'), 2)
    figures.push(
      ...(await measured(
        hard.file,
        hard.truth.rods.map((one) =>
          pole(`two poles, doubled noise and blur, a key every 24: ${one.name}`, one, [0, 24, 48, 71], false),
        ),
      )),
    )
    print(figures)
    const paintings: PaintedFigure[] = []
    for (const [scene, performer] of Object.entries(performers)) {
      const { file, truth } = performanceOf(scene, seed, folder)
      paintings.push(...(await painted(drawnPerformer(file, truth, performer))))
    }
    printPainted(paintings)
    return [...figures, ...paintings]
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}

const pole = (
  what: string,
  { width, points }: { width: number; points: number[][] },
  keys: number[],
  corrects: boolean,
): Subject => ({
  ...{ what, kind: rod, settings: { widthHeel: width, widthTip: width }, truth: points, keys, corrects },
})
const shape = (what: string, points: number[][], keys: number[]): Subject => ({
  ...{ what, kind: outline, settings: {}, keys, corrects: true },
  truth: points.map((one) => (one.length ? (outlineNodes(one) as number[]) : null)),
})

export async function measured(file: string, subjects: readonly Subject[]): Promise<Figure[]> {
  const frames = framesOf(file, 1280, 720)
  const backdrops = backdropsOf(frames)
  const out: Figure[] = []
  for (const subject of subjects) out.push(await figureOf(subject, frames, backdrops))
  return out
}

async function figureOf(subject: Subject, frames: FollowPicture[], backdrops: Backdrops): Promise<Figure> {
  const { kind, settings, truth } = subject
  const keys: HandKey[] = subject.keys.map((frame) => ({ frame, points: truth[frame]! }))
  const track = new Map<number, FollowedFrame>()
  const run = (from: number, to: number) =>
    followTask({
      ...unwatched(frames, backdrops),
      ...{ kind, settings, keys, from, to },
      earlier: (frame) => track.get(frame)?.points ?? null,
    })
  const before = process.cpuUsage().user
  const first = (await run(0, frames.length - 1)).frames
  const ms = (process.cpuUsage().user - before) / 1000 / first.length
  for (const one of first) track.set(one.frame, one)
  const off = (frame: number): number => {
    const [own, known] = [track.get(frame)?.points, truth[frame]]
    if (!known || keys.some((key) => key.frame === frame)) return 0
    return own ? apart(kind, own, known) : Infinity
  }
  const all = truth.flatMap((known, frame) => (known && !subject.keys.includes(frame) ? [frame] : []))
  const errors = all.map(off).sort((a, b) => a - b)
  const marked = (frame: number) => (track.get(frame)?.confidence ?? 0) < unsure
  const wrong = (more: number) => all.filter((frame) => off(frame) > more)
  const figure: Figure = {
    what: subject.what,
    median: errors[errors.length >> 1]!,
    p95: errors[Math.floor(0.95 * errors.length)]!,
    worst: errors.at(-1)!,
    within3: errors.filter((v) => v <= 3).length / errors.length,
    within5: errors.filter((v) => v <= 5).length / errors.length,
    wrong5: `${wrong(5).filter(marked).length} of ${wrong(5).length}`,
    wrong10: `${wrong(10).filter(marked).length} of ${wrong(10).length}`,
    marked: all.filter((frame) => off(frame) <= 5 && marked(frame)).length,
    keys: '',
    ms,
  }
  if (kind !== rod) {
    const overlaps = all.flatMap((frame) => {
      const own = track.get(frame)
      return own ? [overlap(kind, own.points, truth[frame]!)] : [0]
    })
    figure.overlap = overlaps.sort((a, b) => a - b)[overlaps.length >> 1]!
  }
  if (subject.corrects) figure.keys = await correctedUntilRight()
  return figure

  async function correctedUntilRight(): Promise<number | string> {
    for (;;) {
      const worst = all.reduce((a, b) => (off(b) > off(a) ? b : a))
      if (off(worst) <= 3) return keys.length
      if (keys.length === mostKeys) return `over ${mostKeys}`
      keys.push({ frame: worst, points: truth[worst]! })
      keys.sort((a, b) => a.frame - b.frame)
      track.delete(worst)
      const at = keys.findIndex((key) => key.frame === worst)
      const from = (keys[at - 1]?.frame ?? -1) + 1
      const to = (keys[at + 1]?.frame ?? frames.length) - 1
      const free = Array.from({ length: to - from + 1 }, (_, i) => from + i).some((frame) => frame !== worst)
      if (!free) continue
      for (const one of (await run(from, to)).frames) track.set(one.frame, one)
    }
  }
}

function apart(kind: PartKind, a: readonly number[], b: readonly number[]): number {
  return Math.max(...anchors(kind, b).map((i) => Math.hypot(a[2 * i]! - b[2 * i]!, a[2 * i + 1]! - b[2 * i + 1]!)))
}

function overlap(kind: PartKind, a: readonly number[], b: readonly number[]): number {
  const polygons = [a, b].map((points) => flatten(kind.path(points, {}), 0.1))
  const region = unite(boundsOf(polygons[0]!, 1), boundsOf(polygons[1]!, 1))
  const covers = polygons.map((polygon) => {
    const out = new Float32Array(region.width * region.height)
    coverPolygon(
      polygon.map((v, i) => v - (i % 2 ? region.y : region.x)),
      { ...region, x: 0, y: 0 },
      out,
    )
    return out
  })
  let [both, either] = [0, 0]
  for (let i = 0; i < covers[0]!.length; i++) {
    both += Math.min(covers[0]![i]!, covers[1]![i]!)
    either += Math.max(covers[0]![i]!, covers[1]![i]!)
  }
  return either ? both / either : 1
}

export function print(figures: readonly Figure[]): void {
  for (const one of figures) {
    const px = (v: number) => (Number.isFinite(v) ? v.toFixed(1) : 'lost')
    console.log(`${one.what}`)
    console.log(
      `  median ${px(one.median)} px, 95 % ${px(one.p95)}, worst ${px(one.worst)}; within 3 px ${(100 * one.within3).toFixed(0)} %, 5 px ${(100 * one.within5).toFixed(0)} %` +
        (one.overlap === undefined ? '' : `; overlap ${one.overlap.toFixed(3)}`),
    )
    console.log(
      `  wrong by 5 px marked ${one.wrong5}, by 10 px ${one.wrong10}; right but marked ${one.marked}; ` +
        (one.keys === '' ? '' : `keys until all within 3 px: ${one.keys}; `) +
        `${one.ms.toFixed(0)} ms a frame`,
    )
  }
}
