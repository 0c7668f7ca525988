import { span } from '../../pixels/kernels/interface.ts'
import { fitted } from '../../pixels/filters/fit.ts'
import { colour, number, plain, word } from '../../parameters/builders.ts'
import { aboutSomebody, laidOn } from '../shared/forms.ts'
import { goingBy, goingChoice, goingSettings, leftOver, rimLight } from '../shared/dissolveOrder.ts'
import type { EffectKind } from '../effect.ts'
import { wholePicture } from '../shared/place.ts'

const p = {
  amount: number(
    'amount',
    'Taken over',
    '%',
    [0, 1, 0.005],
    0.5,
    'How much of the picture is the next shot; driven by the join it goes from nothing to all of it.',
  ),
  by: goingChoice({ evenly: 'a fade', out: 'distance, outwards', ...goingBy }),
  ...{ size: goingSettings.size, soften: goingSettings.soften, rim: goingSettings.rim },
  rimColour: colour('rimColour', 'Rim colour', '#8fdcff', 'Colour of the rim.'),
  seed: goingSettings.seed,
}

export const takeOver: EffectKind = {
  kind: 'takeOver',
  title: 'Take over',
  summary:
    'The next shot, with its own effects, takes over where two shots are joined: evenly, by noise, brightness or distance.',
  group: 'Arrangement',
  ...aboutSomebody,
  makes: 'layer',
  parameters: Object.values(p),
  sentence: (settings) => [
    { text: 'Next' },
    { field: 'next' },
    { text: 'takes over' },
    { field: 'region' },
    { text: ', going by' },
    { setting: 'by' },
    ...(settings.by === 'out' ? [{ text: 'from' }, { field: 'target' } as const] : []),
    { text: ', so far' },
    { setting: 'amount' },
    ...laidOn,
  ],
  reach: (context) =>
    context.joined && plain(context.settings, p.amount) > 0
      ? wholePicture(context)
      : { x: 0, y: 0, width: 0, height: 0 },
  needs: (settings, frame) => (plain(settings, p.amount) > 0 ? [{ media: 'next', frame }] : []),
  render(context, { data, region, under }) {
    const { settings, frame, scratch, size } = context
    const next = context.picture({ media: 'next', frame })
    if (!next) return
    const picture = fitted(next, size, scratch)
    const { width } = size
    const amount = plain(settings, p.amount)
    const by = word(settings, p.by)
    const { kernels } = scratch
    const rowOf = (y: number) => 4 * ((region.y + y) * width + region.x)
    if (by === 'evenly') {
      const share = Math.min(1, amount)
      for (let y = 0; y < region.height; y++)
        kernels.addTinted(span(picture, rowOf(y)), span(data, 4 * y * region.width), region.width, [
          share,
          share,
          share,
          share,
        ])
      return
    }
    const left = leftOver(context, by, amount, region, under ?? { data, region })
    const rim = rimLight(context, p.rimColour)
    for (let y = 0, i = 0, to = 0; y < region.height; y++)
      for (let x = 0, from = rowOf(y); x < region.width; x++, i++, from += 4, to += 4) {
        const share = 1 - left[i]!
        if (share === 0) continue
        // Light of the rim lies on both.
        const burning = 4 * share * (1 - share)
        data[to] = picture[from]! * share + burning * rim[0]!
        data[to + 1] = picture[from + 1]! * share + burning * rim[1]!
        data[to + 2] = picture[from + 2]! * share + burning * rim[2]!
        data[to + 3] = picture[from + 3]! * share
      }
  },
}
