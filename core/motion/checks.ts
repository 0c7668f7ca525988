import { say } from '../say.ts'
import { flatten } from '../geometry/path.ts'
import { boundsOf, intersect, isEmpty } from '../geometry/rect.ts'
import type { Effect, Part } from '../records/types.ts'
import { anchors, type PartKind } from '../shapes/kind.ts'
import { crossesItself } from '../shapes/outlineEdit.ts'
import { cellAt, isAway, stretchesOf, type Track } from '../shapes/track.ts'
import { measure } from './measures.ts'

/** 'outside' and 'unseen': where the part may be away. */
export type FindingKind =
  'gap' | 'jump' | 'size' | 'chatter' | 'crossing' | 'edge' | 'unkeyed' | 'hard' | 'unsure' | 'outside' | 'unseen'

/** Something worth a look. */
export interface Finding {
  kind: FindingKind
  part: string
  /** First and last frame it is about. */
  frame: number
  to: number
  /** What is wrong, in a few words, without the part's name. */
  text: string
}

/** A part as the checks see it. */
export interface CheckedPart {
  part: Pick<Part, 'id' | 'name' | 'settings' | 'hold'>
  kind: PartKind
  track: Track
  /** Shape in the picture on every frame of the shot; null where it is not there. */
  shapes: readonly (readonly number[] | null)[]
  /** Frames where the edge has left what it was traced on, judged by the picture; empty while that is not known. */
  offEdge: readonly number[]
}

/** Confidence below which a followed frame is worth a look, unless the user says otherwise. */
export const usuallyUnsure = 0.5

/** Frames in a row on which a part is out of the picture, or shows nowhere, before it may be away. */
const awayFrom = 3

/**
 * Everything that is worth a look in a shot, in the order of its frames. `plate`: its size in pixels; `unsure`: see
 * {@link usuallyUnsure}.
 */
export function findings(
  parts: readonly CheckedPart[],
  effects: readonly Effect[],
  plate: { width: number; height: number },
  unsure = usuallyUnsure,
): Finding[] {
  const covers = new Set(effects.filter((effect) => effect.on).flatMap((effect) => effect.behind))
  return parts
    .flatMap((one) => {
      if (one.track.keys.length === 0)
        return [{ kind: 'unkeyed' as const, part: one.part.id, frame: 0, to: 0, text: say`was never keyed` }]
      return [
        ...gaps(one),
        // Pixels have no points that could slip; the oval that stands for them says little.
        ...(one.kind.pixels ? [] : [...jumps(one), ...sizes(one), ...chatter(one), ...crossings(one)]),
        ...outside(one, plate),
        ...unseen(one).map(({ from, to }) => finding(one, 'unseen', from, to, say`shows nowhere`)),
        ...unsurely(one, unsure).map(({ from, to }) =>
          finding(
            one,
            'unsure',
            from,
            to,
            one.kind.pixels ? say`was carried, but not surely` : say`was followed, but not surely`,
          ),
        ),
        ...stretchesOf(one.offEdge).map(({ from, to }) => finding(one, 'edge', from, to, say`leaves its edge`)),
        ...(covers.has(one.part.id) && Number(one.part.settings.feather ?? 0) === 0
          ? [
              finding(
                one,
                'hard',
                one.track.keys[0]!.frame,
                one.track.keys[0]!.frame,
                say`covers light with a hard edge`,
              ),
            ]
          : []),
      ]
    })
    .sort((a, b) => a.frame - b.frame)
}

/** Frames on which nothing of the shape lies within the picture. */
function outside(one: CheckedPart, { width, height }: { width: number; height: number }): Finding[] {
  const picture = { x: 0, y: 0, width, height }
  const out = one.shapes.flatMap((shape, frame) => {
    if (!shape) return []
    const edge = flatten(one.kind.path(shape, one.part.settings), 1)
    return isEmpty(intersect(boundsOf(edge), picture)) ? [frame] : []
  })
  return stretchesOf(out)
    .filter(isLong)
    .map(({ from, to }) => finding(one, 'outside', from, to, say`is out of the picture`))
}

/** Keys in a row on which a follower found nothing of the part. */
function unseen({ track }: CheckedPart): Stretch[] {
  return stretches(track.keys, (key) => key.followed === 0 && !isAway(track, key.frame)).filter(isLong)
}

/** Keys in a row that are less sure than asked for, where the part may not be away. */
function unsurely(one: CheckedPart, below: number): Stretch[] {
  const away = [...one.track.aways, ...unseen(one)]
  return stretches(one.track.keys, (key) => (key.followed ?? 1) < below && !isAway({ aways: away }, key.frame))
}

interface Stretch {
  from: number
  to: number
}
const isLong = ({ from, to }: Stretch) => to - from + 1 >= awayFrom

const finding = ({ part }: CheckedPart, kind: FindingKind, frame: number, to: number, text: string): Finding => ({
  ...{ kind, part: part.id, frame, to, text },
})

