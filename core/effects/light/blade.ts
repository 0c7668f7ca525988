import { boundsOf, isEmpty, unite, type Rect } from '../../geometry/rect.ts'
import { clouds, hashed, noise2 } from '../../pixels/filters/noise.ts'
import type { Parameter, Settings } from '../../parameters/parameters.ts'
import { reachedTip } from '../../shapes/kinds/rod.ts'
import type { EffectContext, EffectKind, TracedPart } from '../effect.ts'
import { colour, number, plain, seedNumber, still, word } from '../../parameters/builders.ts'
import { apart, RodLight, tail, type Halo, type Pose, type Rgb, type RodLook } from './rodLight.ts'

const p = {
  strength: number(
    'strength',
    'Strength',
    '%',
    [0, 4, 0.01],
    1,
    'All of the light together; key it to swell or die down.',
  ),
  lit: number(
    'lit',
    'Lit length',
    '%',
    [0, 1, 0.01],
    1,
    'How much of the blade burns, from the heel up; key it to light it and put it out.',
  ),
  coreWidth: number('coreWidth', 'Core width', 'px', [0.5, 300, 0.5], 11, 'Thickness of the burning middle.'),
  coreEdge: number('coreEdge', 'Core edge', 'px', [0, 60, 0.5], 3, 'Softness of the core’s edge.'),
  brightness: number(
    'brightness',
    'Core light',
    '×',
    [0, 20, 0.1],
    2,
    'Light of the core; above 1 it stays white even when it smears.',
  ),
  taper: number('taper', 'Taper', '%', [0, 1, 0.01], 0.15, 'How much thinner the core is at its tip.'),
  round: number('round', 'Round tip', '%', [0, 1, 0.01], 1, 'From a cut end to a round one.'),
  reach: number(
    'reach',
    'More reach',
    'px',
    [-2000, 2000, 1],
    0,
    'Goes on past the rod’s own reach, or stops short of it.',
  ),
  flicker: number('flicker', 'Flicker', '%', [0, 1, 0.01], 0.08, 'How much the light trembles from frame to frame.'),
  seed: seedNumber,
  line: number('line', 'Outline', 'px', [0, 40, 0.5], 0, 'A line around the core in the outer colour.'),
  turns: number(
    'turns',
    'Turns colour',
    '%',
    [0, 1, 0.01],
    0,
    'How far the outer colour turns into the second one up to the tip.',
  ),
  burning: number('burning', 'Burning', '%', [0, 1, 0.01], 0, 'How unevenly it burns, in flames that flow to the tip.'),
  crackle: number(
    'crackle',
    'Crackling',
    '%',
    [0, 1, 0.01],
    0,
    'How strongly small arcs flash up on it, others on every frame.',
  ),
  flame: number('flame', 'Flame size', 'px', [2, 300, 1], 26, 'Length of the flames and arcs.'),
  flow: number('flow', 'Flow', 'px', [-200, 200, 1], 12, 'How far the flames go along it in a frame.'),
  smear: number(
    'smear',
    'Smear',
    '°',
    [0, 720, 5],
    180,
    'Shutter angle: how much of the motion between frames is seen as blur.',
  ),
  spill: number(
    'spill',
    'Spill',
    '%',
    [0, 1, 0.01],
    0.15,
    'How much of the wide halos washes over what hides the blade.',
  ),
}

const halo = {
  feather: still('feather', 'Feather', 'px', [1, 600, 1], 30, 'How far the halo fades.'),
  strength: still('strength', 'Strength', '%', [0, 4, 0.01], 0.5, 'Light in the middle of the halo.'),
}

const inside = colour('inside', 'Inside', '#ffffff', 'Colour of the core.')
const second = colour('second', 'Second', '#b46bff', 'The outer colour at the tip, as far as it turns.')
const outside = colour('outside', 'Outside', '#3f9cff', 'Colour of the halos.')

// Feathers of 3, 10, 30, 60 and 120 px at HD: common practice, no source.
const parameters: readonly Parameter[] = [
  p.strength,
  p.lit,
  inside,
  outside,
  p.coreWidth,
  p.coreEdge,
  p.brightness,
  {
    type: 'list',
    name: 'halos',
    label: 'Halos',
    item: 'halo',
    hint: 'Soft light around the core, several over each other.',
    of: [
      halo.feather,
      halo.strength,
      {
        type: 'colour',
        name: 'colour',
        label: 'Colour',
        default: '',
        inherits: 'outside',
        hint: 'Own colour of this halo.',
      },
    ],
    max: 12,
    default: [
      { feather: 3, strength: 0.9, colour: '' },
      { feather: 10, strength: 0.75, colour: '' },
      { feather: 30, strength: 0.45, colour: '' },
      { feather: 60, strength: 0.22, colour: '' },
      { feather: 120, strength: 0.1, colour: '' },
    ],
  },
  p.turns,
  second,
  p.line,
  p.taper,
  p.round,
  p.reach,
  p.burning,
  p.crackle,
  p.flame,
  p.flow,
  p.smear,
  p.flicker,
  p.seed,
  p.spill,
]

