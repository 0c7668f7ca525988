import { inflate, intersect, isEmpty } from '../../geometry/rect.ts'
import { Slot } from '../../pixels/buffers/scratch.ts'
import { signedDistance } from '../../pixels/filters/distance.ts'
import { choice, colour, number, plain, word } from '../../parameters/builders.ts'
import { laidOn } from '../shared/forms.ts'
import type { EffectKind } from '../effect.ts'
import { clip } from '../shared/tools.ts'

const slots = { outlineCover: new Slot(), outlineDistance: new Slot() }

const p = {
  width: number('width', 'Width', 'px', [0.5, 200, 0.5], 3, 'Thickness of the line.'),
  tint: colour('tint', 'Colour', '#b8f0ff', 'Colour of the line.'),
  light: number('light', 'Light', '×', [0, 20, 0.1], 1, 'Brightness; above 1 it glows in what follows.'),
  lies: choice(
    'lies',
    'Lies',
    { on: 'on the edge', outside: 'outside', inside: 'inside' },
    'On which side of the edge.',
  ),
  away: number('away', 'Away', 'px', [0, 300, 0.5], 0, 'Distance of the line from the edge.'),
  soften: number('soften', 'Softness', 'px', [0, 100, 0.5], 1, 'How softly the line ends.'),
}

export const outlineLine: EffectKind = {
  kind: 'outlineLine',
  title: 'Outline',
  summary: 'A line along the edge of shapes, on it, outside or inside.',
  group: 'Colour',
  rides: null,
  alone: false,
  region: 'source',
  makes: 'layer',
  blend: 'normal',
  parameters: Object.values(p),
  sentence: () => [
    { text: 'Outline' },
    { field: 'region' },
    { text: 'with' },
    { setting: 'width' },
    { setting: 'tint' },
    { setting: 'lies' },
    ...laidOn,
  ],
  reach(context) {
    const bounds = context.regionBounds()
    const { settings, scale } = context
    const far = plain(settings, p.width) + plain(settings, p.away) + plain(settings, p.soften) + 2
    return isEmpty(bounds) ? bounds : inflate(bounds, far * scale)
  },
  render(context, { data, region }) {
    const { settings, scale, scratch } = context
    // Distances are dear: only about what is outlined.
    const near = intersect(region, outlineLine.reach(context))
    if (isEmpty(near)) return
    const cover = context.region(near, slots.outlineCover)
    const distance = signedDistance(
      { data: cover, width: near.width, height: near.height },
      scratch,
      slots.outlineDistance,
    )
    const half = (plain(settings, p.width) / 2) * scale
    const away = plain(settings, p.away) * scale
    const lies = word(settings, p.lies)
    const middle = lies === 'outside' ? half + away : lies === 'inside' ? -half - away : away
    const soft = Math.max(1, plain(settings, p.soften) * scale)
    const light = plain(settings, p.light)
    const tint = context.colour(word(settings, p.tint)).map((v) => v * light)
    for (let y = 0, i = 0; y < near.height; y++) {
      let to = 4 * ((near.y + y - region.y) * region.width + near.x - region.x)
      for (let x = 0; x < near.width; x++, i++, to += 4) {
        const share = clip((half - Math.abs(distance[i]! - middle)) / soft + 0.5)
        if (share === 0) continue
        for (let c = 0; c < 3; c++) data[to + c] = tint[c]! * share
        data[to + 3] = share
      }
    }
  },
}
