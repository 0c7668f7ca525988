import { boundsOf, cornersOf, inflate, intersect, isEmpty, noRect, type Rect, unite } from '../geometry/rect.ts'
import { type MattePart, memberMatte } from '../matte/partMatte.ts'
import { type Scratch, Slot } from '../pixels/buffers/scratch.ts'
import { signedDistance } from '../pixels/filters/distance.ts'
import { blurDirect } from '../pixels/filters/gaussian.ts'
import type { Region } from '../records/types.ts'
import { softest } from '../shapes/kinds/outline.ts'
import { edgeOf, shapesAt } from '../shapes/traced.ts'
import { boundsFound, type Found, foundIn } from './frameScene.ts'
import type { Scene } from './scene.ts'

const slots = { oneCoverOfSeveral: new Slot(), foundCover: new Slot(), region: new Slot(), regionDistance: new Slot() }

/** The parts of a member, or one part alone where the id is a part's, as they are at a time; none where it is gone. */
export function shapesOf(scene: Scene, id: string, time: number): MattePart[] {
  const part = scene.part(id)
  // A chosen part counts in full whatever it does within its own member.
  return part ? shapesAt([{ ...part, role: 'add' }], time) : shapesAt(scene.partsOf(id), time)
}

/** What is looked at: the pixels of `rect` at a scale and a time. */
export interface View {
  time: number
  scale: number
  rect: Rect
}

/** Coverage of members and parts together over `rect`, as covers that know nothing of each other. In the buffer of `slot`. */
export function coverOf(
  scene: Scene,
  ids: readonly string[],
  { time, scale, rect }: View,
  scratch: Scratch,
  slot: Slot,
): Float32Array {
  const found = foundIn(scene, time, scale)
  if (found && ids.every((id) => isFoundFor(found, scene, id, rect))) {
    const out = scratch.floats(slot, rect.width * rect.height, true)
    for (const id of ids) layCover(foundCover(found, scene, id, scratch), rect, out)
    return out
  }
  const groups = ids
    .map((id) => ({ id, parts: shapesOf(scene, id, time) }))
    .filter(({ parts }) => parts.some((part) => part.points))
  if (groups.length === 1) return memberMatte(groups[0]!.parts, scale, rect, scratch, slot)
  const out = scratch.floats(slot, rect.width * rect.height, true)
  for (const { id, parts } of groups) {
    const own = intersect(boundsOfCover(scene, [id], time, scale), rect)
    if (isEmpty(own)) continue
    layCover({ rect: own, matte: memberMatte(parts, scale, own, scratch, slots.oneCoverOfSeveral) }, rect, out)
  }
  return out
}

/** What one covers, over a rectangle. */
interface Cover {
  rect: Rect
  matte: Float32Array
}

/** Lays a cover over others, as covers that know nothing of each other: `out` over `rect`. */
function layCover({ rect: own, matte }: Cover, rect: Rect, out: Float32Array): void {
  const shared = intersect(own, rect)
  for (let y = shared.y; y < shared.y + shared.height; y++) {
    let from = (y - own.y) * own.width + shared.x - own.x
    let to = (y - rect.y) * rect.width + shared.x - rect.x
    for (const end = to + shared.width; to < end; from++, to++) out[to]! += matte[from]! - out[to]! * matte[from]!
  }
}

/** Whether all that somebody covers of a rectangle is in what is found once for the frame. */
function isFoundFor({ around, time, scale }: Found, scene: Scene, id: string, rect: Rect): boolean {
  const own = intersect(boundsOfCover(scene, [id], time, scale), rect)
  const there = intersect(own, around)
  return isEmpty(own) || (there.width === own.width && there.height === own.height)
}

/** What somebody covers on the frame, found with whoever asks first. */
function foundCover({ around, time, scale, covers }: Found, scene: Scene, id: string, scratch: Scratch): Cover {
  let cover = covers.get(id)
  if (!cover) {
    const rect = intersect(boundsOfCover(scene, [id], time, scale), around)
    const slot = slots.foundCover.part(covers.size)
    const parts = shapesOf(scene, id, time)
    const matte = isEmpty(rect) ? none : scratch.lasting(() => memberMatte(parts, scale, rect, scratch, slot))
    cover = { rect, matte }
    covers.set(id, cover)
  }
  return cover
}
const none = new Float32Array()

