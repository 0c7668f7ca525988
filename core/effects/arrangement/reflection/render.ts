import { inflate, intersect, isEmpty, noRect } from '../../../geometry/rect.ts'
import { Slot } from '../../../pixels/buffers/scratch.ts'
import { span } from '../../../pixels/kernels/interface.ts'
import { type ContextOf, rendererOf } from '../../effect.ts'
import { fallen, fallenBounds, whoStands } from '../../shared/ground.ts'
import { wholePicture } from '../../shared/place.ts'
import { reflection } from './reflection.ts'

const slots = { who: new Slot(), fallen: new Slot(), present: new Slot(), line: new Slot() }

const fallOf = ({ settings }: ContextOf<typeof reflection>) => ({ length: settings.length, lean: 0 })
const wavesOf = ({ settings, scale }: ContextOf<typeof reflection>) => Math.ceil(settings.waves * scale) + 1

/** What stands is laid over the ground upside down, and never over itself. */
export const renderReflection = rendererOf(reflection, {
  bounds(context) {
    if (context.settings.strength <= 0) return noRect
    const still = fallenBounds(context, fallOf(context))
    return isEmpty(still) ? noRect : intersect(inflate(still, wavesOf(context)), wholePicture(context))
  },
  sampleRadius: () => Infinity,
  draw(context, { data, region, under }) {
    const { settings, scale, scratch, frame } = context
    const who = whoStands(context)
    if (!who) return
    const { rect, cover, ground } = who
    const from = under ?? { data, region }
    const seen = intersect(rect, from.region)
    const standing = scratch.floats(slots.who, 4 * cover.length, true)
    for (let y = seen.y; y < seen.y + seen.height; y++) {
      let i = (y - rect.y) * rect.width + seen.x - rect.x
      let at = 4 * ((y - from.region.y) * from.region.width + seen.x - from.region.x)
      for (let x = 0; x < seen.width; x++, i++, at += 4) {
        const own = cover[i]!
        if (own > 0) for (let c = 0; c < 4; c++) standing[4 * i + c] = from.data[at + c]! * own
      }
    }
    const around = inflate(region, wavesOf(context))
    const laid = fallen(context, { data: standing, region: rect }, ground, fallOf(context), around, slots.fallen)
    if (!laid) return
    // A row that waves move takes its pixels from beside: what lies beyond those that are known is empty.
    const there = intersect(region, inflate(laid.region, wavesOf(context)))
    const present = context.region(there, slots.present)
    const line = scratch.floats(slots.line, 4 * there.width)
    const picture = { data: laid.data, width: laid.region.width, height: laid.region.height }
    for (let y = there.y, i = 0; y < there.y + there.height; y++) {
      const down = (y + 0.5 - ground) / scale
      const moved = settings.waves * Math.sin((2 * Math.PI * (down - settings.speed * frame)) / settings.apart) * scale
      const place = { x: there.x + 0.5 - moved - laid.region.x, y: y + 0.5 - laid.region.y, dx: 1, dy: 0 }
      scratch.kernels.sampleLine(picture, place, 'nothing', span(line), there.width)
      let to = 4 * ((y - region.y) * region.width + there.x - region.x)
      for (let x = 0; x < there.width; x++, i++, to += 4) {
        const own = line[4 * x + 3]!
        if (own <= 0) continue
        const share = settings.strength * (1 - present[i]!)
        const kept = 1 - share * own
        data[to] = data[to]! * kept + share * line[4 * x]!
        data[to + 1] = data[to + 1]! * kept + share * line[4 * x + 1]!
        data[to + 2] = data[to + 2]! * kept + share * line[4 * x + 2]!
        data[to + 3] = data[to + 3]! * kept + share * own
      }
    }
  },
})
