import { centreOfEffect, wholePicture } from '../shared/place.ts'
import { choice, colour, number, plain, word } from '../../parameters/builders.ts'
import { anyShape, laidOn } from '../shared/forms.ts'
import type { EffectKind } from '../effect.ts'

const p = {
  form: choice(
    'form',
    'Form',
    { one: 'one colour', line: 'from one to another', round: 'from the middle out', corners: 'four corners' },
    'How the colours lie.',
  ),
  first: colour('first', 'Colour', '#f4e9c8', 'The one colour, or where the fill begins.'),
  second: colour('second', 'Second', '#5d7a9c', 'Where the fill ends, or its top right corner.'),
  third: colour('third', 'Third', '#2c4a3e', 'The bottom left corner.'),
  fourth: colour('fourth', 'Fourth', '#101820', 'The bottom right corner.'),
  angle: number('angle', 'Angle', '°', [-180, 180, 1], 90, 'Way of the fill from one to another; 90 is downwards.'),
  size: number('size', 'Size', '%', [0.01, 4, 0.01], 1, 'Length of the way, as a share of the picture’s height.'),
  light: number('light', 'Light', '×', [0, 20, 0.05], 1, 'Brightness of the fill; above 1 it glows in what follows.'),
}

export const fill: EffectKind = {
  kind: 'fill',
  title: 'Fill',
  summary: 'Lays a colour, a gradient or four corners over a shape or the picture.',
  group: 'Colour',
  rides: anyShape,
  alone: true,
  region: 'bounds',
  makes: 'layer',
  blend: 'normal',
  parameters: Object.values(p),
  sentence: () => [{ text: 'Fill' }, { field: 'region' }, { text: 'with' }, { setting: 'first' }, ...laidOn],
  reach: wholePicture,
  render(context, { data, region }) {
    const { settings, size } = context
    const gain = plain(settings, p.light)
    const [a, b, c, d] = [p.first, p.second, p.third, p.fourth].map((one) =>
      context.colour(word(settings, one)).map((v) => v * gain),
    ) as [number[], number[], number[], number[]]
    const form = word(settings, p.form)
    if (form === 'one') {
      data.set([...a, 1])
      // Doubled until all is filled: copying is faster than writing pixel by pixel.
      for (let done = 4; done < data.length; done *= 2) data.copyWithin(done, 0, Math.min(done, data.length - done))
      return
    }
    const centre = centreOfEffect(context)
    const length = Math.max(1, plain(settings, p.size) * size.height)
    const angle = (plain(settings, p.angle) * Math.PI) / 180
    const [ux, uy] = [Math.cos(angle) / length, Math.sin(angle) / length]
    const clip = (v: number) => (v < 0 ? 0 : v > 1 ? 1 : v)
    for (let y = 0, i = 0; y < region.height; y++)
      for (let x = 0; x < region.width; x++, i += 4) {
        const px = region.x + x + 0.5
        const py = region.y + y + 0.5
        const u =
          form === 'line'
            ? clip(0.5 + (px - centre.x) * ux + (py - centre.y) * uy)
            : form === 'round'
              ? clip((2 * Math.hypot(px - centre.x, py - centre.y)) / length)
              : form === 'corners'
                ? clip(px / size.width)
                : 0
        const v = form === 'corners' ? clip(py / size.height) : 0
        for (let k = 0; k < 3; k++) {
          const top = a[k]! + (b[k]! - a[k]!) * u
          data[i + k] = v ? top + (c[k]! + (d[k]! - c[k]!) * u - top) * v : top
        }
        data[i + 3] = 1
      }
  },
}