/** Pixels at `scale` outside of which the matte of these is 0; empty where none is there. */
export function boundsOfCover(scene: Scene, ids: readonly string[], time: number, scale: number): Rect {
  const bounds = boundsFound(scene, scale)
  return ids.reduce((all, id) => {
    const called = `${time} ${id}`
    const own = bounds?.get(called) ?? boundsOfOne(scene, id, time, scale)
    bounds?.set(called, own)
    return unite(all, own)
  }, noRect)
}

function boundsOfOne(scene: Scene, id: string, time: number, scale: number): Rect {
  let rect: Rect = noRect
  const part = scene.part(id)
  for (const one of part ? [part] : scene.partsOf(id)) {
    const { feather, grow } = one.settings
    const pad = Number(feather ?? 0) * 2 + Math.max(0, Number(grow ?? 0)) + 2
    const pixels = one.raster?.(time)
    const edge = pixels ? cornersOf(pixels) : edgeOf(one, time)
    if (!edge) continue
    rect = unite(
      rect,
      boundsOf(
        edge.map((v) => v * scale),
        pad * scale + (one.kind === 'outline' ? 1.5 * softest(one.at(time)!) : 0) * scale,
      ),
    )
  }
  return rect
}

/** Pixels at `scale` in which an effect with this region can be seen; `everywhere` for the outside of something. */
export function regionBounds(scene: Scene, region: Region, time: number, scale: number, everywhere: Rect): Rect {
  if (region.of.length === 0 || region.side === 'outside') return everywhere
  const box = boundsOfCover(scene, region.of, time, scale)
  if (isEmpty(box)) return box
  const pad = Math.ceil((Math.abs(region.grow) + region.soften * 2) * scale) + 1
  return inflate(box, pad)
}

/**
 * The region of an effect over `rect` at a time: 0..1, grown and softened for this effect only. Where nothing of it is
 * there, nothing is inside and everything outside. Written into the scratch's buffer `name`.
 */
export function regionMatte(
  scene: Scene,
  region: Region,
  { time, scale, rect }: View,
  scratch: Scratch,
  slot: Slot,
): Float32Array {
  const { of, side } = region
  if (of.length === 0) return scratch.floats(slot, rect.width * rect.height).fill(1)
  const grow = region.grow * scale
  const soften = region.soften * scale
  const band = side === 'edge'
  const plain = Math.abs(grow) < 0.01 && soften < 0.05 && !band
  if (plain && side !== 'outside') return coverOf(scene, of, { time, scale, rect }, scratch, slot)
  // Room around, so that what lies beyond the rectangle has its say in it.
  const pad = plain ? 0 : Math.ceil(Math.abs(grow) + 3.5 * (soften / 2)) + 2
  const wide = inflate(rect, pad)
  const out = scratch.floats(slot, rect.width * rect.height)
  const box = boundsOfCover(scene, of, time, scale)
  const near = intersect(wide, inflate(box, pad))
  out.fill(side === 'outside' ? 1 : 0)
  if (isEmpty(box) || isEmpty(near)) return out
  const matte = coverOf(scene, of, { time: time, scale: scale, rect: near }, scratch, slots.region)
  if (Math.abs(grow) >= 0.01 || band) {
    const distance = signedDistance(
      { data: matte, width: near.width, height: near.height },
      scratch,
      slots.regionDistance,
      Math.abs(grow) + 2,
    )
    // A band without a width is a line of a pixel and a half.
    const half = Math.max(0.75, Math.abs(grow))
    for (let i = 0; i < matte.length; i++) {
      const d = band ? Math.abs(distance[i]!) - half : distance[i]! - grow
      matte[i] = d <= -0.5 ? 1 : d >= 0.5 ? 0 : 0.5 - d
    }
  }
  if (!plain) blurDirect({ data: matte, width: near.width, height: near.height }, soften / 2, scratch)
  const shared = intersect(near, rect)
  for (let y = shared.y; y < shared.y + shared.height; y++) {
    let from = (y - near.y) * near.width + shared.x - near.x
    let to = (y - rect.y) * rect.width + shared.x - rect.x
    for (const end = to + shared.width; to < end; from++, to++)
      out[to] = side === 'outside' ? 1 - matte[from]! : matte[from]!
  }
  return out
}
