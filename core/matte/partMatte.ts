import type { ClosedPath } from '../geometry/path.ts'
import { boundsOf, cornersOf, intersect, isEmpty, type Rect } from '../geometry/rect.ts'
import type { Settings } from '../parameters/parameters.ts'
import type { Raster } from '../pixels/buffers/raster.ts'
import { Scratch, Slot } from '../pixels/buffers/scratch.ts'
import { contoursOf } from '../pixels/filters/contour.ts'
import { blurDirect } from '../pixels/filters/gaussian.ts'
import type { Role } from '../records/types.ts'
import { outlinePath, softest } from '../shapes/kinds/outline.ts'
import { partKind, type PartKindName } from '../shapes/registry.ts'
import { coverPolygon, type Matte, matteOf } from './coverage.ts'
import { dilate } from './dilate.ts'

const slots = { oneCover: new Slot(), matte: new Slot() }

/** A part as mattes see it: its shape at the time in plate pixels, null where it is not there. */
export interface MattePart {
  kind: string
  settings: Settings
  role: Role
  points: readonly number[] | null
  /** Its pixels, where it is made of them; null while it is away. */
  raster?: Raster | null
}

const number = (settings: Settings, name: string, standard: number) =>
  typeof settings[name] === 'number' ? settings[name] : standard

/** Matte of one shape at `scale` (1, 0.5, 0.25), as far as `within` shows it; opacity is not in it. */
export function shapeMatte(
  kind: PartKindName,
  points: readonly number[],
  settings: Settings,
  scale: number,
  within: Rect,
  scratch = new Scratch(),
): Matte {
  const feather = number(settings, 'feather', 0) * scale
  const grow = number(settings, 'grow', 0) * scale
  const scaled = (path: ClosedPath) => (scale === 1 ? path : path.map((v) => v * scale))
  const far = kind === 'outline' ? softest(points) * scale : 0
  if (far < 0.05 && Math.abs(grow) < 0.01)
    return matteOf(scaled(partKind(kind).path(points, settings)), feather, within, undefined, 0, scratch)
  // A fading edge is the mean of many edges on its way, a pixel and a half apart: no step of it is seen.
  const count = far < 0.05 ? 1 : Math.max(4, Math.min(32, Math.ceil(far / 1.5)))
  const paths = Array.from({ length: count }, (_, i) =>
    scaled(
      kind === 'outline'
        ? outlinePath(points, settings, far < 0.05 ? 0 : (i + 0.5) / count)
        : partKind(kind).path(points, settings),
    ),
  )
  return matteOf(
    paths,
    feather,
    within,
    (data, region, polygons) => {
      const one = scratch.floats(slots.oneCover, data.length)
      for (const polygon of polygons) {
        coverPolygon(polygon, region, one)
        if (Math.abs(grow) >= 0.01) dilate(one, region, [polygon], grow)
        for (let i = 0; i < data.length; i++) data[i]! += one[i]! / count
      }
    },
    Math.max(0, grow),
    scratch,
  )
}

/** Matte of a part made of pixels at `scale`, as far as `within` shows it: grown and feathered like a shape's. */
export function rasterMatte(raster: Raster, settings: Settings, scale: number, within: Rect, scratch: Scratch): Matte {
  const sigma = (number(settings, 'feather', 0) * scale) / 2
  const grow = number(settings, 'grow', 0) * scale
  const room = Math.ceil(3.5 * sigma + Math.abs(grow)) + 2
  const box = boundsOf(
    cornersOf(raster).map((v) => v * scale),
    room,
  )
  const region = intersect(box, boundsOf(cornersOf(within), room))
  const data = scratch.floats(slots.matte, region.width * region.height, true)
  reduceInto(raster, scale, region, data)
  if (Math.abs(grow) >= 0.01 && data.length) {
    const edges = contoursOf(raster).map((line) => line.map((v) => v * scale))
    dilate(data, region, edges, grow)
  }
  blurDirect({ data, width: region.width, height: region.height }, sigma, scratch)
  return { ...region, data }
}

/** Means of the pixels that fall into each pixel at the scale (1, 1/2, 1/4), 0..1. */
function reduceInto(raster: Raster, scale: number, region: Rect, out: Float32Array): void {
  const by = Math.round(1 / scale)
  const share = 1 / (255 * by * by)
  const x0 = Math.max(raster.x, region.x * by)
  const x1 = Math.min(raster.x + raster.width, (region.x + region.width) * by)
  const y0 = Math.max(raster.y, region.y * by)
  const y1 = Math.min(raster.y + raster.height, (region.y + region.height) * by)
  for (let y = y0; y < y1; y++) {
    const row = (Math.floor(y / by) - region.y) * region.width - region.x
    const from = (y - raster.y) * raster.width - raster.x
    for (let x = x0; x < x1; x++) out[row + Math.floor(x / by)]! += share * raster.data[from + x]!
  }
}

/**
 * The matte of a cast member over `region`: its parts in their order, each adding to what is there (as covers that
 * know nothing of each other: a + b - ab), cutting from it, or limiting it. Written into the scratch's buffer `name`.
 * Where the first part cuts or limits there is nothing to cut from: the matte starts empty.
 */
export function memberMatte(
  parts: readonly MattePart[],
  scale: number,
  region: Rect,
  scratch: Scratch,
  slot: Slot,
): Float32Array {
  const out = scratch.floats(slot, region.width * region.height, true)
  /** Whether nothing is in it yet. */
  let fresh = true
  for (const { kind, settings, role, points, raster } of parts) {
    if (!points) continue
    const opacity = number(settings, 'opacity', 1)
    const matte = raster
      ? rasterMatte(raster, settings, scale, region, scratch)
      : shapeMatte(kind as PartKindName, points, settings, scale, region, scratch)
    const shared = intersect(matte, region)
    if (role === 'limit') limit(out, region, matte, shared, opacity)
    else if (!isEmpty(shared))
      for (let y = shared.y; y < shared.y + shared.height; y++) {
        const from = (y - matte.y) * matte.width + shared.x - matte.x
        const to = (y - region.y) * region.width + shared.x - region.x
        if (role === 'cut') for (let x = 0; x < shared.width; x++) out[to + x]! *= 1 - matte.data[from + x]! * opacity
        else if (fresh && opacity === 1) out.set(matte.data.subarray(from, from + shared.width), to)
        else
          for (let x = 0; x < shared.width; x++) {
            const before = out[to + x]!
            const cover = matte.data[from + x]! * opacity
            if (cover > 0) out[to + x] = before + cover - before * cover
          }
      }
    fresh = false
  }
  return out
}

/** Keeps what is inside the matte; at less than full opacity the outside is only dimmed. */
function limit(out: Float32Array, region: Rect, matte: Matte, shared: Rect, opacity: number): void {
  for (let y = 0; y < region.height; y++) {
    const row = region.y + y
    const inside = row >= shared.y && row < shared.y + shared.height && shared.width > 0
    for (let x = 0; x < region.width; x++) {
      const column = region.x + x
      const cover =
        inside && column >= shared.x && column < shared.x + shared.width
          ? matte.data[(row - matte.y) * matte.width + column - matte.x]!
          : 0
      out[y * region.width + x]! *= 1 - opacity * (1 - cover)
    }
  }
}
