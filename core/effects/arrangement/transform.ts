import { Slot } from '../../pixels/buffers/scratch.ts'
import { span } from '../../pixels/kernels/interface.ts'
import { movedFirst, resampleAffine, turnAbout } from '../../pixels/filters/warp.ts'
import { choice, number, plain, word } from '../../parameters/builders.ts'
import { anyShape } from '../shared/forms.ts'
import type { EffectKind } from '../effect.ts'
import { centreOfEffect, wholePicture } from '../shared/place.ts'
import { radians } from '../shared/tools.ts'

const slots = { layerCover: new Slot(), movedLayer: new Slot(), layerWhereItWent: new Slot() }

const p = {
  x: number('x', 'Across', 'px', [-8000, 8000, 1], 0, 'Moved to the right.'),
  y: number('y', 'Down', 'px', [-8000, 8000, 1], 0, 'Moved down.'),
  turn: number('turn', 'Turn', '°', [-3600, 3600, 1], 0, 'Turned about its middle, clockwise.'),
  size: number('size', 'Size', '%', [0.01, 20, 0.01], 1, 'Grown or shrunk about its middle.'),
  behind: choice(
    'behind',
    'Leaves',
    { picture: 'the picture as it was', black: 'black' },
    'What is seen where the layer has left.',
  ),
}

export const transform: EffectKind = {
  kind: 'transform',
  title: 'Transform',
  summary: 'Cuts a layer out by its region and moves, turns or grows it.',
  group: 'Arrangement',
  rides: anyShape,
  alone: true,
  region: 'source',
  makes: 'picture',
  blend: 'normal',
  parameters: Object.values(p),
  sentence: () => [
    { text: 'Transform' },
    { field: 'region' },
    { text: 'by' },
    { setting: 'x' },
    { text: ',' },
    { setting: 'y' },
    { text: ', turned' },
    { setting: 'turn' },
    { text: ', sized' },
    { setting: 'size' },
    { text: 'about' },
    { field: 'target' },
    { field: 'behind' },
    { field: 'range' },
  ],
  reach: wholePicture,
  looks: () => Infinity,
  render(context, { data, region }) {
    const { settings, scale, scratch } = context
    const cover = context.region(region, slots.layerCover)
    const layer = scratch.floats(slots.movedLayer, data.length, true)
    scratch.kernels.layRow(true, span(data), span(layer), cover.length, 1, span(cover))
    if (word(settings, p.behind) === 'black')
      for (let i = 0; i < cover.length; i++) if (cover[i]) for (let c = 0; c < 3; c++) data[4 * i + c]! *= 1 - cover[i]!
    const { x: cx, y: cy } = centreOfEffect(context)
    const angle = radians(plain(settings, p.turn))
    const [shiftX, shiftY] = [plain(settings, p.x) * scale, plain(settings, p.y) * scale]
    const back = turnAbout(cx, cy, -angle, 1 / plain(settings, p.size))
    const moved = scratch.floats(slots.layerWhereItWent, data.length)
    resampleAffine(
      { data: layer, region },
      { data: moved, region },
      movedFirst(back, -shiftX, -shiftY),
      'nothing',
      scratch,
    )
    scratch.kernels.layRow(true, span(moved), span(data), cover.length, 1, null)
  },
}
