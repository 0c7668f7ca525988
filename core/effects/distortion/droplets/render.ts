import { boundsOf, intersect, type Rect } from '../../../geometry/rect.ts'
import { Slot } from '../../../pixels/buffers/scratch.ts'
import { type ContextOf, rendererOf } from '../../effect.ts'
import { alive, flierAt } from '../../shared/fliers.ts'
import { clip, mix } from '../../shared/tools.ts'
import { droplets } from './droplets.ts'

const slots = { field: new Slot() }

/** Numbers of the field of a pixel: how much of drops is there, its slope across and down, and their size weighted by it. */
const perPixel = 4
/** Where the field of one drop ends, in its sizes: its surface lies where the field is {@link surface}. */
export const surface = 0.25
const end = 1 / Math.sqrt(1 - surface ** (1 / 3))
/** Share of its life over which a drop swells out of the edge, and over which it bursts. */
const [swelling, bursting] = [0.2, 0.12]
/** Where the lamp stands that shines in every drop, as a direction: left, above and before it. */
const lamp = [-0.42, -0.56, 0.71] as const
const gloss = 60
/** Facing the lamp by less than this nothing of it is seen. */
const darkest = 0.85

interface Drop {
  x: number
  y: number
  radius: number
  /** How much of it is left while it bursts, 0..1. */
  share: number
}

/** Drops of a frame that was asked for: how far they reach is asked before they are drawn. */
const known = new WeakMap<ContextOf<typeof droplets>, Drop[]>()

function dropsOf(context: ContextOf<typeof droplets>): Drop[] {
  const { settings, frame, scale } = context
  const kept = known.get(context)
  if (kept) return kept
  const drops = alive(context).map((one): Drop => {
    const u = (frame - one.born) / one.life
    const { x, y } = flierAt(one, context, frame)
    const swollen = Math.min(1, u / swelling)
    const burst = clip((u - 1 + bursting) / bursting)
    const size = one.size * swollen * (2 - swollen) * mix(1, settings.grow, u * u) * (1 + 0.5 * burst)
    return { x: x * scale, y: y * scale, radius: Math.max(0.01, size * scale), share: 1 - burst }
  })
  known.set(context, drops)
  return drops
}

/**
 * Fields that fall off with the distance are added up, and drops are where the sum is high: those that meet run together (Wyvill,
 * McPheeters and Wyvill, "Data Structure for Soft Objects", 1986). Towards its edge a drop shows more and more of what lies beyond.
 */
export const renderDroplets = rendererOf(droplets, {
  bounds: (context) => reachOf(dropsOf(context)),
  sampleRadius(context) {
    const most = dropsOf(context).reduce((far, { radius }) => Math.max(far, radius), 0)
    return Math.ceil(2 * end * Math.abs(context.settings.bend) * most) + 2
  },
  draw(context, { data, region, under }) {
    const { settings, scratch } = context
    const drops = dropsOf(context)
    if (!drops.length) return
    const { width } = region
    const rect = intersect(reachOf(drops), region)
    const field = scratch.floats(slots.field, perPixel * rect.width * rect.height, true)
    for (const drop of drops) addDrop(field, rect, drop)
    // The picture before them, which is what they bend.
    const { data: source, region: whole } = under!
    const [offX, offY] = [region.x - whole.x, region.y - whole.y]
    const [red, green, blue] = context.colour(settings.tint)
    const { bend, shine, shade } = settings
    // Plain numbers in the loop: it runs for every pixel of every drop.
    const [left, top] = [rect.x - region.x, rect.y - region.y]
    for (let y = top, i = 0; y < top + rect.height; y++) {
      let at = 4 * (y * width + left)
      for (let x = left; x < left + rect.width; x++, i += perPixel, at += 4) {
        const amount = field[i]!
        if (amount < surface / 2) continue
        const across = field[i + 1]!
        const down = field[i + 2]!
        const slope = Math.sqrt(across * across + down * down)
        // Half a pixel on either side of the surface is its edge.
        const cover = clip((amount - surface) / Math.max(1e-4, slope) + 0.5)
        if (cover === 0) continue
        const rim = 1 - clip((amount - surface) / (1 - surface))
        const nx = slope > 1e-6 ? -across / slope : 0
        const ny = slope > 1e-6 ? -down / slope : 0
        const by = (bend * field[i + 3]! * rim * rim) / amount
        const facing = rim * (nx * lamp[0] + ny * lamp[1]) + Math.sqrt(Math.max(0, 1 - rim * rim)) * lamp[2]
        const light = facing > darkest ? shine * facing ** gloss : 0
        const kept = 1 - shade * rim * rim * rim
        let px = offX + x + nx * by
        let py = offY + y + ny * by
        px = px < 0 ? 0 : px > whole.width - 1 ? whole.width - 1 : px
        py = py < 0 ? 0 : py > whole.height - 1 ? whole.height - 1 : py
        const ix = px | 0
        const iy = py | 0
        const s = px - ix
        const t = py - iy
        const from = 4 * (iy * whole.width + ix)
        const right = ix + 1 < whole.width ? 4 : 0
        const below = iy + 1 < whole.height ? 4 * whole.width : 0
        for (let c = 0; c < 3; c++) {
          const k = from + c
          const high = source[k]! + (source[k + right]! - source[k]!) * s
          const low = source[k + below]! + (source[k + below + right]! - source[k + below]!) * s
          const behind = (high + (low - high) * t) * kept * (c === 0 ? red : c === 1 ? green : blue) + light
          data[at + c]! += (behind - data[at + c]!) * cover
        }
      }
    }
  },
})

/** Pixels in which drops lie. */
const reachOf = (drops: readonly Drop[]): Rect =>
  boundsOf(
    drops.flatMap(({ x, y, radius }) => [x - end * radius, y - end * radius, x + end * radius, y + end * radius]),
    2,
  )

/** Adds the field of a drop to that of others over a region: four numbers a pixel, see {@link perPixel}. */
export function addDrop(field: Float32Array, region: Rect, { x, y, radius, share }: Drop): void {
  const far = end * radius
  const [cx, cy] = [x - region.x, y - region.y]
  const [left, right] = [Math.max(0, Math.floor(cx - far)), Math.min(region.width, Math.ceil(cx + far))]
  const [top, bottom] = [Math.max(0, Math.floor(cy - far)), Math.min(region.height, Math.ceil(cy + far))]
  for (let row = top; row < bottom; row++)
    for (let column = left; column < right; column++) {
      const dx = column + 0.5 - cx
      const dy = row + 0.5 - cy
      const near = 1 - (dx * dx + dy * dy) / (far * far)
      if (near <= 0) continue
      const i = perPixel * (row * region.width + column)
      const value = share * near * near * near
      const fall = (-6 * share * near * near) / (far * far)
      field[i]! += value
      field[i + 1]! += fall * dx
      field[i + 2]! += fall * dy
      field[i + 3]! += value * radius
    }
}
