import { Slot } from '../../pixels/buffers/scratch.ts'
import { flatten, type ClosedPath } from '../../geometry/path.ts'
import { fromUnitSquare, mapped } from '../../geometry/projective.ts'
import { boundsOf, intersect, isEmpty, unite } from '../../geometry/rect.ts'
import { coverPolygons } from '../../matte/coverage.ts'
import type { TextParameter } from '../../parameters/parameters.ts'
import { faceNames, faceOf, type FaceName } from '../../text/faces.ts'
import { missingFrom, setText } from '../../text/layout.ts'
import { choice, colour, number, plain, still, word } from '../../parameters/builders.ts'
import { anyShape, laidOn } from '../shared/forms.ts'
import type { EffectContext, EffectKind } from '../effect.ts'
import { cornersOfLying, lyingSettings, placeOfLying } from '../shared/placement.ts'
import { wholePicture } from '../shared/place.ts'

const slots = { words: new Slot() }

const text: TextParameter = {
  ...{ type: 'text', name: 'text', label: 'Words', default: 'The Reed Ferry', max: 400, lines: true },
  hint: 'What is written, on one line or several.',
}
const p = {
  text,
  face: choice('face', 'Face', faceNames, 'The typeface.'),
  size: number('size', 'Size', 'px', [4, 4000, 1], 120, 'Type size.'),
  ...lyingSettings,
  tint: colour('tint', 'Colour', '#f4f1e8', 'Colour of the words.'),
  light: number('light', 'Light', '×', [0, 20, 0.05], 1, 'Brightness; above 1 it glows in what follows.'),
  shown: number(
    'shown',
    'Written',
    '%',
    [0, 1, 0.005],
    1,
    'How many of the characters stand there; keyed they are written.',
  ),
  spacing: number('spacing', 'Apart', '%', [-0.2, 3, 0.005], 0, 'Extra space between characters, of the size.'),
  leading: still('leading', 'Lines apart', '×', [0.5, 4, 0.01], 1.15, 'From one line to the next, in sizes.'),
  align: choice(
    'align',
    'Lines',
    { middle: 'centred', left: 'from the left', right: 'to the right' },
    'How lines stand.',
  ),
}

/** The words' outlines as polygons in pixels at the effect's scale. */
function polygonsOf(context: EffectContext): number[][] {
  const { settings, scale } = context
  const paths = setText(word(settings, p.text), {
    face: word(settings, p.face) as FaceName,
    size: plain(settings, p.size),
    spacing: plain(settings, p.spacing),
    leading: plain(settings, p.leading),
    align: word(settings, p.align) as 'left' | 'middle' | 'right',
    shown: plain(settings, p.shown),
  })
  const polygons = paths.map((path: ClosedPath) => flatten(path, 0.05))
  const corners = cornersOfLying(context)
  const { x, y, turn } = placeOfLying(context)
  const [c, s] = [Math.cos(turn), Math.sin(turn)]
  if (!corners) {
    const turned = (points: number[]) =>
      points.map((_, i) =>
        i % 2 ? y + scale * (s * points[i - 1]! + c * points[i]!) : x + scale * (c * points[i]! - s * points[i + 1]!),
      )
    return polygons.map(turned)
  }
  // On the pin a pixel is one where its sides, taken in the mean, are as long as they look.
  const map = fromUnitSquare(corners)
  if (!map) return []
  const side = (i: number, k: number) =>
    Math.hypot(corners[2 * k]! - corners[2 * i]!, corners[2 * k + 1]! - corners[2 * i + 1]!) / scale
  const [wide, high] = [(side(0, 1) + side(3, 2)) / 2, (side(1, 2) + side(0, 3)) / 2]
  const [dx, dy] = [plain(settings, p.x), plain(settings, p.y)]
  return polygons.map((points) => {
    const out: number[] = []
    for (let i = 0; i < points.length; i += 2) {
      const [px, py] = [c * points[i]! - s * points[i + 1]! + dx, s * points[i]! + c * points[i + 1]! + dy]
      out.push(...mapped(map, 0.5 + px / wide, 0.5 + py / high))
    }
    return out
  })
}

export const words: EffectKind = {
  kind: 'words',
  title: 'Text',
  summary:
    'Text in one of five faces, behind a member, inside a shape, carried along, or laid on a pin in perspective.',
  group: 'Arrangement',
  rides: anyShape,
  alone: true,
  region: 'bounds',
  makes: 'layer',
  blend: 'normal',
  parameters: Object.values(p),
  sentence: (settings) => [
    { text: 'Write' },
    { setting: 'text' },
    { text: 'in' },
    { setting: 'face' },
    { setting: 'lies' },
    ...(settings.lies === 'over' ? [] : [{ field: 'target' } as const]),
    { text: ', seen in' },
    { field: 'region' },
    ...laidOn,
  ],
  trouble(settings) {
    const face = word(settings, p.face) as FaceName
    const missing = missingFrom(face, word(settings, p.text))
    return missing.length ? `${faceOf(face).name} has no ${missing.slice(0, 6).join(' ')}; it is left out.` : ''
  },
  reach: (context) =>
    polygonsOf(context).reduce((all, polygon) => unite(all, intersect(boundsOf(polygon, 1), wholePicture(context))), {
      ...{ x: 0, y: 0, width: 0, height: 0 },
    }),
  render(context, { data, region }) {
    if (isEmpty(region)) return
    const { settings, scratch } = context
    const cover = scratch.floats(slots.words, region.width * region.height)
    coverPolygons(polygonsOf(context), region, cover)
    const tint = context.colour(word(settings, p.tint)).map((v) => v * plain(settings, p.light))
    for (let i = 0, to = 0; i < cover.length; i++, to += 4) {
      const share = cover[i]!
      if (share === 0) continue
      for (let k = 0; k < 3; k++) data[to + k] = tint[k]! * share
      data[to + 3] = share
    }
  },
}
