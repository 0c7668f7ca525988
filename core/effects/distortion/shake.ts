import { noise1 } from '../../pixels/filters/noise.ts'
import { movedFirst, turnAbout, warpAffine } from '../../pixels/filters/warp.ts'
import type { BorderMode } from '../../pixels/buffers/border.ts'
import { edgeChoice, number, plain, seedNumber, word } from '../../parameters/builders.ts'
import { onPicture } from '../shared/forms.ts'
import type { EffectKind } from '../effect.ts'
import { radians } from '../shared/tools.ts'

const p = {
  amount: number('amount', 'Amount', 'px', [0, 400, 0.5], 14, 'How far the picture is thrown.'),
  turn: number('turn', 'Turn', '°', [0, 45, 0.1], 0.8, 'How far it turns.'),
  zoom: number('zoom', 'Zoom', '%', [0, 1, 0.005], 0.02, 'How much larger it gets.'),
  rate: number('rate', 'Rate', '', [0.02, 1, 0.01], 0.4, 'New directions a frame.'),
  falloff: number(
    'falloff',
    'Dies in',
    'frames',
    [0, 400, 1],
    0,
    'Frames in which it dies down from its first one; 0 for never.',
  ),
  seed: seedNumber,
}

export const shake: EffectKind = {
  kind: 'shake',
  title: 'Shake',
  summary: 'Throws the picture about, as a blow or a running camera does.',
  group: 'Distortion',
  ...onPicture,
  parameters: [...Object.values(p), edgeChoice],
  sentence: () => [{ text: 'Shake by' }, { setting: 'amount' }, { field: 'region' }, { field: 'range' }],
  looks: () => Infinity,
  render({ settings, scale, scratch, frame, since, size }, image) {
    const falloff = plain(settings, p.falloff)
    const left = falloff > 0 ? Math.exp((-3 * Math.max(0, since)) / falloff) : 1
    const seed = plain(settings, p.seed)
    const time = frame * plain(settings, p.rate)
    const chance = (k: number) => 2 * noise1(time, seed + 1000 * k) - 1
    const shiftX = chance(1) * plain(settings, p.amount) * scale * left
    const shiftY = chance(2) * plain(settings, p.amount) * scale * left
    const angle = radians(chance(3) * plain(settings, p.turn) * left)
    const zoom = 1 / (1 + Math.abs(chance(4)) * plain(settings, p.zoom) * left)
    const [cx, cy] = [size.width / 2, size.height / 2]
    const back = turnAbout(cx, cy, -angle, zoom)
    const map = movedFirst(back, -shiftX, -shiftY)
    warpAffine(image, map, word(settings, edgeChoice) as BorderMode, scratch)
  },
}
