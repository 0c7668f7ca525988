import { boundsOf, isEmpty, unite, type Rect } from '../geometry/rect.ts'
import { phi } from '../image/gaussian.ts'
import { hashed } from '../image/noise.ts'
import type { Scratch } from '../image/scratch.ts'
import { numberAt, type NumberParameter, type Parameter, type Settings } from '../model/parameters.ts'
import { reachedTip } from '../shapes/rod.ts'
import type { EffectContext, EffectKind, TracedPart, WorkingImage } from './kind.ts'

const number = (
  name: string,
  label: string,
  unit: NumberParameter['unit'],
  range: [number, number, number],
  standard: number,
  hint: string,
  keyed = false,
): NumberParameter => ({
  type: 'number',
  name,
  label,
  unit,
  min: range[0],
  max: range[1],
  step: range[2],
  default: standard,
  hint,
  ...(keyed ? { keyed } : {}),
})

const p = {
  strength: number(
    'strength',
    'Strength',
    '%',
    [0, 4, 0.01],
    1,
    'All of the light together; key it to swell or die down.',
    true,
  ),
  lit: number(
    'lit',
    'Lit length',
    '%',
    [0, 1, 0.01],
    1,
    'How much of the blade burns, from the heel up; key it to light it and put it out.',
    true,
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
  seed: number('seed', 'Flicker seed', '', [0, 9999, 1], 1, 'Another number gives another trembling.'),
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
  feather: number('feather', 'Feather', 'px', [1, 600, 1], 30, 'How far the halo fades.'),
  strength: number('strength', 'Strength', '%', [0, 4, 0.01], 0.5, 'Light in the middle of the halo.'),
}

// Feathers of 3, 10, 30, 60 and 120 px at HD: common practice, no source.
const parameters: readonly Parameter[] = [
  p.strength,
  p.lit,
  { type: 'colour', name: 'inside', label: 'Inside', default: '#ffffff', hint: 'Colour of the core.' },
  { type: 'colour', name: 'outside', label: 'Outside', default: '#3f9cff', hint: 'Colour of the halos.' },
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
  p.taper,
  p.round,
  p.reach,
  p.smear,
  p.flicker,
  p.seed,
  p.spill,
]

/** Beyond this many sigmas a halo adds less than a tenth of an 8-bit level. */
const tail = 4
/** Below this sigma (full size) a halo belongs to the near light, computed at full size with the core. */
const nearSigma = 4.8

/** A rod at one moment of the open shutter: start, unit direction and length, in pixels at the working scale. */
interface Pose {
  x: number
  y: number
  ux: number
  uy: number
  length: number
}

interface Halo {
  /** Pixels at the working scale. */
  sigma: number
  /** Sigma at full size: decides what is near light, so that every scale decides alike. */
  fullSigma: number
  light: [number, number, number]
}

export const blade: EffectKind = {
  kind: 'blade',
  title: 'Blade',
  summary: 'A burning rod of light with a hot core and soft halos.',
  rides: ['rod'],
  parameters,
  sentence(settings) {
    const outside = String(settings.outside ?? '#3f9cff')
    return [
      { text: 'Blade along' },
      { field: 'target' },
      { text: 'in' },
      { setting: 'outside', text: outside, colour: outside },
      { field: 'behind' },
      { text: 'laid on with' },
      { field: 'blend' },
      { text: 'at' },
      { field: 'opacity' },
    ]
  },
  reach(context) {
    const halos = halosOf(context)
    const widest = halos.reduce((most, h) => Math.max(most, h.sigma), 0)
    const core = numberAt(context.settings, p.coreWidth, 0) / 2 + 2 * numberAt(context.settings, p.coreEdge, 0)
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
    const light = new BladeLight(context, image.region, halosOf(context), gain)
    for (const part of context.parts) light.add(motionOf(part, context))
    light.layOn(image)
  },
}

/** Strength at the frame with its flicker. */
function lightAt(context: EffectContext): number {
  const strength = numberAt(context.settings, p.strength, context.frame)
  const tremble = numberAt(context.settings, p.flicker, context.frame)
  const seed = numberAt(context.settings, p.seed, context.frame)
  return strength * (1 - tremble * hashed(context.frame, seed)) * context.opacity
}

function halosOf({ settings, scale, colour }: EffectContext): Halo[] {
  const outside = String(settings.outside ?? '#3f9cff')
  const rows = (Array.isArray(settings.halos) ? settings.halos : []) as Settings[]
  return rows.map((row) => {
    const fullSigma = numberAt(row, halo.feather, 0) / 2
    const strength = numberAt(row, halo.strength, 0)
    const [r, g, b] = colour(String(row.colour || outside))
    return { sigma: fullSigma * scale, fullSigma, light: [r * strength, g * strength, b * strength] }
  })
}

/** The lit rod at moments evenly spread over the shutter, dense enough for the narrowest thing that is drawn. */
function motionOf(part: TracedPart, context: EffectContext): Pose[] {
  const { settings, frame, scale } = context
  const shutter = numberAt(settings, p.smear, frame) / 360
  const reach = numberAt(part.settings, reachOfPart, 0) + numberAt(settings, p.reach, frame)
  const lit = numberAt(settings, p.lit, frame)
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
  const step = Math.max(1, numberAt(settings, p.coreEdge, frame) * scale)
  const count = Math.max(1, Math.min(64, Math.ceil(travel / step)))
  const poses: Pose[] = []
  for (let i = 0; i < count; i++) {
    const q = pose(frame + shutter * ((i + 0.5) / count - 0.5))
    if (q) poses.push(q)
  }
  return poses
}

const reachOfPart = number('reach', 'Reach', 'px', [0, 2000, 1], 0, '')

/** How far the farther end moves between two poses, in pixels. */
function apart(a: Pose, b: Pose): number {
  return Math.max(
    Math.hypot(b.x - a.x, b.y - a.y),
    Math.hypot(b.x + b.ux * b.length - a.x - a.ux * a.length, b.y + b.uy * b.length - a.y - a.uy * a.length),
  )
}

/** How often the picture is halved before a halo of this sigma (pixels at the working scale) is computed. */
const levelOf = (sigma: number): number => (sigma < 4.8 ? 0 : sigma < 9.6 ? 1 : sigma < 19.2 ? 2 : sigma < 38.4 ? 3 : 4)
const levels = 4

/** A reduced picture of light: RGB floats, one cell of border on every side, so that enlarging has neighbours. */
interface Level {
  data: Float32Array
  width: number
  height: number
}

/**
 * The light of one blade over a region. The blurred profile of a rod is the product of a profile along it and one
 * across it, both Gaussian distribution functions, so no picture is ever blurred: wide halos are written straight
 * onto reduced grids, enlarged level by level and added to the narrow ones and the core at full size. The
 * variance that enlarging adds (0.1875 P^2 for cells of P pixels) is taken off before.
 */
class BladeLight {
  private readonly levels: (Level | null)[] = []
  private readonly near: Float32Array
  /** Halos that count as wide at full size but need no reduction at this scale. */
  private farFull: Float32Array | null = null
  /** Rows and columns of `near` (and `farFull`) that hold any light. */
  private lit: Rect = { x: 0, y: 0, width: 0, height: 0 }
  private readonly origin: { x: number; y: number }
  private readonly half: number
  private readonly taper: number
  private readonly round: number
  private readonly edge: number
  private readonly coreLight: [number, number, number]

  private readonly context: EffectContext
  private readonly region: Rect
  private readonly halos: Halo[]
  private readonly gain: number

  constructor(context: EffectContext, region: Rect, halos: Halo[], gain: number) {
    this.context = context
    this.region = region
    this.halos = halos
    this.gain = gain
    const { settings, scale, frame } = context
    this.half = (numberAt(settings, p.coreWidth, frame) / 2) * scale
    this.taper = numberAt(settings, p.taper, frame)
    this.round = numberAt(settings, p.round, frame)
    // A pixel's own width softens an edge as a Gaussian of about 0.3 px does; a hard core still gets that.
    this.edge = Math.max(0.35, (numberAt(settings, p.coreEdge, frame) / 2) * scale)
    const brightness = numberAt(settings, p.brightness, frame)
    this.coreLight = context.colour(String(settings.inside ?? '#ffffff')).map((c) => c * brightness) as [
      number,
      number,
      number,
    ]
    this.near = context.scratch.floats('blade near', region.width * region.height * 3, true)
    const cell = 1 << levels
    this.origin = { x: Math.floor(region.x / cell) * cell, y: Math.floor(region.y / cell) * cell }
  }

  add(poses: Pose[]): void {
    if (poses.length === 0) return
    const share = this.gain / poses.length
    const nearHalos = this.halos.filter((h) => h.fullSigma < nearSigma)
    for (const pose of poses) this.addNear(pose, share, nearHalos)
    const travel =
      poses.slice(1).reduce((sum, q, i) => sum + apart(poses[i]!, q), 0) *
      (poses.length / Math.max(1, poses.length - 1))
    for (const h of this.halos) {
      if (h.fullSigma < nearSigma) continue
      // A halo needs fewer moments than the core: steps of 0.8 sigma already blend without ripples.
      const count = Math.max(1, Math.min(poses.length, Math.ceil(travel / (0.8 * h.sigma))))
      for (let i = 0; i < count; i++) {
        const pose = poses[Math.floor(((i + 0.5) * poses.length) / count)]!
        this.addFar(pose, h, this.gain / count)
      }
    }
  }

  /** Core and narrow halos of one pose, at full size, only on the pixels around the rod. */
  private addNear(pose: Pose, share: number, halos: Halo[]): void {
    const { near, region, half, taper, round, edge } = this
    const pad = Math.max(half + tail * edge, ...halos.map((h) => half + tail * h.sigma))
    const [cr, cg, cb] = this.coreLight.map((c) => c * share) as [number, number, number]
    const peaks = halos.map((h) => share / (2 * phi(half / h.sigma) - 1))
    const spread = this.strip(pose, pad, region.x, region.y, 1, region.width, region.height)
    for (let row = spread.top; row < spread.bottom; row++) {
      const [from, to] = spread.span(row)
      if (from >= to) continue
      this.note(from, row, to - from)
      const y = region.y + row + 0.5 - pose.y
      for (let column = from; column < to; column++) {
        const x = region.x + column + 0.5 - pose.x
        const u = x * pose.ux + y * pose.uy
        const v = Math.abs(y * pose.ux - x * pose.uy)
        const along = u < 0 ? 0 : u > pose.length ? pose.length : u
        const h = half * (1 - (taper * along) / pose.length)
        const beyond = u - along
        const rounded = Math.sqrt(beyond * beyond + v * v) - h
        const cut = Math.max(v - h, Math.abs(beyond) > 0 ? Math.abs(beyond) : -1e3)
        const distance = beyond > 0 ? round * rounded + (1 - round) * cut : rounded
        const core = phi(-distance / edge)
        const at = 3 * (row * region.width + column)
        let r = core * cr
        let g = core * cg
        let b = core * cb
        for (let i = 0; i < halos.length; i++) {
          const { sigma, light } = halos[i]!
          const across = phi((v + h) / sigma) - phi((v - h) / sigma)
          const length =
            u > tail * sigma && u < pose.length - tail * sigma ? 1 : phi(u / sigma) - phi((u - pose.length) / sigma)
          const amount = across * length * peaks[i]!
          r += amount * light[0]
          g += amount * light[1]
          b += amount * light[2]
        }
        near[at]! += r
        near[at + 1]! += g
        near[at + 2]! += b
      }
    }
  }

  /** A wide halo of one pose on the grid of its level, from two tables. */
  private addFar(pose: Pose, { sigma, light }: Halo, share: number): void {
    const level = levelOf(sigma)
    const cell = 1 << level
    let added = 0
    for (let k = 1; k <= level; k++) added += 0.1875 * 4 ** k
    const s = Math.sqrt(sigma * sigma - added)
    const half = this.half * (1 - this.taper / 2)
    const reach = half + tail * s
    // Normalised so that the strength is the light in the middle of a long blade, whatever the feather.
    const peak = share / (2 * phi(half / sigma) - 1)
    const steps = 256
    const across = this.context.scratch.floats('blade across', steps + 2)
    for (let i = 0; i < steps + 2; i++) {
      const v = (i / steps) * reach
      across[i] = (phi((v + half) / s) - phi((v - half) / s)) * peak
    }
    const total = pose.length + 2 * tail * s
    const along = this.context.scratch.floats('blade along', 2 * steps + 2)
    for (let i = 0; i < 2 * steps + 2; i++) {
      const u = (i / (2 * steps)) * total - tail * s
      along[i] = phi(u / s) - phi((u - pose.length) / s)
    }
    const target = level ? this.level(level) : null
    if (!level)
      this.farFull ??= this.context.scratch.floats('blade far', this.region.width * this.region.height * 3, true)
    const data = target ? target.data : this.farFull!
    const width = target ? target.width : this.region.width
    const height = target ? target.height : this.region.height
    const left = target ? this.origin.x - cell : this.region.x
    const top = target ? this.origin.y - cell : this.region.y
    const spread = this.strip(pose, reach, left, top, cell, width, height)
    const [r, g, b] = light
    const vScale = steps / reach
    const uScale = (2 * steps) / total
    for (let row = spread.top; row < spread.bottom; row++) {
      const [from, to] = spread.span(row)
      if (from >= to) continue
      if (!level) this.note(from, row, to - from)
      const y = top + (row + 0.5) * cell - pose.y
      let at = 3 * (row * width + from)
      for (let column = from; column < to; column++, at += 3) {
        const x = left + (column + 0.5) * cell - pose.x
        const v = Math.abs(y * pose.ux - x * pose.uy) * vScale
        const u = (x * pose.ux + y * pose.uy + tail * s) * uScale
        if (v >= steps || u < 0 || u >= 2 * steps) continue
        const vi = v | 0
        const ui = u | 0
        const amount =
          (across[vi]! + (across[vi + 1]! - across[vi]!) * (v - vi)) *
          (along[ui]! + (along[ui + 1]! - along[ui]!) * (u - ui))
        data[at]! += amount * r
        data[at + 1]! += amount * g
        data[at + 2]! += amount * b
      }
    }
  }

  /** Rows and per row the columns of a grid that lie within `pad` pixels of the rod's box. */
  private strip(pose: Pose, pad: number, left: number, top: number, cell: number, width: number, height: number) {
    const ex = pose.x + pose.ux * pose.length
    const ey = pose.y + pose.uy * pose.length
    const first = Math.max(0, Math.floor((Math.min(pose.y, ey) - pad - top) / cell))
    const last = Math.min(height, Math.ceil((Math.max(pose.y, ey) + pad - top) / cell) + 1)
    const box = [Math.min(pose.x, ex) - pad, Math.max(pose.x, ex) + pad] as const
    const span = (row: number): [number, number] => {
      const y = top + (row + 0.5) * cell - pose.y
      let [from, to] = box
      // |y ux - x uy| <= pad, and -pad <= x ux + y uy <= length + pad, each an interval of x.
      if (Math.abs(pose.uy) > 1e-6) {
        const middle = (y * pose.ux) / pose.uy
        const reach = pad / Math.abs(pose.uy)
        from = Math.max(from, pose.x + middle - reach)
        to = Math.min(to, pose.x + middle + reach)
      }
      if (Math.abs(pose.ux) > 1e-6) {
        const a = (-pad - y * pose.uy) / pose.ux
        const b = (pose.length + pad - y * pose.uy) / pose.ux
        from = Math.max(from, pose.x + Math.min(a, b))
        to = Math.min(to, pose.x + Math.max(a, b))
      }
      return [Math.max(0, Math.floor((from - left) / cell)), Math.min(width, Math.ceil((to - left) / cell))]
    }
    return { top: first, bottom: last, span }
  }

  private note(x: number, y: number, width: number): void {
    this.lit = unite(this.lit, { x, y, width, height: 1 })
  }

  private level(k: number): Level {
    const known = this.levels[k]
    if (known) return known
    const cell = 1 << k
    const block = 1 << levels
    const span = (start: number, from: number, size: number) =>
      Math.ceil((start + size - from) / block) * (block / cell) + 2
    const width = span(this.region.x, this.origin.x, this.region.width)
    const height = span(this.region.y, this.origin.y, this.region.height)
    const level = { data: this.context.scratch.floats(`blade level ${k}`, width * height * 3, true), width, height }
    this.levels[k] = level
    return level
  }

  /** Enlarges from the coarsest level down to half size, adding what lies on each level on the way. */
  private gather(): Level | null {
    let coarsest = levels
    while (coarsest > 0 && !this.levels[coarsest]) coarsest--
    if (coarsest === 0) return null
    for (let k = coarsest; k > 1; k--) enlargeInto(this.level(k), this.level(k - 1), this.context.scratch)
    return this.level(1)
  }

  /** Row by row, each step a plain loop over one line of light: a branch per pixel costs more than the sums. */
  layOn({ data, region, holdout }: WorkingImage): void {
    const far = this.gather()
    const { near, farFull, lit, origin } = this
    const width3 = region.width * 3
    const coarseLine = this.context.scratch.floats('blade coarse line', far ? far.width * 3 : 0)
    // One pair of pixels more than the region holds, so that an odd start needs no case of its own.
    const fine = this.context.scratch.floats('blade fine line', width3 + 12)
    const fx = region.x - origin.x
    const keep = 1 - numberAt(this.context.settings, p.spill, this.context.frame)
    for (let row = 0; row < region.height; row++) {
      const litRow = row >= lit.y && row < lit.y + lit.height
      if (!far && !litRow) continue
      if (far) {
        const fy = region.y - origin.y + row
        const a = ((fy + 1) >> 1) * far.width * 3
        mixLines(far.data, a, a + far.width * 3, fy & 1 ? 0.25 : 0.75, coarseLine)
        enlargeLine(coarseLine, 3 * ((fx + 1) >> 1), fine, fx & 1 ? 3 : 0, region.width)
      } else fine.fill(0)
      const line = fine.subarray(3, 3 + width3)
      const start = row * region.width
      const from = 3 * lit.x
      const to = 3 * (lit.x + lit.width)
      if (litRow && farFull) for (let i = from, at = 3 * start + from; i < to; i++, at++) line[i]! += farFull[at]!
      if (holdout)
        for (let x = 0; x < region.width; x++) {
          const hidden = holdout[start + x]!
          if (hidden === 0) continue
          const left = 1 - hidden * keep
          line[3 * x]! *= left
          line[3 * x + 1]! *= left
          line[3 * x + 2]! *= left
        }
      if (litRow)
        for (let x = lit.x; x < lit.x + lit.width; x++) {
          const left = holdout ? 1 - holdout[start + x]! : 1
          const at = 3 * (start + x)
          line[3 * x]! += near[at]! * left
          line[3 * x + 1]! += near[at + 1]! * left
          line[3 * x + 2]! += near[at + 2]! * left
        }
      if (this.context.blend === 'screen') screenLine(line, data, 4 * start, region.width)
      else addLine(line, data, 4 * start, region.width)
    }
  }
}

function mixLines(data: Float32Array, a: number, b: number, weight: number, out: Float32Array): void {
  for (let i = 0; i < out.length; i++) {
    const top = data[a + i]!
    out[i] = top + (data[b + i]! - top) * weight
  }
}

/**
 * Enlarges a line of RGB by 2. The first written pair lies between the coarse cells at `from` and the next one;
 * its left pixel goes to `out[shift]`. Left pixels are 3/4 the left cell, right ones 3/4 the right.
 */
function enlargeLine(line: Float32Array, from: number, out: Float32Array, shift: number, width: number): void {
  const pairs = (width >> 1) + 1
  for (let i = 0, at = from, to = shift; i < pairs && at + 5 < line.length; i++, at += 3, to += 6) {
    const r = line[at]!
    const g = line[at + 1]!
    const b = line[at + 2]!
    const dr = (line[at + 3]! - r) * 0.25
    const dg = (line[at + 4]! - g) * 0.25
    const db = (line[at + 5]! - b) * 0.25
    out[to] = r + dr
    out[to + 1] = g + dg
    out[to + 2] = b + db
    out[to + 3] = r + 3 * dr
    out[to + 4] = g + 3 * dg
    out[to + 5] = b + 3 * db
  }
}

function addLine(line: Float32Array, data: Float32Array, to: number, width: number): void {
  for (let i = 0; i < 3 * width; i += 3, to += 4) {
    data[to]! += line[i]!
    data[to + 1]! += line[i + 1]!
    data[to + 2]! += line[i + 2]!
  }
}

/** Screen is defined on 0..1: light beyond full is full, and a picture beyond full takes no more. */
function screenLine(line: Float32Array, data: Float32Array, to: number, width: number): void {
  for (let i = 0; i < 3 * width; i += 3, to += 4) {
    for (let c = 0; c < 3; c++) {
      const behind = data[to + c]!
      const light = line[i + c]!
      if (behind < 1) data[to + c] = behind + (light > 1 ? 1 : light) * (1 - behind)
    }
  }
}

/** Adds `coarse`, enlarged by 2 with weights 3/4 and 1/4, to `fine`; both with a border of one cell. */
function enlargeInto(coarse: Level, fine: Level, scratch: Scratch): void {
  const line = scratch.floats('blade enlarged from', coarse.width * 3)
  const out = scratch.floats('blade enlarged to', fine.width * 3 + 12)
  for (let y = 0; y < fine.height; y++) {
    const a = (y >> 1) * coarse.width * 3
    const b = Math.min(coarse.height - 1, (y >> 1) + 1) * coarse.width * 3
    mixLines(coarse.data, a, b, y & 1 ? 0.75 : 0.25, line)
    enlargeLine(line, 0, out, 0, fine.width)
    const to = y * fine.width * 3
    for (let i = 0; i < fine.width * 3; i++) fine.data[to + i]! += out[i]!
  }
}
