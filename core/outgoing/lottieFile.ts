import type { Scene } from '../render/scene.ts'
import { contoursOf } from '../pixels/filters/contour.ts'
import { partKind } from '../shapes/registry.ts'
import type { TracedPart } from '../shapes/traced.ts'
import type { SvgOrder } from './svgFile.ts'

/*
 * Traced shapes as a Lottie animation (Lottie Animation Community, Lottie specification 1.0): white where somebody is, a shape layer for
 * what adds, a mask on it for what cuts or limits. Between two keys its paths go straight, so that a key stands wherever a straight way
 * would leave the traced one.
 */

/** Frames from one key to the next, at the most. */
const longest = 240
/** Pixels by which a path may be off the traced one on any frame. */
const tolerance = 0.05

/** A closed path of cubics, as the specification has it: places, and tangents that count from them. */
interface Bezier {
  c: true
  v: [number, number][]
  i: [number, number][]
  o: [number, number][]
}
/** What is animated holds a list of keys; what stands still, its value. */
type Animated<T> = { a: 0; k: T } | { a: 1; k: { t: number; s: T[]; h?: 1; i?: Handle; o?: Handle }[] }
interface Handle {
  x: number[]
  y: number[]
}

export function lottieFile(scene: Scene, order: SvgOrder): string {
  const { from, to, width, height, rate } = order
  const length = to - from + 1
  const layers: object[] = []
  for (const { id, name } of order.members) {
    const own: { parts: TracedPart[]; masks: object[] }[] = []
    for (const part of scene.partsOf(id)) {
      if (part.kind === 'pin' || part.kind === 'point') continue
      if (part.role !== 'add') {
        // It works on all that came before it, and on nothing that comes later.
        for (const layer of own) layer.masks.push(...masksOf(part, order))
        own.push({ parts: [], masks: [] })
      } else {
        if (!own.length) own.push({ parts: [], masks: [] })
        own.at(-1)!.parts.push(part)
      }
    }
    for (const { parts, masks } of own)
      if (parts.length)
        layers.push({
          ...{ ddd: 0, ind: layers.length + 1, ty: 4, nm: name, sr: 1, ip: 0, op: length, st: 0, bm: 0, ks: still },
          ...(masks.length ? { hasMask: true, masksProperties: masks } : {}),
          shapes: parts.map((part) => groupOf(part, order)),
        })
  }
  return `${JSON.stringify({
    ...{
      v: '5.7.0',
      fr: rate,
      ip: 0,
      op: length,
      w: width,
      h: height,
      nm: scene.shot.name,
      ddd: 0,
      assets: [],
      layers,
    },
  })}\n`
}

const fixed = <T>(k: T): Animated<T> => ({ a: 0, k })
/** A layer that lies where it is. */
const still = { o: fixed(100), r: fixed(0), p: fixed([0, 0, 0]), a: fixed([0, 0, 0]), s: fixed([100, 100, 100]) }

/** A part's paths with their white; clear while it is away. */
function groupOf(part: TracedPart, order: SvgOrder): object {
  const { paths, seen } = animated(part, order)
  return {
    ...{ ty: 'gr', nm: part.kind, bm: 0 },
    it: [
      ...paths.map((ks) => ({ ty: 'sh', ks })),
      { ty: 'fl', c: fixed([1, 1, 1, 1]), o: fixed(100), r: 2 },
      { ty: 'tr', p: fixed([0, 0]), a: fixed([0, 0]), s: fixed([100, 100]), r: fixed(0), o: seen },
    ],
  }
}

function masksOf(part: TracedPart, order: SvgOrder): object[] {
  const { paths, seen } = animated(part, order)
  const cuts = part.role === 'cut'
  // To limit is to cut all that lies outside.
  return (cuts ? paths : paths.slice(0, 1)).map((pt) => ({ inv: !cuts, mode: 's', pt, o: seen, x: fixed(0) }))
}

/** A path of no area, for a part that is away. */
const nowhere: Bezier = { c: true, v: [[0, 0]], i: [[0, 0]], o: [[0, 0]] }

/** A part's closed lines over all frames, and whether it is there. */
function animated(
  part: TracedPart,
  { from, to, step }: SvgOrder,
): { paths: Animated<Bezier | Bezier[]>[]; seen: Animated<number> } {
  const frames = Array.from({ length: to - from + 1 }, (_, i) => (step?.(), pathsAt(part, from + i)))
  const most = Math.max(1, ...frames.map((paths) => paths.length))
  const there = frames.map((paths) => (paths.length ? 100 : 0))
  const lines = Array.from({ length: most }, (_, i) => frames.map((paths) => paths[i] ?? null))
  return {
    paths: lines.map((line) => keyed(line) as Animated<Bezier | Bezier[]>),
    seen: there.every((v) => v === there[0])
      ? fixed(there[0]!)
      : {
          a: 1,
          k: there.flatMap((v, t) =>
            t === 0 || v !== there[t - 1] ? [{ t, s: [v] as unknown as number[], h: 1 as const }] : [],
          ),
        },
  }
}

