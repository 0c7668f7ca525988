import { intersect, noRect } from '../../../geometry/rect.ts'
import { Slot } from '../../../pixels/buffers/scratch.ts'
import { type ContextOf, rendererOf } from '../../effect.ts'
import { type Fall, fallen, fallenBounds, whoStands } from '../../shared/ground.ts'
import { radians } from '../../shared/tools.ts'
import { shadow } from './shadow.ts'

const slots = { who: new Slot(), fallen: new Slot(), present: new Slot() }

const fallOf = ({ settings: { length, lean } }: ContextOf<typeof shadow>): Fall => ({
  ...{ length, lean: Math.tan(radians(lean)) },
})

/** Light is taken from the ground, and not from who stands before it. */
export const renderShadow = rendererOf(shadow, {
  bounds: (context) => (context.settings.strength <= 0 ? noRect : fallenBounds(context, fallOf(context))),
  sampleRadius: () => 0,
  draw(context, { data, region }) {
    const { settings, scratch } = context
    const who = whoStands(context)
    if (!who) return
    const { rect, cover, ground } = who
    const standing = scratch.floats(slots.who, 4 * cover.length, true)
    for (let i = 0; i < cover.length; i++) standing[4 * i + 3] = cover[i]!
    const thrown = fallen(context, { data: standing, region: rect }, ground, fallOf(context), region, slots.fallen)
    if (!thrown) return
    const there = intersect(region, thrown.region)
    const present = context.region(there, slots.present)
    const left = context.colour(settings.tint)
    for (let y = there.y, i = 0; y < there.y + there.height; y++) {
      let from = 4 * ((y - thrown.region.y) * thrown.region.width + there.x - thrown.region.x) + 3
      let to = 4 * ((y - region.y) * region.width + there.x - region.x)
      for (let x = 0; x < there.width; x++, i++, from += 4, to += 4) {
        const taken = settings.strength * thrown.data[from]! * (1 - present[i]!)
        if (taken > 0) for (let c = 0; c < 3; c++) data[to + c]! *= 1 - taken * (1 - left[c]!)
      }
    }
  },
})
