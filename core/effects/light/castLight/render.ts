import { noRect, type Rect } from '../../../geometry/rect.ts'
import { Slot } from '../../../pixels/buffers/scratch.ts'
import { toEncoded } from '../../../pixels/colour/transfer.ts'
import { span } from '../../../pixels/kernels/interface.ts'
import { signedDistance } from '../../../pixels/filters/distance.ts'
import { reachedTip, rodReach } from '../../../shapes/kinds/rod.ts'
import { type ContextOf, rendererOf, type SettingsOfKind } from '../../effect.ts'
import { isAway, wholePicture } from '../../shared/place.ts'
import { clip, coarseGrid, coverOfParts, mix } from '../../shared/tools.ts'
import type { blade } from '../blade/blade.ts'
import { strengthOf } from '../blade/strength.ts'
import { castLight } from './castLight.ts'

/** A blade's card on the same member. */
interface BladeThere {
  settings: SettingsOfKind<typeof blade>
  opacity: number
}

const slots = { lightFall: new Slot(), reflected: new Slot(), lightCover: new Slot(), lightDistance: new Slot() }

export const renderCastLight = rendererOf(castLight, {
  bounds: (context) =>
    isAway(context) || sourceOf(context).light.every((v) => v <= 0) ? noRect : wholePicture(context),
  sampleRadius: () => 0,
  draw(context, { data, region }) {
    const { settings, light, scratch } = context
    const half = settings.distance
    const source = sourceOf(context)
    const table = scratch.floats(slots.reflected, tones + 1)
    table.set(reflected(settings.dark, settings.haze, light === 'linear'))
    const { nodes, step, goTo } = fallOver(context, source, region, half)
    const fallen = { nodes, step, light: source.light, table, root: light === 'linear' }
    for (let y = 0; y < region.height; y++) {
      goTo(y)
      scratch.kernels.litRow(span(data, 4 * y * region.width), region.width, fallen)
    }
  },
  shade(context) {
    const { settings, light, scale, parts, frame } = context
    // How far it is to an outline is found on a grid, by the core.
    if (parts.some((part) => part.kind !== 'rod' && part.at(frame))) return null
    const source = sourceOf(context)
    const rods = rodsOf(context, source)
    const { dark, haze, distance } = settings
    const root = light === 'linear' ? 1 : 0
    return {
      wgsl,
      work: 60 + 20 * rods.length,
      numbers: [rods.length, distance * scale, ...source.light, dark, haze, root, ...rods.flat()],
    }
  },
})

const wgsl = /* wgsl */ `
fn shade(place: vec2f, under: vec4f, hidden: f32) -> vec4f {
  var nearest = 1e9;
  for (var i = 0u; i < u32(numbers[0]); i++) {
    let a = vec2f(numbers[8u + 4u * i], numbers[9u + 4u * i]);
    let b = vec2f(numbers[10u + 4u * i], numbers[11u + 4u * i]) - a;
    let u = clamp(dot(place - a, b) / max(dot(b, b), 1e-12), 0.0, 1.0);
    nearest = min(nearest, length(place - a - u * b));
  }
  let d = nearest / numbers[1];
  let near = 1.0 / (1.0 + d * d);
  if (near < 0.002) { return under; }
  let light = clamp(luminance(under.rgb), 0.0, 1.0);
  let dark = numbers[5];
  let least = dark * 0.18;
  let took = least + (1.0 - least) * select(light, encoded(light), numbers[7] > 0.5);
  let own = took * took * 0.12 * dark + numbers[6];
  return vec4f(under.rgb + near * vec3f(numbers[2], numbers[3], numbers[4]) * (under.rgb + own), under.a);
}
`

/** Tones that reflect differently: finer than what is seen of them, as at most an eighth of a colour comes back. */
const tones = 1024
/** Light that comes back beside what a pixel's own colour takes, for each tone; of linear light by its square root. */
function reflected(dark: number, haze: number, linear: boolean): Float32Array {
  const least = dark * 0.18
  return Float32Array.from({ length: tones + 1 }, (_, i) => {
    const tone = (i + 0.5) / tones
    // What is bright in the plate reflects: a face takes the light, a dark coat hardly.
    const took = least + (1 - least) * clip(linear ? toEncoded(tone * tone) : tone)
    return took * took * 0.12 * dark + haze
  })
}

/** What gives the light: its working values, and how much of each rod burns, with how many pixels more than its own reach. */
interface Source {
  light: [number, number, number]
  lit: number
  reach: number
}