function pathsAt(part: TracedPart, frame: number): Bezier[] {
  if (part.raster) {
    const raster = part.raster(frame)
    return raster ? contoursOf(raster).map(ofPolygon) : []
  }
  const points = part.at(frame)
  const path = points && partKind(part.kind).path(points, part.settings)
  return path?.length ? [ofCubics(path)] : []
}

const pair = (list: ArrayLike<number>, i: number): [number, number] => [list[2 * i]!, list[2 * i + 1]!]
const minus = (a: [number, number], b: [number, number]): [number, number] => [a[0] - b[0], a[1] - b[1]]

function ofPolygon(points: readonly number[]): Bezier {
  const v = Array.from({ length: points.length / 2 }, (_, i) => pair(points, i))
  const none = v.map((): [number, number] => [0, 0])
  return { c: true, v, i: none, o: none }
}

/** From a start and cubics (control, control, end) that close on it. */
function ofCubics(path: readonly number[]): Bezier {
  const count = (path.length - 2) / 6
  const v = Array.from({ length: count }, (_, n) => (n === 0 ? pair(path, 0) : pair(path, 3 * n)))
  return {
    ...{ c: true, v },
    o: v.map((place, n) => minus(pair(path, 3 * n + 1), place)),
    // The tangent into a place belongs to the curve before it.
    i: v.map((place, n) => minus(pair(path, 3 * (n || count) - 1), place)),
  }
}

/** All numbers of a path in one list, as absolute places: what goes straight between two keys. */
const flat = ({ v, i, o }: Bezier): number[] =>
  v.flatMap((place, n) => [
    ...place,
    place[0] + i[n]![0],
    place[1] + i[n]![1],
    place[0] + o[n]![0],
    place[1] + o[n]![1],
  ])

const straight = { o: { x: [1 / 3], y: [1 / 3] }, i: { x: [2 / 3], y: [2 / 3] } }

/** Paths on every frame as few keys: what a straight way gives within the tolerance needs none. Frames without one hold what was before. */
function keyed(line: readonly (Bezier | null)[]): Animated<Bezier | Bezier[]> {
  const first = line.find((one) => one) ?? nowhere
  const whole = line.map((_, t) => line.slice(0, t + 1).findLast((one) => one) ?? first)
  const numbers = whole.map(flat)
  if (numbers.every((list) => isNear(list, numbers[0]!))) return fixed(rounded(whole[0]!))
  const keys: { t: number; s: Bezier[]; h?: 1; i?: Handle; o?: Handle }[] = []
  for (let t = 0; t < whole.length;) {
    const end = straightUntil(numbers, line, t)
    const s = [rounded(whole[t]!)]
    // A path of other places can only be taken up at once.
    keys.push(end > t ? { t, s, ...straight } : { t, s, h: 1 })
    t = end > t ? end : t + 1
    if (t === whole.length - 1) {
      keys.push({ t, s: [rounded(whole[t]!)], h: 1 })
      break
    }
  }
  return { a: 1, k: keys }
}

/** The last frame to which a straight way from frame `t` is near all in between; `t` itself where the next path is of other places. */
function straightUntil(numbers: readonly number[][], line: readonly (Bezier | null)[], t: number): number {
  let end = t
  for (let to = t + 1; to < Math.min(numbers.length, t + longest); to++) {
    if (numbers[to]!.length !== numbers[t]!.length || Boolean(line[to]) !== Boolean(line[t])) break
    const between = numbers.slice(t + 1, to)
    const well = between.every((list, n) => {
      const u = (n + 1) / (to - t)
      return isNear(
        list,
        numbers[t]!.map((v, k) => v + (numbers[to]![k]! - v) * u),
      )
    })
    if (!well) break
    end = to
  }
  return end
}
const isNear = (a: readonly number[], b: readonly number[]): boolean =>
  a.length === b.length && a.every((v, k) => Math.abs(v - b[k]!) <= tolerance)

const rounded = ({ c, v, i, o }: Bezier): Bezier => {
  const round = (list: [number, number][]) =>
    list.map(([x, y]): [number, number] => [Math.round(x * 100) / 100, Math.round(y * 100) / 100])
  return { c, v: round(v), i: round(i), o: round(o) }
}
