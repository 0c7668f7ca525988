import { fitted } from '../image/fit.ts'
import { colour, number, plain, word } from './describe.ts'
import { aboutSomebody } from './forms.ts'
import { eachGoing, goingBy, goingChoice, goingSettings, rimLight } from './going.ts'
import type { EffectKind } from './kind.ts'
import { wholePicture } from './place.ts'

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
    { field: 'behind' },
    { text: 'laid on with' },
    { field: 'blend' },
    { text: 'at' },
    { field: 'opacity' },
    { field: 'range' },
  ],
  reach: (context) =>
    context.joined && plain(context.settings, p.amount) > 0
      ? wholePicture(context)
      : { x: 0, y: 0, width: 0, height: 0 },
  needs: (_, frame) => [{ media: 'next', frame }],
  render(context, { data, region, under }) {
    const { settings, frame, scratch, size } = context
    const next = context.picture({ media: 'next', frame })
    if (!next) return
    const picture = fitted(next, size, scratch)
    const rim = rimLight(context, p.rimColour)
    const amount = plain(settings, p.amount)
    const { width } = size
    const around = under ?? { data: scratch.floats('nothing under', data.length, true), region }
    eachGoing(context, word(settings, p.by), amount, region, around, (pixel, { left, burning }) => {
      const from = 4 * ((region.y + Math.floor(pixel / region.width)) * width + region.x + (pixel % region.width))
      const to = 4 * pixel
      const share = 1 - left
      // Light of the rim lies on both.
      for (let c = 0; c < 3; c++) data[to + c] = picture[from + c]! * share + burning * rim[c]!
      data[to + 3] = picture[from + 3]! * share
    })
  },
}
