import { number, plain } from '../../parameters/builders.ts'
import { onPicture } from '../shared/forms.ts'
import type { EffectKind, PictureNeed } from '../effect.ts'
import type { Settings } from '../../parameters/parameters.ts'

const p = {
  at: number('at', 'Held frame', 'frames', [0, 19999, 1], 0, 'The picture that stands still.', false),
  step: number(
    'step',
    'Renewed every',
    'frames',
    [0, 96, 1],
    0,
    'A new picture every so many frames; 0 holds the one.',
    false,
  ),
}
const heldAt = (settings: Settings, frame: number): PictureNeed => {
  const step = Math.round(plain(settings, p.step))
  return { media: '', frame: step > 0 ? frame - (frame % step) : Math.round(plain(settings, p.at)) }
}

export const hold: EffectKind = {
  kind: 'hold',
  title: 'Hold',
  summary: 'The picture stands still in a region while everything else goes on.',
  group: 'Arrangement',
  ...onPicture,
  parameters: Object.values(p),
  sentence: (settings) => [
    { text: 'Hold' },
    ...(plain(settings, p.step) > 0
      ? [{ text: 'a picture for' }, { setting: 'step' }]
      : [{ text: 'the picture of frame' }, { setting: 'at' }]),
    { field: 'region' },
    { field: 'behind' },
    { field: 'range' },
  ],
  looks: () => 0,
  needs: (settings, frame) => [heldAt(settings, frame)],
  render(context, { data, region }) {
    const held = context.picture(heldAt(context.settings, context.frame))
    if (!held) return
    for (let y = 0; y < region.height; y++) {
      const from = 4 * ((region.y + y) * held.width + region.x)
      data.set(held.data.subarray(from, from + 4 * region.width), 4 * y * region.width)
    }
  },
}
