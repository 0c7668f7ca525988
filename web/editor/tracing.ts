import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import { toast } from 'vue-sonner'
import { awayChanged, keyWithStrokes, type LaneKeys, movedKeys, placed, pointsChanged } from '#core/edits/keys.ts'
import { type EditScope, inBetweenAt, stretchedFrame } from '#core/edits/overTime.ts'
import type { Raster } from '#core/pixels/buffers/raster.ts'
import { limits } from '#core/records/limits.ts'
import { makeKey } from '#core/records/make.ts'
import { keyId, type Part, type Tween } from '#core/records/types.ts'
import { anchors, carriedBy, type PartKind } from '#core/shapes/kind.ts'
import { nodePoints } from '#core/shapes/kinds/outline.ts'
import { converted, leastNodes, nodeCount, smoothed, withNode, withoutNode } from '#core/shapes/outlineEdit.ts'
import { type PartKindName, partKind } from '#core/shapes/registry.ts'
import { keyedFrom, likelyShape, rasterAt } from '#core/shapes/riding.ts'
import { isAway, isHandKey } from '#core/shapes/track.ts'
import { say } from '#core/say.ts'
import { newId, useProject } from '../project/project.ts'
import { useMotion } from './motion.ts'
import { useOpenShot } from './openShot.ts'
import { usePlayback } from './playback.ts'
import { useRuns } from './runs/runs.ts'
import { useSelection } from './selection.ts'

export const kindOf = (part: Pick<Part, 'kind'>): PartKind => partKind(part.kind)
/** A part of each kind, in a sentence. */
const oneOfKind: Record<PartKindName, string> = {
  ...{ rod: say`a rod`, oval: say`an oval`, outline: say`an outline`, pin: say`a pin`, point: say`a point` },
  painted: say`a painted matte`,
}
/** Farther than this outside the picture a nudge is a slip of the hand, in pixels. */
const farOutside = 20_000