/** From the first to the last of keys in a row of which something is true, whatever lies between them. */
function stretches<K extends { frame: number }>(keys: readonly K[], is: (key: K) => boolean): Stretch[] {
  const numbers = keys.flatMap((key, i) => (is(key) ? [i] : []))
  return stretchesOf(numbers).map(({ from, to }) => ({ from: keys[from]!.frame, to: keys[to]!.frame }))
}

/** Frames without a shape that nobody marked as away; for a part that is held only where nothing holds it. */
function gaps(one: CheckedPart): Finding[] {
  const empty = one.shapes.flatMap((_, frame) => (cellAt(one.track, frame) === 'none' ? [frame] : []))
  return stretchesOf(empty).map(({ from, to }) =>
    finding(one, 'gap', from, to, one.kind.pixels ? say`has no matte` : say`has no shape`),
  )
}

/** Pixels that a single frame may stray from where its neighbours put it, and how much more in fast motion. */
const straying = { least: 5, share: 0.5 }

/** Single frames on which the shape lies where neither the motion before nor the one after would put it. */
function jumps(one: CheckedPart): Finding[] {
  const { shapes, kind } = one
  const out: Finding[] = []
  for (let f = 2; f + 2 < shapes.length; f++) {
    const [a, b, c, d, e] = [-2, -1, 0, 1, 2].map((k) => shapes[f + k])
    if (!a || !b || !c || !d || !e) continue
    let most = 0
    let speed = 0
    for (const i of anchors(kind, c)) {
      const at = (s: readonly number[]) => [s[2 * i]!, s[2 * i + 1]!] as const
      const off = (near: readonly number[], far: readonly number[]) =>
        Math.hypot(2 * at(near)[0] - at(far)[0] - at(c)[0], 2 * at(near)[1] - at(far)[1] - at(c)[1])
      // A prop that stops dead goes on from one side at least; only a slip fits neither.
      const stray = Math.min(
        off(b, a),
        off(d, e),
        Math.hypot((at(b)[0] + at(d)[0]) / 2 - at(c)[0], (at(b)[1] + at(d)[1]) / 2 - at(c)[1]),
      )
      if (stray > most) {
        most = stray
        const step = (p: readonly number[], q: readonly number[]) =>
          Math.hypot(at(p)[0] - at(q)[0], at(p)[1] - at(q)[1])
        speed = Math.max(step(a, b), step(d, e))
      }
    }
    if (most > straying.least + straying.share * speed)
      out.push(finding(one, 'jump', f, f, say`jumps ${Math.round(most)} px`))
  }
  return out
}

/** Single frames on which the area is far from both neighbours, which agree with each other. */
function sizes(one: CheckedPart): Finding[] {
  const { area } = measure(one.kind, one.part.settings, one.shapes)
  const out: Finding[] = []
  for (let f = 1; f + 1 < area.length; f++) {
    const [a, b, c] = [area[f - 1]!, area[f]!, area[f + 1]!]
    if (!(Math.min(a, c) > 40) || Math.max(a, c) / Math.min(a, c) > 1.15) continue
    const ratio = b / ((a + c) / 2)
    if (ratio > 1.3 || ratio < 0.77)
      out.push(finding(one, 'size', f, f, ratio > 1 ? say`is larger for one frame` : say`is smaller for one frame`))
  }
  return out
}

/** Stretches of frames keyed one by one on which points tremble: they turn back again and again instead of moving on. */
function chatter(one: CheckedPart): Finding[] {
  const { shapes, kind, track } = one
  const keyed = new Set(track.keys.map((key) => key.frame))
  const bends = shapes.map((c, f) => {
    const [b, d] = [shapes[f - 1], shapes[f + 1]]
    if (!b || !c || !d || !keyed.has(f)) return null
    return anchors(kind, c).flatMap((i) => [
      b[2 * i]! - 2 * c[2 * i]! + d[2 * i]!,
      b[2 * i + 1]! - 2 * c[2 * i + 1]! + d[2 * i + 1]!,
    ])
  })
  const trembling = bends.flatMap((bend, f) => {
    const next = bends[f + 1]
    if (!bend || !next || bend.length !== next.length) return []
    const dot = bend.reduce((sum, v, i) => sum + v * next[i]!, 0)
    const size = Math.sqrt(
      (bend.reduce((s, v) => s + v * v, 0) * next.reduce((s, v) => s + v * v, 0)) / (bend.length / 2) ** 2,
    )
    return dot < 0 && size > 2.2 ? [f, f + 1] : []
  })
  return (
    stretchesOf([...new Set(trembling)].sort((a, b) => a - b))
      // A single slip turns back three times in a row; trembling goes on.
      .filter(({ from, to }) => to - from >= 6)
      .map(({ from, to }) => finding(one, 'chatter', from, to, 'trembles'))
  )
}

/** Keys whose edge crosses itself. A rod can not. */
function crossings(one: CheckedPart): Finding[] {
  if (one.kind.kind === 'rod' || one.kind.kind === 'oval') return []
  const crossed = one.track.keys.flatMap(({ frame, points }) =>
    crossesItself(flatten(one.kind.path(points, one.part.settings), 1)) ? [frame] : [],
  )
  return stretchesOf(crossed).map(({ from, to }) => finding(one, 'crossing', from, to, say`crosses itself`))
}
