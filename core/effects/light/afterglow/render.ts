import { boundsOf, inflate, intersect, isEmpty, type Rect } from '../../../geometry/rect.ts'
import { coverPolygon } from '../../../matte/coverage.ts'
import { Slot } from '../../../pixels/buffers/scratch.ts'
import { blurPicture } from '../../../pixels/filters/blur.ts'
import { cloudField, noise1 } from '../../../pixels/filters/noise.ts'
import { span } from '../../../pixels/kernels/interface.ts'
import { reachedTip, rodReach, rodWidths } from '../../../shapes/kinds/rod.ts'
import { edgeOf, type TracedPart } from '../../../shapes/traced.ts'
import { type ContextOf, rendererOf } from '../../effect.ts'
import { along, colourWay } from '../../shared/stops.ts'
import { coverOfParts, mix, ramp } from '../../shared/tools.ts'
import { afterglow } from './afterglow.ts'

const slots = {
  trailAge: new Slot(),
  trailCover: new Slot(),
  trailOne: new Slot(),
  trailShape: new Slot(),
  trailShreds: new Slot(),
  trailSoft: new Slot(),
  trailLine: new Slot(),
}

const widestPad = ({ settings }: ContextOf<typeof afterglow>) => 2 * settings.soften + settings.wander + 4

export const renderAfterglow = rendererOf(afterglow, {
  bounds(context) {
    const places = ages(context).flatMap((age) => context.parts.flatMap((part) => past(part, context, age) ?? []))
    return boundsOf(
      places.map((v) => v * context.scale),
      widestPad(context) * context.scale,
    )
  },
  draw(context, { data, region }) {
    const { settings, scratch, parts, frame } = context
    // What is soft is worked out in cells of some pixels; in pixels of the full size, so that the small picture looks like the large one.
    const by = Math.max(1, cellOf(settings.soften / 2) * context.scale)
    const scale = context.scale / by
    const sigma = (settings.soften / 2) * scale
    const rect = inflate(cellsOver(region, by), 3.5 * sigma)
    const age = scratch.floats(slots.trailAge, rect.width * rect.height).fill(Infinity)
    const cover = scratch.floats(slots.trailCover, rect.width * rect.height, true)
    const one = scratch.floats(slots.trailOne, rect.width * rect.height)
    const steps = ages(context)
    const { length, fade } = settings
    const shareOf = (a: number) => (1 - a / length) ** fade
    for (const part of parts) {
      if (part.role !== 'add') continue
      for (let k = 1; k < steps.length; k++) {
        const [older, younger] = [past(part, context, steps[k - 1]!), past(part, context, steps[k]!)]
        if (!younger) continue
        const now = steps[k]!
        const share = shareOf(now)
        if (share <= 0) continue
        let box: Rect
        if (part.kind === 'rod') {
          if (!older) continue
          // What the rod swept between two moments, as two triangles' worth of one quad.
          const quad = [older[0]!, older[1]!, older[2]!, older[3]!, younger[2]!, younger[3]!, younger[0]!, younger[1]!]
          const { heel, tip } = rodWidths(part.at(frame - steps[k]!)!, part.settings)
          box = sweep(quad, ((heel + tip) / 4) * scale, scale, rect, one)
        } else {
          box = intersect(
            boundsOf(
              younger.map((v) => v * scale),
              2,
            ),
            rect,
          )
          if (isEmpty(box)) continue
          one.set(
            coverOfParts([part], frame - steps[k]!, scale, box, scratch, slots.trailShape).subarray(
              0,
              box.width * box.height,
            ),
          )
        }
        for (let y = 0; y < box.height; y++) {
          let to = (box.y + y - rect.y) * rect.width + box.x - rect.x
          let from = y * box.width
          for (const end = from + box.width; from < end; from++, to++) {
            const covers = one[from]!
            if (covers === 0) continue
            if (covers * share > cover[to]!) cover[to] = covers * share
            // An edge that hardly covers tells the age only where nothing older does.
            if (covers > 0.3 || age[to] === Infinity) age[to] = now
          }
        }
      }
    }
    // The age is softened along with the cover that it belongs to, so that no colour ends at an edge.
    const soft = scratch.floats(slots.trailSoft, 4 * cover.length, true)
    for (let i = 0; i < cover.length; i++) {
      if (!cover[i]) continue
      soft[4 * i] = cover[i]!
      soft[4 * i + 1] = (cover[i]! * age[i]!) / length
    }
    const source = { data: soft, width: rect.width, height: rect.height }
    if (sigma >= 0.05) blurPicture(source, sigma, 'nothing', scratch)
    const way = colourWay(context, settings.young, settings.between, settings.old)
    const { strength, breakup } = settings
    const grain = settings.grain * context.scale
    const seed = settings.seed
    const shreds = scratch.floats(slots.trailShreds, region.width * region.height)
    if (breakup > 0) cloudField(shreds, region, { size: grain, seed: seed, octaves: 2, dx: 0, dy: frame * 0.15 })
    const line = scratch.floats(slots.trailLine, 4 * region.width)
    for (let y = 0, i = 0; y < region.height; y++) {
      const from = { x: (region.x + 0.5) / by - rect.x, y: (region.y + y + 0.5) / by - rect.y, dx: 1 / by, dy: 0 }
      scratch.kernels.sampleLine(source, from, 'nothing', span(line), region.width)
      for (let x = 0; x < region.width; x++, i += 4) {
        const left = line[4 * x]!
        if (left < 1e-4) continue
        const u = line[4 * x + 1]! / left
        const whole = breakup > 0 ? mix(1, ramp(0.9 * u, 0.9 * u + 0.25, shreds[i >> 2]! + 0.15), breakup) : 1
        const light = left * whole * strength
        data[i]! += light * along(way, u, 0)
        data[i + 1]! += light * along(way, u, 1)
        data[i + 2]! += light * along(way, u, 2)
      }
    }
  },
})

