import { Slot } from '../../pixels/buffers/scratch.ts'
import { intersect, isEmpty, unite } from '../../geometry/rect.ts'
import { choice, colour, number, plain, word } from '../../parameters/builders.ts'
import type { EffectKind, PictureNeed } from '../effect.ts'
import { wholePicture } from '../shared/place.ts'
import { mix } from '../shared/tools.ts'
import type { Settings } from '../../parameters/parameters.ts'

const slots = { echoPresent: new Slot(), echoCover: new Slot() }

const p = {
  count: number('count', 'Copies', '', [1, 12, 1], 4, 'How many past ones are seen.', false),
  gap: number('gap', 'Apart', 'frames', [1, 48, 1], 4, 'Frames between them.', false),
  opacity: number('strength', 'Nearest', '%', [0, 1, 0.01], 0.7, 'Opacity of the nearest copy.'),
  fade: number('fade', 'Fading', '%', [0, 1, 0.01], 0.6, 'How much fainter the farthest one is.'),
  tint: colour('tint', 'Tint', '#9fd0ff', 'Colour that they take on.'),
  tinted: number('tinted', 'Tinted', '%', [0, 1, 0.01], 0.4, 'How much of it the farthest one takes.'),
  order: choice(
    'order',
    'Lie',
    { behind: 'behind the present one', front: 'in front' },
    'Whether they cover the present one.',
  ),
}
const pictures = (settings: Settings, frame: number): PictureNeed[] =>
  Array.from({ length: Math.round(plain(settings, p.count)) }, (_, i) => ({
    ...{ media: '', frame: frame - (i + 1) * Math.round(plain(settings, p.gap)) },
  })).filter((need) => need.frame >= 0)

export const echo: EffectKind = {
  kind: 'echo',
  title: 'Echo',
  summary: 'Past copies of a performer, cut out by their own shapes then.',
  group: 'Arrangement',
  rides: null,
  alone: false,
  region: 'source',
  makes: 'picture',
  blend: 'normal',
  parameters: Object.values(p),
  sentence: () => [
    { setting: 'count' },
    { text: 'echoes of' },
    { field: 'region' },
    { setting: 'gap' },
    { text: 'apart, tinted' },
    { setting: 'tint' },
    { setting: 'order' },
    { field: 'behind' },
    { field: 'range' },
  ],
  reach(context) {
    const times = [...pictures(context.settings, context.frame).map((need) => need.frame), context.frame]
    const all = times.reduce((box, time) => unite(box, context.regionBounds(time)), { x: 0, y: 0, width: 0, height: 0 })
    return intersect(all, wholePicture(context))
  },
  looks: () => 0,
  needs: pictures,
  render(context, { data, region }) {
    const { settings, frame, scratch } = context
    const present = scratch.floats(slots.echoPresent, data.length)
    const needs = pictures(settings, frame)
    const tint = context.colour(word(settings, p.tint))
    const behind = word(settings, p.order) === 'behind'
    if (behind) present.set(data)
    // The farthest first: nearer ones cover it.
    for (const [i, need] of [...needs.entries()].reverse()) {
      const past = context.picture(need)
      if (!past) continue
      const far = needs.length > 1 ? i / (needs.length - 1) : 0
      const share = plain(settings, p.opacity) * (1 - plain(settings, p.fade) * far)
      const tinted = plain(settings, p.tinted) * far
      const there = intersect(region, context.regionBounds(need.frame))
      if (isEmpty(there)) continue
      const cover = context.region(there, slots.echoCover, need.frame)
      for (let y = there.y, at = 0; y < there.y + there.height; y++) {
        let to = 4 * ((y - region.y) * region.width + there.x - region.x)
        let from = 4 * (y * past.width + there.x)
        for (let x = 0; x < there.width; x++, at++, to += 4, from += 4) {
          const own = cover[at]! * share
          if (own === 0) continue
          for (let c = 0; c < 3; c++) {
            const v = past.data[from + c]!
            data[to + c] = mix(data[to + c]!, mix(v, v * tint[c]! * 1.5, tinted), own)
          }
        }
      }
    }
    if (!behind) return
    const cover = context.region(region, slots.echoCover, frame)
    for (let i = 0; i < cover.length; i++)
      if (cover[i]) for (let c = 0; c < 4; c++) data[4 * i + c] = mix(data[4 * i + c]!, present[4 * i + c]!, cover[i]!)
  },
}
