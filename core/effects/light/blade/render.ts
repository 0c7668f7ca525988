import { boundsOf, isEmpty, noRect, type Rect, unite } from '../../../geometry/rect.ts'
import { clouds, noise2 } from '../../../pixels/filters/noise.ts'
import { reachedTip, rodReach } from '../../../shapes/kinds/rod.ts'
import type { TracedPart } from '../../../shapes/traced.ts'
import { type ContextOf, rendererOf } from '../../effect.ts'
import { blade } from './blade.ts'
import { strengthOf } from './strength.ts'
import { colourWay } from '../../shared/stops.ts'
import { apart, type BladePose, type Halo, type Rgb, RodLight, type RodStyle, strokesOf, tail } from './rodLight.ts'
import { rodShading } from './rodShading.ts'

type Context = ContextOf<typeof blade>

export const renderBlade = rendererOf(blade, {
  bounds(context) {
    const halos = halosOf(context)
    const widest = halos.reduce((most, h) => Math.max(most, h.sigma), 0)
    const core = context.settings.coreWidth / 2 + 2 * context.settings.coreEdge + context.settings.line
    const pad = Math.max(widest * tail, core * context.scale) + core * context.scale + 2
    let rect: Rect = noRect
    if (lightAt(context) <= 0) return rect
    for (const part of context.parts) {
      const ends = motionOf(part, context).flatMap((pose) => [
        pose.x,
        pose.y,
        pose.x + pose.ux * pose.length,
        pose.y + pose.uy * pose.length,
      ])
      if (ends.length) rect = unite(rect, boundsOf(ends, pad))
    }
    return rect
  },
  draw(context, image) {
    const gain = lightAt(context)
    if (gain <= 0 || isEmpty(image.region)) return
    const light = new RodLight(styleOf(context, gain), image.region, context.scratch)
    for (const part of context.parts) light.add(motionOf(part, context))
    light.layOn(image)
  },
  shade(context) {
    const style = styleOf(context, lightAt(context))
    // Flames are clouds of noise, which the core draws.
    if (style.texture) return null
    const strokes = context.parts.map((part) => motionOf(part, context)).filter((poses) => poses.length)
    return rodShading(
      style,
      strokes.map((poses) => strokesOf(style, poses)),
    )
  },
})

function styleOf(context: Context, gain: number): RodStyle {
  const { settings, scale, blend } = context
  const core = settings.brightness * gain
  return {
    half: (settings.coreWidth / 2) * scale,
    // A pixel's own width softens an edge as a Gaussian of about 0.3 px does; a hard core still gets that.
    edge: Math.max(0.35, (settings.coreEdge / 2) * scale),
    taper: settings.taper,
    round: settings.round,
    core: context.colour(settings.inside).map((c) => c * core) as Rgb,
    line: settings.line * scale,
    lineLight: context.colour(settings.outside).map((c) => c * gain) as Rgb,
    texture: textureOf(context),
    halos: halosOf(context).map((halo) => ({
      ...halo,
      light: halo.light.map((c) => c * gain) as Rgb,
      way: halo.way && halo.way.map((c) => c * gain),
    })),
    spill: settings.spill,
    blend: blend === 'screen' ? 'screen' : 'add',
  }
}

/** Strength at the frame, as far as the card is there. */
const lightAt = (context: Context): number => strengthOf(context.settings, context.frame) * context.opacity

function halosOf(context: Context): Halo[] {
  const { settings, scale, colour } = context
  const { between, second } = settings
  // Who puts colours on its way wants to see them.
  const turns = settings.turns || (between.length ? 1 : 0)
  return settings.halos.map(({ feather, strength, colour: own }) => {
    const fullSigma = feather / 2
    const heel = own || settings.outside
    const light = colour(heel).map((v) => v * strength) as Rgb
    const way = turns ? colourWay(context, heel, between, second) : null
    way?.forEach((v, i) => (way[i] = light[i % 3]! + (v * strength - light[i % 3]!) * turns))
    return { sigma: fullSigma * scale, fullSigma, light, way }
  })
}

/** How unevenly it burns at a place of the rod (pixels at the scale, along from the heel and across); null for evenly. */
function textureOf({ settings, scale, frame }: Context): RodStyle['texture'] {
  const [burning, crackle] = [settings.burning, settings.crackle]
  if (!burning && !crackle) return null
  const size = settings.flame * scale
  const flow = settings.flow * scale
  const seed = settings.seed
  return (along, across) => {
    // Flames are longer than wide. Noise lies about a half; the share around it is what burns more or less.
    const flame = clouds((along - flow * frame) / size, across / (0.4 * size) + 0.11 * frame, seed + 7)
    let gain = Math.max(0, 1 + burning * 4 * (flame - 0.5))
    if (crackle) {
      // A thin ridge of noise, drawn anew on every frame.
      const ridge = 1 - Math.abs(2 * noise2(along / size, across / (0.25 * size), seed + 31 * frame) - 1)
      gain *= 1 + crackle * (5 * ridge ** 10 - 0.25)
    }
    return gain
  }
}

/** The lit rod at moments evenly spread over the shutter, dense enough for the narrowest thing that is drawn. */
function motionOf(part: TracedPart, context: Context): BladePose[] {
  const { settings, frame, scale } = context
  const shutter = settings.smear / 360
  const reach = rodReach(part.settings) + settings.reach
  const lit = settings.lit
  const pose = (time: number): BladePose | null => {
    const points = part.at(time)
    if (!points || lit <= 0) return null
    const [hx, hy] = points as [number, number]
    const [tx, ty] = reachedTip(points, reach)
    const length = Math.hypot(tx - hx, ty - hy)
    if (length <= 0) return null
    return {
      x: hx * scale,
      y: hy * scale,
      ux: (tx - hx) / length,
      uy: (ty - hy) / length,
      length: length * scale * lit,
    }
  }
  if (!part.at(frame)) return []
  const ends = [pose(frame - shutter / 2), pose(frame), pose(frame + shutter / 2)].filter((q) => q !== null)
  const travel = ends.slice(1).reduce((sum, q, i) => sum + apart(ends[i]!, q), 0)
  // Steps of the edge's softness blend without ripples; a hard edge needs a step a pixel.
  const step = Math.max(1, settings.coreEdge * scale)
  const count = Math.max(1, Math.min(64, Math.ceil(travel / step)))
  const poses: BladePose[] = []
  for (let i = 0; i < count; i++) {
    const q = pose(frame + shutter * ((i + 0.5) / count - 0.5))
    if (q) poses.push(q)
  }
  return poses
}