/** The blades on the member, as bright as they are together and as far as the longest of them burns; else the card's own colour. */
function sourceOf(context: ContextOf<typeof castLight>): Source {
  const { source, strength, tint } = context.settings
  const blades = source === 'own' ? [] : (context.cardsThere('blade') as BladeThere[])
  if (!blades.length) return { light: inLight(context.colour(tint), strength), lit: 1, reach: 0 }
  const light: Source['light'] = [0, 0, 0]
  let [lit, reach] = [0, 0]
  for (const { settings, opacity } of blades) {
    const gain = strengthOf(settings, context.frame) * opacity
    if (gain <= 0 || settings.lit <= 0) continue
    const [heel, tip] = [context.colour(settings.outside), context.colour(settings.second)]
    // Of a blade that changes its colour up to the tip the mean falls on what is near.
    for (let c = 0; c < 3; c++) light[c]! += (heel[c]! + (tip[c]! - heel[c]!) * (settings.turns / 2)) * gain * strength
    if (settings.lit > lit) ({ lit, reach } = settings)
  }
  return { light, lit, reach }
}
const inLight = ([r, g, b]: Source['light'], by: number): Source['light'] => [r * by, g * by, b * by]

/**
 * How much of the light is left, by the distance to it: on a mesh of four or eight full-size pixels. `nodes` holds the row that
 * it was told to go to last, one row after the other.
 */
function fallOver(context: ContextOf<typeof castLight>, source: Source, region: Rect, half: number) {
  const { scale, scratch } = context
  // Light that reaches far falls off slowly: it is straight over more pixels.
  const step = Math.max(1, Math.round((half >= 60 ? 8 : 4) * scale))
  const distance = distanceToLight(context, source, region)
  const columns = Math.ceil(region.width / step) + 2
  const rows = [new Float32Array(columns), new Float32Array(columns)] as [Float32Array, Float32Array]
  const nodes = scratch.floats(slots.lightFall, columns)
  const ask = (row: number, line: Float32Array) => {
    for (let k = 0; k < columns; k++) {
      const d = distance(region.x + k * step + 0.5, region.y + row * step + 0.5) / scale / half
      line[k] = 1 / (1 + d * d)
    }
  }
  ask(0, rows[1])
  const goTo = (y: number) => {
    if (y % step === 0) {
      rows.reverse()
      ask(y / step + 1, rows[1])
    }
    const v = (y % step) / step
    const [above, below] = rows
    for (let k = 0; k < columns; k++) nodes[k] = above[k]! + (below[k]! - above[k]!) * v
  }
  return { nodes, step, goTo }
}

/** What burns of the rods: heels and ends in pixels at the scale. */
function rodsOf({ parts, frame, scale }: ContextOf<typeof castLight>, { lit, reach }: Pick<Source, 'lit' | 'reach'>) {
  return parts.flatMap((part) => {
    const points = part.kind === 'rod' ? part.at(frame) : null
    if (!points) return []
    const [hx, hy] = points as [number, number]
    const [tx, ty] = reachedTip(points, rodReach(part.settings) + reach)
    return [[hx * scale, hy * scale, (hx + (tx - hx) * lit) * scale, (hy + (ty - hy) * lit) * scale] as const]
  })
}

/** Distance in pixels (at the scale) from a place to the nearest light: exact for rods, by a coarse grid for others. */
function distanceToLight(context: ContextOf<typeof castLight>, { lit, reach }: Source, region: Rect) {
  const { parts, frame, scale, scratch } = context
  const rods = rodsOf(context, { lit, reach })
  const others = parts.filter((part) => part.kind !== 'rod' && part.at(frame))
  const grid = others.length ? coarseGrid(context, region, 0) : null
  const distanceOn = ({ rect, scale }: NonNullable<typeof grid>) => {
    const data = coverOfParts(others, frame, scale, rect, scratch, slots.lightCover)
    return signedDistance({ data, width: rect.width, height: rect.height }, scratch, slots.lightDistance)
  }
  const field = grid ? distanceOn(grid) : null
  const ratio = grid ? grid.scale / scale : 1
  return (x: number, y: number): number => {
    let nearest = Infinity
    for (let k = 0; k < rods.length; k++) {
      const rod = rods[k]!
      const ux = rod[2] - rod[0]
      const uy = rod[3] - rod[1]
      const size = ux * ux + uy * uy
      const u = size ? clip(((x - rod[0]) * ux + (y - rod[1]) * uy) / size) : 0
      const dx = x - rod[0] - u * ux
      const dy = y - rod[1] - u * uy
      nearest = Math.min(nearest, Math.sqrt(dx * dx + dy * dy))
    }
    if (grid && field) nearest = Math.min(nearest, Math.max(0, between(field, grid.rect, x * ratio, y * ratio) / ratio))
    return nearest
  }
}

/** A field over a grid at a place, bilinearly; its edge beyond it. */
function between(field: Float32Array, rect: Rect, x: number, y: number): number {
  const gx = Math.max(0, Math.min(rect.width - 1.001, x - rect.x - 0.5))
  const gy = Math.max(0, Math.min(rect.height - 1.001, y - rect.y - 0.5))
  const [i, j] = [gx | 0, gy | 0]
  const at = j * rect.width + i
  const top = mix(field[at]!, field[at + 1]!, gx - i)
  return mix(top, mix(field[at + rect.width]!, field[at + rect.width + 1]!, gx - i), gy - j)
}