/** Side of a cell in pixels of the full size for what is softened by so many: a quarter of that at the most, and 1, 2 or 4. */
const cellOf = (sigma: number): number => (sigma >= 16 ? 4 : sigma >= 4 ? 2 : 1)
/** Cells of so many pixels around a region, with one more on every side to lie between. */
function cellsOver({ x, y, width, height }: Rect, by: number): Rect {
  const [left, top] = [Math.floor(x / by) - 1, Math.floor(y / by) - 1]
  return {
    ...{ x: left, y: top },
    width: Math.ceil((x + width) / by) + 1 - left,
    height: Math.ceil((y + height) / by) + 1 - top,
  }
}

/** Ages at which past shapes are drawn, oldest first, in frames. */
function ages({ settings }: ContextOf<typeof afterglow>): number[] {
  const length = settings.length
  const count = Math.max(4, Math.min(96, Math.ceil(length * 4)))
  return Array.from({ length: count + 1 }, (_, i) => length * (1 - i / count))
}

/** A past shape's line or edge in full-size pixels, drifted by its age; null where it was not there. */
function past(part: TracedPart, context: ContextOf<typeof afterglow>, age: number): number[] | null {
  const { frame, settings } = context
  const points = part.at(frame - age)
  if (!points) return null
  const line =
    part.kind === 'rod'
      ? [points[0]!, points[1]!, ...reachedTip(points, rodReach(part.settings))]
      : edgeOf(part, frame - age)!
  const far = (settings.wander * age) / settings.length
  if (!far) return line
  const seed = settings.seed
  return line.map((v, i) => v + far * (2 * noise1((frame - age) / 5 + (i % 2) * 50, seed + ((i >> 1) % 5)) - 1))
}

/** Coverage of a swept quad, widened by half the rod's width in pixels of the picture, over its box within `rect`; the box. */
function sweep(quad: number[], half: number, scale: number, rect: Rect, out: Float32Array): Rect {
  const scaled = quad.map((v) => v * scale)
  const box = intersect(boundsOf(scaled, half + 2), rect)
  if (isEmpty(box)) return box
  const ordered = untwisted(scaled)
  coverPolygon(widened(ordered, half), box, out.subarray(0, box.width * box.height))
  return box
}

/** The quad with its far ends exchanged where its sides cross: a rod that turns about a place on itself. */
function untwisted(q: number[]): number[] {
  const cross = (ax: number, ay: number, bx: number, by: number) => ax * by - ay * bx
  const [ax, ay, bx, by, cx, cy, dx, dy] = q as [number, number, number, number, number, number, number, number]
  const one = cross(bx - ax, by - ay, cx - bx, cy - by)
  const other = cross(dx - cx, dy - cy, ax - dx, ay - dy)
  return one * other < 0 ? [ax, ay, bx, by, dx, dy, cx, cy] : q
}

/** A convex-ish polygon pushed out by `by` from its middle along the axes of its corners. */
function widened(polygon: number[], by: number): number[] {
  const n = polygon.length / 2
  let [mx, my] = [0, 0]
  for (let i = 0; i < n; i++) {
    mx += polygon[2 * i]! / n
    my += polygon[2 * i + 1]! / n
  }
  // A sweep that hardly moved is thin: its corners are pushed apart across the rod.
  const [ux, uy] = [polygon[2]! - polygon[0]!, polygon[3]! - polygon[1]!]
  const length = Math.hypot(ux, uy) || 1
  const [nx, ny] = [-uy / length, ux / length]
  return polygon.map((v, i) => {
    const k = i >> 1
    const side = (polygon[2 * k]! - mx) * nx + (polygon[2 * k + 1]! - my) * ny
    const sign = Math.abs(side) < 1e-6 ? (k < 2 ? -1 : 1) : Math.sign(side)
    return v + sign * by * (i % 2 ? ny : nx)
  })
}
