import { Slot } from '../../../pixels/buffers/scratch.ts'
import { movedFirst, resampleAffine, turnAbout } from '../../../pixels/filters/warp.ts'
import { span } from '../../../pixels/kernels/interface.ts'
import { rendererOf } from '../../effect.ts'
import { centreOfEffect } from '../../shared/place.ts'
import { radians } from '../../shared/tools.ts'
import { colourSplit } from './colourSplit.ts'

const slots = { splitSource: new Slot(), splitMoved: new Slot() }

/** How much of a colour lies at a distance from its own place in the spectrum, as a triangle as wide as the blur. */
const spectrum = (away: number, blur: number): number => Math.max(0, 1 - Math.abs(away) / Math.max(0.05, blur))

export const renderColourSplit = rendererOf(colourSplit, {
  sampleRadius: ({ settings, scale }) => 2 * settings.amount * scale + 2,
  draw(context, { data, region }) {
    const { settings, scale, scratch, size } = context
    const amount = settings.amount * scale
    if (amount <= 0) return
    const { x: cx, y: cy } = centreOfEffect(context)
    const unit = 2 / Math.hypot(size.width, size.height)
    const radial = settings.way === 'radius'
    const angle = radians(settings.angle)
    const [ux, uy] = [Math.cos(angle), Math.sin(angle)]
    const blur = settings.blur
    const count = blur > 0 ? Math.round(settings.samples) : 3
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
})
