import { behindKnown, deviationParts, viewNumbers } from '#core/pixels/kernels/station.ts'
import type { RodPose } from '#core/tracking/rod/pose.ts'
import { asUsual, type RodView } from '#core/tracking/rod/view.ts'
import { texture } from './textures.ts'

/** A rod as it is drawn: half-size pixels, colour as (y, u, v) codes. */
export interface DrawnRod {
  pose: RodPose
  /** Where it goes to within the open shutter; stands still without. */
  to?: RodPose
  width: number
  colour: [number, number, number]
  /** A hand around its heel: a disc of this radius. */
  hand?: number
}

/** What stands behind: a texture that is even in colour. */
const behind = (x: number, y: number): number => 60 + 0.3 * (texture(9)(2 * x, 2 * y) - 128)
const skin = [150, 108, 150]
const steps = 12
const light = (code: number) => Math.max(0, code - 16) ** 2.2
const code = (linear: number) => 16 + linear ** (1 / 2.2)

/** A view of a rod before a known backdrop, blurred in linear light over `steps` moments, with a little grain. */
export function drawnRod(
  { pose, to = pose, width: w, colour, hand = 0 }: DrawnRod,
  width = 200,
  height = 160,
): RodView {
  const data = new Uint8Array(width * height * viewNumbers)
  const moments = Array.from({ length: steps }, (_, i) => {
    const u = (i + 0.5) / steps
    const at = (key: keyof RodPose) => pose[key] + u * (to[key] - pose[key])
    return { hx: at('hx'), hy: at('hy'), length: at('length'), dx: Math.cos(at('angle')), dy: Math.sin(at('angle')) }
  })
  for (let y = 0, out = 0; y < height; y++)
    for (let x = 0; x < width; x++, out += viewNumbers) {
      const back = behind(x, y)
      let [covered, held] = [0, 0]
      for (const { hx, hy, length, dx, dy } of moments)
        for (const [sx, sy] of [
          [0.25, 0.25],
          [0.75, 0.25],
          [0.25, 0.75],
          [0.75, 0.75],
        ]) {
          const [px, py] = [x + sx! - hx, y + sy! - hy]
          const along = px * dx + py * dy
          if (Math.hypot(px, py) < hand) held++
          else if (along > 0 && along < length && 2 * Math.abs(px * dy - py * dx) < w) covered++
        }
      const share = covered / (4 * steps)
      const skinned = held / (4 * steps)
      const grain = ((x * 7919 + y * 104729) % 5) - 2
      const rest = 1 - share - skinned
      data[out] = code(share * light(colour[0]) + skinned * light(skin[0]!) + rest * light(back)) + 0.5 * grain
      data[out + 1] = share * colour[1] + skinned * skin[1]! + rest * 128
      data[out + 2] = share * colour[2] + skinned * skin[2]! + rest * 128
      data.set([back, 128, 128, 3 * deviationParts, behindKnown], out + 3)
    }
  return { data, x: 0, y: 0, width, height, frame: { width, height }, wide: asUsual, light: { gain: 1, offset: 0 } }
}