/** What a hand does to shapes and keys, each one commit. Every edit of a shape at a frame is a key at that frame. */
export const useTracing = defineStore('tracing', () => {
  const project = useProject()
  const opened = useOpenShot()
  const playback = usePlayback()
  const selected = useSelection()
  const motion = useMotion()
  const runs = useRuns()
  const records = () => project.records()!

  /** The shape to show and to edit on a frame: what is there, or else the ghost. */
  const shapeOrGhost = (part: Part, frame = playback.frame) => likelyShape(records(), part, frame)

  /** The matte of a part made of pixels at a frame: of the run under way, else what is kept. */
  function matte(part: Part, frame: number): Raster | null {
    const found = runs.live(part, frame)?.raster
    return found !== undefined ? found : rasterAt(records(), part, frame)
  }
  const strokesAt = (part: Part, frame: number) =>
    project.childrenOf('stroke', part.id).filter((stroke) => stroke.frame === frame)

  /** The diff that makes keys of points of the picture; where the part was away it is there again. */
  const keyDiff = (part: Part, frame: number, points: readonly number[], scope: EditScope = { over: 'frame' }) =>
    placed(records(), part, frame, points, scope, newId)

  /** Places the shape anew on one frame, whatever an edit's reach is. */
  function writeKey(part: Part, points: readonly number[], frame = playback.frame, group = ''): boolean {
    if (refusePixels(part) || tooFar(points)) return false
    return project.commit(say`Key of ${part.name} at ${frame}`, keyDiff(part, frame, points), group)
  }

  /** Keys that came in from elsewhere, in the picture, in place of those on their frames. */
  function writeKeys(
    part: Part,
    keys: readonly { frame: number; points: readonly number[] }[],
    label: string,
  ): boolean {
    if (refusePixels(part) || refuseLocked(part) || keys.some(({ points }) => tooFar(points))) return false
    const put = keys.map(({ frame, points }) => makeKey(part.id, frame, keyedFrom(records(), part, frame, points)))
    return project.commit(label, { put, remove: [] })
  }

  /** An edit of what is there: counts over the frames that were chosen for edits. */
  function edit(part: Part, points: readonly number[], group = ''): boolean {
    if (refusePixels(part) || tooFar(points)) return false
    const { scope } = selected
    if (selected.over === 'range' && !selected.range) {
      toast.warning(
        say`Edits count on the chosen range, and none is chosen. Choose one (sweep over the sheet with Shift), or let them count on this frame.`,
        { id: 'no range' },
      )
      return false
    }
    const over = {
      frame: say`at ${playback.frame}`,
      all: say`on all keys`,
      range: say`in the range`,
      fade: say`around ${playback.frame}`,
    }
    return project.commit(
      say`Edit ${part.name} ${over[scope.over]}`,
      keyDiff(part, playback.frame, points, scope),
      group,
    )
  }

  function tooFar(points: readonly number[]): boolean {
    const far = points.some((v) => !Number.isFinite(v) || Math.abs(v) > Math.min(farOutside, limits.coordinate))
    if (far) toast.error(say`That would put the shape far outside the picture; nothing was moved.`, { id: 'too far' })
    return far
  }

  /** Keeps the shape or the ghost of this frame as a key and steps on. */
  async function accept(): Promise<void> {
    const { part } = selected
    const points = part && shapeOrGhost(part)
    if (!part || !points) return
    if (opened.cell(part, playback.frame) !== 'key' || isAway(opened.track(part), playback.frame))
      if (!(kindOf(part).pixels ? keepPainted(part) : writeKey(part, points))) return
    await stepOn()
  }

  /** A carried matte becomes one that a hand has seen to: carrying goes by it from then on. */
  function keepPainted(part: Part, frame = playback.frame): boolean {
    const key = project.get('key', keyId(part.id, frame))
    if (!key || refuseLocked(part)) return false
    return project.commit(say`Keep ${part.name} at ${frame}`, { put: [{ ...key, followed: null }], remove: [] })
  }

  /** After a key: on by the chosen step, or to the next frame of the key plan. */
  async function stepOn(): Promise<void> {
    if (playback.stepSize > 0) playback.stepBy(playback.stepSize)
    else await motion.goToPlanned()
  }

  function removeKey(part: Part, frame = playback.frame): void {
    if (!project.get('key', keyId(part.id, frame))) return
    project.commit(say`Remove the key of ${part.name} at ${frame}`, {
      put: [],
      remove: keyWithStrokes(records(), part, frame),
    })
  }

  /** Sends the chosen points, or the whole shape, through a map of the plane. */
  function transform(map: (x: number, y: number) => [number, number], group = ''): void {
    const { part } = selected
    const points = part && shapeOrGhost(part)
    if (!part || !points || refuseLocked(part)) return
    const kind = kindOf(part)
    edit(part, carriedBy(kind, points, chosenOr(part, points), map), group)
  }
  const chosenOr = (part: Part, points: readonly number[]) =>
    selected.points.length ? selected.points : anchors(kindOf(part), points)

  /** Nudges one after another are one step; another way begins the next one. */
  function nudge(dx: number, dy: number): void {
    const { part } = selected
    const group =
      part && `nudge ${part.id} ${playback.frame} ${selected.points.join()} ${Math.sign(dx)} ${Math.sign(dy)}`
    if (group) transform((x, y) => [x + dx, y + dy], group)
  }

  /** Mirrors left and right, about the middle of what is chosen. */
  function mirror(): void {
    const { part } = selected
    const points = part && shapeOrGhost(part)
    if (!part || !points) return
    const xs = chosenOr(part, points).map((i) => points[2 * i]!)
    const middle = (Math.min(...xs) + Math.max(...xs)) / 2
    transform((x, y) => [2 * middle - x, y])
  }

  /** Points, or the whole shape, go back to where the keys on either side put them. */
  function backToInBetween(): void {
    const { part } = selected
    const { frame } = playback
    if (!part || opened.cell(part, playback.frame) !== 'key' || refusePixels(part)) return
    const between = inBetweenAt(opened.track(part), frame)
    if (!between) {
      toast(say`There is no key on both sides of this frame, so there is no in-between to go back to.`)
      return
    }
    if (selected.points.length === 0) return removeKey(part)
    const points = [...project.get('key', keyId(part.id, frame))!.points]
    for (const i of selected.points.flatMap((one) => kindOf(part).group(points, one)))
      for (const k of [2 * i, 2 * i + 1]) points[k] = between[k]!
    const { tween } = project.get('key', keyId(part.id, frame))!
    project.commit(say`Set points of ${part.name} back`, { put: [makeKey(part.id, frame, points, tween)], remove: [] })
  }

  /** A shape that was copied, in the picture. */
  const clipboard = shallowRef<{ kind: Part['kind']; points: readonly number[] } | null>(null)
  function copyShape(): void {
    const { part } = selected
    const points = part && shapeOrGhost(part)
    if (!part || !points) return
    clipboard.value = { kind: part.kind, points: [...points] }
    toast(say`Copied the shape of ${part.name} at ${playback.frame}.`)
  }
  function pasteShape(): void {
    const { part } = selected
    const held = clipboard.value
    if (!part || !held || refuseLocked(part)) return
    if (held.kind !== part.kind) {
      toast.error(
        say`The copied shape is ${oneOfKind[held.kind as PartKindName]} and ${part.name} is ${oneOfKind[part.kind as PartKindName]}.`,
      )
      return
    }
    const count = opened.track(part).keys[0]?.points.length
    if (count !== undefined && count !== held.points.length && !kindOf(part).likewise) {
      const nodes = (numbers: number) => say`${anchors(kindOf(part), Array(numbers).fill(0)).length} points`
      toast.error(
        say`The copied shape has ${nodes(held.points.length)} and the keys of ${part.name} have ${nodes(count)}. Paste it onto a part without keys, or insert or delete points first.`,
      )
      return
    }
    writeKey(part, held.points)
  }

  function refusePixels(part: Part): boolean {
    const { pixels } = kindOf(part)
    if (pixels) toast(say`${part.name} is painted: correct it with strokes.`, { id: 'painted' })
    return pixels === true
  }
  function refuseLocked(part: Part): boolean {
    if (part.locked) toast.error(say`${part.name} is locked; unlock it in the cast to change it.`, { id: 'locked' })
    return part.locked
  }

  /** Changes the points of all keys of an outline alike. */
  function editNodes(part: Part, label: string, change: (points: readonly number[]) => number[]): boolean {
    if (refuseLocked(part)) return false
    return project.commit(label, pointsChanged(records(), part, change))
  }
  function insertNode(part: Part, segment: number, t: number): void {
    if (editNodes(part, say`Insert a point in ${part.name}`, (points) => withNode(points, segment, t)))
      selected.points = [(segment + 1) * nodePoints]
  }
  function deleteNodes(part: Part): void {
    const nodes = chosenNodes()
    const some = opened.track(part).keys[0]?.points
    if (!some || nodes.length === 0) return
    if (nodeCount(some) - nodes.length < leastNodes) {
      toast.error(say`An outline keeps at least ${leastNodes} points; delete the part in the cast to be rid of it.`)
      return
    }
    const change = (points: readonly number[]) =>
      [...nodes].sort((a, b) => b - a).reduce<number[]>((all, node) => withoutNode(all, node), [...points])
    if (editNodes(part, say`Delete points of ${part.name}`, change)) selected.points = []
  }
  function convertNodes(part: Part, to: 'corner' | 'smooth'): void {
    const nodes = chosenNodes()
    if (nodes.length) editNodes(part, say`Make points of ${part.name} ${to}`, (points) => converted(points, nodes, to))
    else if (to === 'smooth') editNodes(part, say`Smooth ${part.name}`, smoothed)
  }
  const chosenNodes = () => selected.points.filter((i) => i % nodePoints === 0).map((i) => i / nodePoints)

  /** Keys of the chosen range, lane by lane; those made of pixels only where asked for: they belong to their frames. */
  function rangeKeys(pixels = false): LaneKeys[] {
    const { range } = selected
    if (!range) return []
    return range.parts.flatMap((id) => {
      const part = project.get('part', id)
      const keys = project.childrenOf('key', id).filter((key) => key.frame >= range.from && key.frame <= range.to)
      return part && !part.locked && keys.length && (pixels || !kindOf(part).pixels) ? [{ part, keys }] : []
    })
  }
  function moveKeys(moving: LaneKeys[], by: number, copy = false): void {
    const count = moving.reduce((sum, { keys }) => sum + keys.length, 0)
    if (by === 0 || count === 0) return
    const what = count === 1 ? say`a key of ${moving[0]!.part.name}` : say`${count} keys`
    project.commit(
      say`${copy ? say`Copy` : say`Move`} ${what} by ${by}`,
      movedKeys(moving, (frame) => frame + by, { copy, length: opened.length }),
    )
  }
  function stretchKeys(newTo: number): void {
    const { range } = selected
    if (!range || newTo === range.to || newTo <= range.from) return
    const { from, to, parts } = range
    project.commit(
      say`Stretch keys to ${newTo - from + 1} frames`,
      movedKeys(rangeKeys(), (frame) => stretchedFrame(frame, from, to, newTo), { copy: false, length: opened.length }),
    )
    selected.range = { from, to: newTo, parts }
  }
  function removeKeys(): void {
    const remove = rangeKeys(true).flatMap(({ part, keys }) =>
      keys.flatMap((key) => keyWithStrokes(records(), part, key.frame)),
    )
    if (remove.length) project.commit(say`Remove ${remove.length} keys`, { put: [], remove })
  }
  /** What was followed or carried in the range counts as set by hand from then on: no run computes it anew. */
  function keepRange(): void {
    const put = rangeKeys(true).flatMap(({ keys }) =>
      keys.filter((key) => !isHandKey(key)).map((key) => ({ ...key, followed: null })),
    )
    const { from, to } = selected.range!
    if (put.length) project.commit(say`Keep ${put.length} frames of ${from} to ${to}`, { put, remove: [] })
  }
  /** Drops the keys of the range that its in-betweens explain within `tolerance` pixels; returns how many. */
  async function thinOut(tolerance: number): Promise<number> {
    const { from, to } = selected.range!
    const each = rangeKeys().map(({ part }) => withoutNeedless(part, tolerance, { from, to }))
    const remove = (await Promise.all(each)).flat()
    if (remove.length) project.commit(say`Thin out ${remove.length} keys`, { put: [], remove })
    return remove.length
  }
  /** Drops followed keys of a part that its in-betweens explain within `tolerance` pixels; those set by hand stay. */
  async function fewKeys(part: Part, tolerance: number): Promise<void> {
    const remove = await withoutNeedless(part, tolerance, 'followed')
    if (remove.length === 0)
      return void toast(say`Every followed key of ${part.name} is needed within ${tolerance} px.`)
    const made = opened.track(part).keys.filter((key) => !isHandKey(key)).length
    project.commit(say`Few keys of ${part.name}: ${made} to ${made - remove.length}`, { put: [], remove })
    toast(
      say`${made - remove.length} of ${made} followed keys of ${part.name} explain its motion within ${tolerance} px.`,
    )
  }
  /** Keys that can go, see the motion's `needless`; asked for again where one has changed meanwhile. */
  async function withoutNeedless(part: Part, tolerance: number, among: { from: number; to: number } | 'followed') {
    const keys = () => project.childrenOf('key', part.id)
    for (;;) {
      const before = keys()
      const frames = await motion.needless(part.id, tolerance, among)
      if (keys() === before) return frames.map((frame) => ({ type: 'key' as const, id: keyId(part.id, frame) }))
    }
  }
  /** Style of the spans that begin at keys of the range; '' for each part's own. */
  function setSpans(tween: Tween | ''): void {
    const put = rangeKeys().flatMap(({ keys }) => keys.map((key) => ({ ...key, tween })))
    if (put.length)
      project.commit(say`In-betweens of ${put.length} spans: ${tween || say`as the part`}`, { put, remove: [] })
  }

  function setAway(part: Part, from: number, to: number, away: boolean): void {
    project.commit(
      say`${part.name} is ${away ? say`away` : say`there`} ${from === to ? say`at ${from}` : say`from ${from} to ${to}`}`,
      awayChanged(records(), part, [{ from, to }], away, newId),
    )
  }

  /** Frames that away is said of: those of the range where it goes over the part, else this one; and whether it is away on all of them. */
  function awayHere(part: Part): { from: number; to: number; away: boolean } {
    const { range } = selected
    const { from, to } = range?.parts.includes(part.id) ? range : { from: playback.frame, to: playback.frame }
    const track = opened.track(part)
    let away = true
    for (let frame = from; frame <= to; frame++) away &&= isAway(track, frame)
    return { from, to, away }
  }
  function toggleAway(part: Part): void {
    const { from, to, away } = awayHere(part)
    setAway(part, from, to, !away)
  }

  return {
    ...{
      matte,
      awayHere,
      toggleAway,
      strokesAt,
      keyDiff,
      writeKey,
      writeKeys,
      edit,
      shapeOrGhost,
      accept,
      keepPainted,
      stepOn,
      removeKey,
      nudge,
      mirror,
      transform,
      setAway,
    },
    ...{ backToInBetween, copyShape, pasteShape, insertNode, deleteNodes, convertNodes, refuseLocked },
    ...{ rangeKeys, moveKeys, stretchKeys, removeKeys, keepRange, thinOut, fewKeys, setSpans },
  }
})