export const blade: EffectKind = {
  kind: 'blade',
  title: 'Blade',
  summary: 'A burning rod of light with a hot core and soft halos.',
  group: 'Light',
  rides: ['rod'],
  alone: false,
  region: 'none',
  makes: 'own',
  blend: 'add',
  parameters,
  sentence: () => [
    { text: 'Blade along' },
    { field: 'target' },
    { text: 'in' },
    { setting: 'outside' },
    { field: 'behind' },
    { text: 'laid on with' },
    { field: 'blend' },
    { text: 'at' },
    { field: 'opacity' },
  ],
  reach(context) {
    const halos = halosOf(context)
    const widest = halos.reduce((most, h) => Math.max(most, h.sigma), 0)
    const core =
      plain(context.settings, p.coreWidth) / 2 +
      2 * plain(context.settings, p.coreEdge) +
      plain(context.settings, p.line)
    const pad = Math.max(widest * tail, core * context.scale) + core * context.scale + 2
    let rect: Rect = { x: 0, y: 0, width: 0, height: 0 }
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
  render(context, image) {
    const gain = lightAt(context)
    if (gain <= 0 || isEmpty(image.region)) return
    const { settings, scale, scratch, blend } = context
    const core = plain(settings, p.brightness) * gain
    const light = new RodLight(
      {
        half: (plain(settings, p.coreWidth) / 2) * scale,
        // A pixel's own width softens an edge as a Gaussian of about 0.3 px does; a hard core still gets that.
        edge: Math.max(0.35, (plain(settings, p.coreEdge) / 2) * scale),
        taper: plain(settings, p.taper),
        round: plain(settings, p.round),
        core: context.colour(word(settings, inside)).map((c) => c * core) as Rgb,
        line: plain(settings, p.line) * scale,
        lineLight: context.colour(word(settings, outside)).map((c) => c * gain) as Rgb,
        texture: textureOf(context),
        halos: halosOf(context).map((halo) => ({
          ...halo,
          light: halo.light.map((c) => c * gain) as Rgb,
          tipLight: halo.tipLight.map((c) => c * gain) as Rgb,
        })),
        spill: plain(settings, p.spill),
        blend: blend === 'screen' ? 'screen' : 'add',
      },
      image.region,
      scratch,
    )
    for (const part of context.parts) light.add(motionOf(part, context))
    light.layOn(image)
  },
}

/** Strength at the frame with its flicker. */
function lightAt(context: EffectContext): number {
  const strength = plain(context.settings, p.strength)
  const tremble = plain(context.settings, p.flicker)
  const seed = plain(context.settings, p.seed)
  return strength * (1 - tremble * hashed(context.frame, seed)) * context.opacity
}

function halosOf({ settings, scale, colour }: EffectContext): Halo[] {
  const rows = (Array.isArray(settings.halos) ? settings.halos : []) as Settings[]
  return rows.map((row) => {
    const fullSigma = plain(row, halo.feather) / 2
    const strength = plain(row, halo.strength)
    const [r, g, b] = colour(String(row.colour || word(settings, outside)))
    const light: Rgb = [r * strength, g * strength, b * strength]
    const turns = plain(settings, p.turns)
    const tip = colour(word(settings, second)).map((v, k) => light[k]! + (v * strength - light[k]!) * turns) as Rgb
    return { sigma: fullSigma * scale, fullSigma, light, tipLight: tip }
  })
}

/** How unevenly it burns at a place of the rod (pixels at the scale, along from the heel and across); null for evenly. */
function textureOf({ settings, scale, frame }: EffectContext): RodLook['texture'] {
  const [burning, crackle] = [plain(settings, p.burning), plain(settings, p.crackle)]
  if (!burning && !crackle) return null
  const size = plain(settings, p.flame) * scale
  const flow = plain(settings, p.flow) * scale
  const seed = plain(settings, p.seed)
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
function motionOf(part: TracedPart, context: EffectContext): Pose[] {
  const { settings, frame, scale } = context
  const shutter = plain(settings, p.smear) / 360
  const reach = plain(part.settings, reachOfPart) + plain(settings, p.reach)
  const lit = plain(settings, p.lit)
  const pose = (time: number): Pose | null => {
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
  const step = Math.max(1, plain(settings, p.coreEdge) * scale)
  const count = Math.max(1, Math.min(64, Math.ceil(travel / step)))
  const poses: Pose[] = []
  for (let i = 0; i < count; i++) {
    const q = pose(frame + shutter * ((i + 0.5) / count - 0.5))
    if (q) poses.push(q)
  }
  return poses
}

const reachOfPart = still('reach', 'Reach', 'px', [0, 2000, 1], 0, '')
