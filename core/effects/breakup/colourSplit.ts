import { Slot } from '../../pixels/buffers/scratch.ts'
import { span } from '../../pixels/kernels/interface.ts'
import { movedFirst, resampleAffine, turnAbout } from '../../pixels/filters/warp.ts'
import { choice, number, plain, still, word } from '../../parameters/builders.ts'
import { aboutSomebody } from '../shared/forms.ts'
import type { EffectKind } from '../effect.ts'
import { centreOfEffect } from '../shared/place.ts'
import { radians } from '../shared/tools.ts'

const slots = { splitSource: new Slot(), splitMoved: new Slot() }

const p = {
  amount: number(
    'amount',
    'Split',
    'px',
    [0, 200, 0.5],
    8,
    'How far red and blue come apart; along the radius: at the picture’s edge.',
  ),
  way: choice(
    'way',
    'Way',
    { radius: 'along the radius', angle: 'at an angle' },
    'Away from the middle, or all one way.',
  ),
  angle: number('angle', 'Angle', '°', [-180, 180, 1], 0, 'The one way.'),
  blur: number('blur', 'Blur', '%', [0, 1, 0.01], 0.5, 'From three copies to a whole spectrum.'),
  samples: still('samples', 'Samples', '', [3, 24, 1], 9, 'Steps of the spectrum.'),
}

export const colourSplit: EffectKind = {
  kind: 'colourSplit',
  title: 'Colour split',
  summary: 'Colours come apart along the radius or at an angle, as in a cheap lens.',
  group: 'Breakup',
  ...aboutSomebody,
  parameters: Object.values(p),
  sentence: () => [
    { text: 'Split colours by' },
    { setting: 'amount' },
    { setting: 'way' },
    { text: 'about' },
    { field: 'target' },
    { field: 'region' },
    { field: 'range' },
  ],
  looks: ({ settings, scale }) => 2 * plain(settings, p.amount) * scale + 2,
  render(context, { data, region }) {
    const { settings, scale, scratch, size } = context
    const amount = plain(settings, p.amount) * scale
    if (amount <= 0) return
    const { x: cx, y: cy } = centreOfEffect(context)
    const unit = 2 / Math.hypot(size.width, size.height)
    const radial = word(settings, p.way) === 'radius'
    const angle = radians(plain(settings, p.angle))
    const [ux, uy] = [Math.cos(angle), Math.sin(angle)]
    const blur = plain(settings, p.blur)
    const count = blur > 0 ? Math.round(plain(settings, p.samples)) : 3
    const source = scratch.floats(slots.splitSource, data.length)
    const moved = scratch.floats(slots.splitMoved, data.length)
    source.set(data)
    data.fill(0)
    const totals = [0, 0, 0, 0]
    const steps = Array.from({ length: count }, (_, k) => {
      const at = count > 1 ? (2 * k) / (count - 1) - 1 : 0
      const weights = [spectrum(at + 1, blur), spectrum(at, blur), spectrum(at - 1, blur), 1]
      weights.forEach((w, c) => (totals[c]! += w))
      return { at, weights }
    })
    for (const { at, weights } of steps) {
      const far = at * amount
      const map = radial ? turnAbout(cx, cy, 0, 1 + far * unit) : movedFirst(turnAbout(0, 0, 0, 1), far * ux, far * uy)
      resampleAffine({ data: source, region }, { data: moved, region }, map, 'stretched', scratch)
      const [r, g, b, a] = weights.map((w, c) => w / totals[c]!) as [number, number, number, number]
      scratch.kernels.addTinted(span(moved), span(data), region.width * region.height, [r, g, b, a])
    }
  },
}

/** How much of a colour lies at a distance from its own place in the spectrum, as a triangle as wide as the blur. */
const spectrum = (away: number, blur: number): number => Math.max(0, 1 - Math.abs(away) / Math.max(0.05, blur))
