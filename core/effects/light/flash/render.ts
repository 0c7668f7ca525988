import { noRect, type Rect, unite } from '../../../geometry/rect.ts'
import { moved } from '../../../geometry/similarity.ts'
import { meetingAt } from '../../../motion/contacts.ts'
import { framesIn } from '../../../parameters/frameList.ts'
import { Slot } from '../../../pixels/buffers/scratch.ts'
import { hashed } from '../../../pixels/filters/noise.ts'
import { span } from '../../../pixels/kernels/interface.ts'
import { motionBetween } from '../../../shapes/traced.ts'
import { type ContextOf, rendererOf } from '../../effect.ts'
import { centreOfEffect, isAway } from '../../shared/place.ts'
import { flash } from './flash.ts'

const slots = { light: new Slot() }

/** A flash that is burning at the frame, in full-size pixels. */
interface Burning {
  x: number
  y: number
  share: number
  frame: number
}

/** Nothing before, full at the contact, gone after so many frames (0, full, 0 two frames later: common practice, no source). */
export const flashAt = (age: number, fade: number): number => (age < 0 || age >= fade ? 0 : 1 - age / fade)

/** Beyond this many sizes the round light is less than a tenth of an 8-bit level. */
const tail = 3.3

/** Steps of the round light by its distance, straight between them: it is within 1e-4. */
const steps = 512

const bells = Float64Array.from({ length: 20 * 64 + 2 }, (_, i) => Math.exp(-i / 64))

export const renderFlash = rendererOf(flash, {
  bounds(context) {
    const { settings, scale } = context
    const size = settings.size
    const far = size * Math.max(tail, settings.streaks ? settings.streakLength : 0) * scale
    return burning(context).reduce<Rect>((all, { x, y }) => {
      const [left, top] = [Math.floor(x * scale - far), Math.floor(y * scale - far)]
      return unite(all, { x: left, y: top, width: Math.ceil(2 * far) + 1, height: Math.ceil(2 * far) + 1 })
    }, noRect)
  },
  draw(context, { data, region }) {
    const { settings, scale, scratch } = context
    const size = settings.size * scale
    const strength = settings.strength
    const tint = context.colour(settings.tint)
    const count = settings.streaks
    const long = settings.streakLength * size
    // Light alone: nothing of what is there goes.
    const light = scratch.floats(slots.light, 4 * (steps + 2), true)
    for (const one of burning(context)) {
      const [cx, cy] = [one.x * scale, one.y * scale]
      const gain = strength * one.share
      const seed = settings.seed + 17 * one.frame
      const lines = Array.from({ length: count }, (_, i) => {
        const angle = Math.PI * ((i + hashed(i, seed)) / count)
        const reach = long * (0.4 + 0.6 * hashed(i, seed, 3))
        return { ux: Math.cos(angle), uy: Math.sin(angle), reach, thin: size * (0.02 + 0.03 * hashed(i, seed, 5)) }
      })
      const box = (left: number, top: number, right: number, bottom: number) => ({
        left: Math.max(0, Math.floor(left - region.x)),
        top: Math.max(0, Math.floor(top - region.y)),
        right: Math.min(region.width, Math.ceil(right - region.x)),
        bottom: Math.min(region.height, Math.ceil(bottom - region.y)),
      })
      // A white middle in a wider coloured halo.
      const far = tail * size
      for (let k = 0; k < steps + 2; k++) {
        const r2 = k < steps ? ((k * tail) / steps) ** 2 : Infinity
        const white = gain * Math.exp(-6 * r2)
        const halo = gain * 0.5 * Math.exp(-1.2 * r2)
        for (let c = 0; c < 3; c++) light[4 * k + c] = white + halo * tint[c]!
      }
      const disc = box(cx - far, cy - far, cx + far, cy + far)
      for (let y = disc.top; y < disc.bottom; y++) {
        const dy = region.y + y + 0.5 - cy
        const half = Math.sqrt(Math.max(0, far * far - dy * dy))
        const from = Math.max(disc.left, Math.floor(cx - half - region.x))
        const count = Math.min(disc.right, Math.ceil(cx + half - region.x)) - from
        const first = { x: region.x + from + 0.5 - cx, y: dy }
        const to = span(data, 4 * (y * region.width + from))
        if (count > 0) scratch.kernels.layRound(light, steps, steps / far, first, to, count)
      }
      for (const { ux, uy, reach, thin } of lines) {
        const width = thin + 0.4 * scale
        const pad = 3.5 * width
        const [ex, ey] = [Math.abs(ux) * reach + pad, Math.abs(uy) * reach + pad]
        const { left, top, right, bottom } = box(cx - ex, cy - ey, cx + ex, cy + ey)
        for (let y = top; y < bottom; y++) {
          const dy = region.y + y + 0.5 - cy
          // The columns of this row that lie within the streak: |dx uy - dy ux| < pad.
          const middle = Math.abs(uy) > 1e-3 ? cx - region.x + (dy * ux) / uy : (left + right) / 2
          const half = Math.abs(uy) > 1e-3 ? pad / Math.abs(uy) + 1 : right
          const end = Math.min(right, Math.ceil(middle + half))
          for (let x = Math.max(left, Math.floor(middle - half)); x < end; x++) {
            const dx = region.x + x + 0.5 - cx
            const u = Math.abs(dx * ux + dy * uy)
            const v = (dx * uy - dy * ux) / width
            if (u < reach && v > -3.5 && v < 3.5)
              add(data, 4 * (y * region.width + x), gain, 0, bell(v * v) * (1 - u / reach) ** 2 * 0.8, tint)
          }
        }
      }
    }
  },
})

function burning(context: ContextOf<typeof flash>): Burning[] {
  const { settings, frame, parts } = context
  if (isAway(context)) return []
  const fade = settings.fade
  if (settings.when === 'frames')
    return framesIn(settings.frames).flatMap((named) => {
      const share = flashAt(frame - named, fade)
      const place = meetingAt(parts, context.member(settings.other), frame)
      const { x, y } = place ?? centreOfEffect({ ...context, scale: 1 })
      return share ? [{ x, y, share, frame: named }] : []
    })
  const other = settings.other
  const target = context.target
  return context.contacts(target, other).flatMap((contact) => {
    const share = flashAt(frame - contact.frame, fade)
    if (!share) return []
    // The place goes on with whom it rides on.
    const main = parts.find((part) => part.at(contact.frame) && part.at(frame))
    const motion = main && motionBetween(main, contact.frame, frame)
    const [x, y] = motion ? moved(motion, [contact.x, contact.y]) : [contact.x, contact.y]
    return [{ x: x!, y: y!, share, frame: contact.frame }]
  })
}

/** exp(-x) for x from 0 to 20, straight between 1/64 steps: within 4e-5. */
function bell(x: number): number {
  const at = x * 64
  const i = at | 0
  return bells[i]! + (bells[i + 1]! - bells[i]!) * (at - i)
}

function add(
  data: Float32Array,
  at: number,
  gain: number,
  white: number,
  coloured: number,
  tint: readonly number[],
): void {
  data[at]! += gain * (white + coloured * tint[0]!)
  data[at + 1]! += gain * (white + coloured * tint[1]!)
  data[at + 2]! += gain * (white + coloured * tint[2]!)
}
