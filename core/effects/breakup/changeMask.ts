import { Slot } from '../../pixels/buffers/scratch.ts'
import { choice, colour, number, plain, word } from '../../parameters/builders.ts'
import { onPicture } from '../shared/forms.ts'
import type { EffectKind } from '../effect.ts'
import { blurCover, mix, ramp } from '../shared/tools.ts'

const slots = { changeMask: new Slot() }

const p = {
  ago: number('ago', 'Frames ago', 'frames', [1, 48, 1], 2, 'Which picture it is compared with.', false),
  threshold: number('threshold', 'Counts from', '%', [0, 1, 0.005], 0.06, 'Smaller changes are noise.'),
  soften: number('soften', 'Softness', 'px', [0, 200, 1], 6, 'Softness of the mask.'),
  strength: number('strength', 'Light', '×', [0, 20, 0.1], 2, 'Brightness of what changes.'),
  tint: colour('tint', 'Colour', '#9dffd0', 'Colour of what changes.'),
  shows: choice(
    'shows',
    'Shows',
    { light: 'light on the picture', only: 'what changes alone', mask: 'the mask' },
    'What is seen of it.',
  ),
}

export const changeMask: EffectKind = {
  kind: 'changeMask',
  title: 'Change mask',
  summary: 'Lights up what differs from some frames ago.',
  group: 'Breakup',
  ...onPicture,
  parameters: Object.values(p),
  sentence: () => [
    { text: 'Change' },
    { field: 'region' },
    { text: 'since' },
    { setting: 'ago' },
    { text: 'ago in' },
    { setting: 'tint' },
    { text: 'as' },
    { setting: 'shows' },
    { field: 'range' },
  ],
  looks: ({ settings, scale }) => 2 * plain(settings, p.soften) * scale + 2,
  needs: (settings, frame) => [{ media: '', frame: Math.max(0, frame - Math.round(plain(settings, p.ago))) }],
  render(context, { data, region }) {
    const { settings, scale, scratch, frame } = context
    const before = context.picture({ media: '', frame: Math.max(0, frame - Math.round(plain(settings, p.ago))) })
    if (!before) return
    const mask = scratch.floats(slots.changeMask, region.width * region.height)
    const threshold = plain(settings, p.threshold)
    for (let y = 0, i = 0; y < region.height; y++)
      for (let x = 0; x < region.width; x++, i++) {
        const at =
          4 * (Math.min(before.height - 1, region.y + y) * before.width + Math.min(before.width - 1, region.x + x))
        let most = 0
        for (let c = 0; c < 3; c++)
          most = Math.max(most, Math.abs(Math.sqrt(Math.max(0, data[4 * i + c]!)) - Math.sqrt(before.data[at + c]!)))
        mask[i] = ramp(threshold, 2 * threshold + 0.02, most)
      }
    blurCover(mask, region.width, region.height, (plain(settings, p.soften) / 2) * scale, scratch)
    const shows = word(settings, p.shows)
    const strength = plain(settings, p.strength)
    const tint = context.colour(word(settings, p.tint))
    for (let i = 0; i < mask.length; i++)
      for (let c = 0; c < 3; c++) {
        const v = data[4 * i + c]!
        data[4 * i + c] =
          shows === 'mask' ? mask[i]! : mix(shows === 'only' ? 0 : v, v + (0.2 + v) * strength * tint[c]!, mask[i]!)
      }
  },
}
