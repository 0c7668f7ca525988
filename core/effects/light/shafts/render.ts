import { noRect } from '../../../geometry/rect.ts'
import { Slot } from '../../../pixels/buffers/scratch.ts'
import { noise1 } from '../../../pixels/filters/noise.ts'
import { resampleAffine, turnAbout } from '../../../pixels/filters/warp.ts'
import { span } from '../../../pixels/kernels/interface.ts'
import { rendererOf, type SettingsOfKind } from '../../effect.ts'
import { centreOfEffect, isAway, wholePicture } from '../../shared/place.ts'
import { addCoarse, coarseGrid, coverOfParts, mix, ramp } from '../../shared/tools.ts'
import { shafts } from './shafts.ts'

const slots = { shaftCover: new Slot(), shaftsA: new Slot(), shaftsB: new Slot(), allShafts: new Slot() }

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
    const table = shareByAngle(settings, frame)
    // Every part streams from its own middle: two eyes have two bundles.
    for (const part of parts) {
      if (!part.at(frame) || part.role !== 'add') continue
      const middle = centreOfEffect({ ...context, parts: [part] })
      const [cx, cy] = [(middle.x / scale) * grid.scale, (middle.y / scale) * grid.scale]
      const cover = coverOfParts([part], frame, grid.scale, rect, scratch, slots.shaftCover)
      const size = Math.max(1, radiusIn(cover, rect, cx, cy))
      // From its own rim to the end of the shafts, in steps of one ratio.
      const stretch = (length * grid.scale + size) / size
      const step = stretch ** (1 / (2 ** passes - 1))
      const falloff = settings.falloff
      const from = scratch.floats(slots.shaftsA, 4 * cover.length, true)
      const to = scratch.floats(slots.shaftsB, 4 * cover.length)
      for (let i = 0; i < cover.length; i++) from[4 * i] = cover[i]!
      for (let k = 0; k < passes; k++) {
        const ratio = step ** -(2 ** k)
        resampleAffine(
          { data: from, region: rect },
          { data: to, region: rect },
          turnAbout(cx, cy, 0, ratio),
          'nothing',
          scratch,
        )
        const kept = ratio ** falloff
        scratch.kernels.addScaled(span(to), span(from), to.length, kept)
      }
      const spread = 1 / 2 ** passes
      const gain = settings.strength * 4 * spread
      for (let y = 0, i = 0; y < rect.height; y++)
        for (let x = 0; x < rect.width; x++, i += 4) {
          const amount = from[i]!
          if (amount < 1e-4) continue
          const dx = rect.x + x + 0.5 - cx
          const dy = rect.y + y + 0.5 - cy
          const share = amount * gain * table[((turnOf(dx, dy) + 0.5) * angles) | 0]!
          all[i]! += share * light[0]
          all[i + 1]! += share * light[1]
          all[i + 2]! += share * light[2]
        }
    }
    addCoarse(context, all, grid, data, region)
  },
})

/**
 * Direction of (x, y) in turns, -0.5 to 0.5, within 2e-5: an odd polynomial of 9th order for the eighth of a turn (Abramowitz and
 * Stegun, Handbook of Mathematical Functions, 4.4.49: 1e-5 radians for the arc tangent).
 */
function turnOf(x: number, y: number): number {
  const across = Math.abs(x)
  const down = Math.abs(y)
  const a = Math.min(across, down) / Math.max(across, down, 1e-9)
  const s = a * a
  let turn = (a * (0.999866 + s * (-0.3302995 + s * (0.180141 + s * (-0.085133 + s * 0.0208351))))) / (2 * Math.PI)
  if (down > across) turn = 0.25 - turn
  if (x < 0) turn = 0.5 - turn
  return y < 0 ? -turn : turn
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
function radiusIn(
  cover: Float32Array,
  rect: { x: number; y: number; width: number; height: number },
  cx: number,
  cy: number,
): number {
  let most = 0
  for (let y = 0, i = 0; y < rect.height; y++)
    for (let x = 0; x < rect.width; x++, i++)
      if (cover[i]! > 0.5) most = Math.max(most, Math.hypot(rect.x + x + 0.5 - cx, rect.y + y + 0.5 - cy))
  return most
}
