import { noRect } from '../../../geometry/rect.ts'
import type { Plane } from '../../../pixels/buffers/picture.ts'
import { type Scratch, Slot } from '../../../pixels/buffers/scratch.ts'
import { noise1 } from '../../../pixels/filters/noise.ts'
import { span } from '../../../pixels/kernels/interface.ts'
import { rendererOf, type SettingsOfKind } from '../../effect.ts'
import { centreOfEffect, isAway, wholePicture } from '../../shared/place.ts'
import { addCoarse, coarseGrid, coverOfParts, mix, ramp } from '../../shared/tools.ts'
import { shafts } from './shafts.ts'

const slots = {
  shaftCover: new Slot(),
  shaftsA: new Slot(),
  shaftsB: new Slot(),
  allShafts: new Slot(),
  shareByAngle: new Slot(),
}

/** Halvings of the way to the middle: 2^6 samples along a shaft. */
const passes = 6

/** Steps around the circle: finer than the narrowest of 60 rays needs. */
const angles = 2048

export const renderShafts = rendererOf(shafts, {
  bounds: (context) => (isAway(context) || context.settings.strength <= 0 ? noRect : wholePicture(context)),
  draw(context, { data, region }) {
    const { settings, scratch, parts, frame, scale } = context
    const length = settings.length
    const light = context.colour(settings.tint)
    const grid = coarseGrid(context, region, 0)
    const { rect } = grid
    const all = scratch.floats(slots.allShafts, 4 * rect.width * rect.height, true)
    const table = scratch.floats(slots.shareByAngle, angles + 1)
    table.set(shareByAngle(settings, frame))
    // A rim of nothing lies around each plane: what is sought beyond it is found there.
    const size = { width: rect.width + 2, height: rect.height + 2 }
    // Every part streams from its own middle: two eyes have two bundles.
    for (const part of parts) {
      if (!part.at(frame) || part.role !== 'add') continue
      const middle = centreOfEffect({ ...context, parts: [part] })
      const [cx, cy] = [(middle.x / scale) * grid.scale - rect.x, (middle.y / scale) * grid.scale - rect.y]
      const cover = coverOfParts([part], frame, grid.scale, rect, scratch, slots.shaftCover)
      const radius = Math.max(1, radiusIn(cover, rect.width, cx, cy))
      // From its own rim to the end of the shafts, in steps of one ratio.
      const stretch = (length * grid.scale + radius) / radius
      const step = stretch ** (1 / (2 ** passes - 1))
      let from = { data: scratch.floats(slots.shaftsA, size.width * size.height, true), ...size }
      let to = { data: scratch.floats(slots.shaftsB, size.width * size.height, true), ...size }
      for (let y = 0; y < rect.height; y++)
        from.data.set(cover.subarray(y * rect.width, (y + 1) * rect.width), (y + 1) * size.width + 1)
      for (let k = 0; k < passes; k++) {
        const ratio = step ** -(2 ** k)
        addNearer(from, to, cx, cy, ratio, ratio ** settings.falloff, scratch)
        ;[from, to] = [to, from]
      }
      const gain = (settings.strength * 4) / 2 ** passes
      const colour = light.map((v) => v * gain) as [number, number, number]
      for (let y = 0; y < rect.height; y++) {
        const amounts = span(from.data, (y + 1) * size.width + 1)
        const first = { x: 0.5 - cx, y: y + 0.5 - cy }
        scratch.kernels.addStreaming(amounts, first, table, colour, span(all, 4 * y * rect.width), rect.width)
      }
    }
    addCoarse(context, all, grid, data, region)
  },
})

/** What a plane is, and `kept` of what it is nearer to the middle by `ratio`, into another one; both have a rim of nothing. */
function addNearer(
  from: Plane,
  to: Plane,
  cx: number,
  cy: number,
  ratio: number,
  kept: number,
  { kernels }: Scratch,
): void {
  const { width, height } = from
  to.data.set(from.data)
  // Numbers lie at whole places, the first of the picture at (1, 1): its centre at +0.5 is place + 0.5 of the plane less 1.
  const placeOf = (at: number, centre: number) => centre + (at + 0.5 - centre) * ratio + 0.5
  for (let y = 0; y < height - 2; y++) {
    const place = { x: placeOf(0, cx), dx: ratio, y: placeOf(y, cy) }
    if (place.y > 0 && place.y < height - 1)
      kernels.addZoomed(from, place, span(to.data, (y + 1) * width + 1), width - 2, kept)
  }
}

/** How bright a shaft is by its direction, from -180 to 180 degrees: its rays, and the cone that it keeps to. */
function shareByAngle(settings: SettingsOfKind<typeof shafts>, frame: number): Float32Array {
  const { rays, seed, flicker, contrast } = settings
  const half = settings.opening / 2
  const direction = settings.angle
  return Float32Array.from({ length: angles + 1 }, (_, i) => {
    let share = 1
    if (rays > 0) {
      // Around the whole circle the rays close: noise along a circle, not along an angle.
      const turn = (i / angles) * rays
      const ray = mix(ringNoise(turn, rays, seed), ringNoise(turn + frame * 0.12, rays, seed + 31), flicker)
      share = mix(1, 2 * ramp(0.25, 0.75, ray), contrast)
    }
    if (half < 180) {
      const off = (((i / angles) * 360 - 180 - direction + 540) % 360) - 180
      share *= 1 - ramp(half * 0.7, half + 2, Math.abs(off))
    }
    return share
  })
}

/** Smooth noise that closes after `count` steps. */
function ringNoise(turn: number, count: number, seed: number): number {
  const whole = Math.max(1, Math.round(count))
  const at = ((turn % whole) + whole) % whole
  const a = noise1(at, seed)
  // Over the last step it goes over into where it began.
  return at > whole - 1 ? mix(a, noise1(at - whole, seed), at - whole + 1) : a
}

/** How far from the middle anything of the shape lies, in pixels of its grid. */
function radiusIn(cover: Float32Array, width: number, cx: number, cy: number): number {
  let most = 0
  for (let i = 0, x = 0, y = 0; i < cover.length; i++) {
    if (cover[i]! > 0.5) most = Math.max(most, Math.hypot(x + 0.5 - cx, y + 0.5 - cy))
    if (++x === width) {
      x = 0
      y++
    }
  }
  return most
}
