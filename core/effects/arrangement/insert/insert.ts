import { choice, media, number } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { anyShape, clipTimeSettings, laidOn, placementSettings, shutterSettings, smeared } from '../../shared/forms.ts'

export const insert = defineEffect('insert', {
  title: 'Insert',
  summary: 'Another clip behind a member, inside a shape, carried along, or laid on a pin in perspective.',
  group: 'Arrangement',
  rides: anyShape,
  alone: true,
  region: 'bounds',
  makes: 'layer',
  blend: 'normal',
  moves: 'byItsSettings',
  parameters: {
    clip: media('Clip', 'The clip that is inserted.'),
    ...placementSettings,
    size: number('Size', '%', [0.01, 20, 0.01], 1, 'At 100 % it is as wide as the picture.'),
    ...clipTimeSettings,
    edge: choice(
      'Past its edge',
      { nothing: 'nothing', stretched: 'stretched', mirrored: 'mirrored', repeated: 'repeated' },
      'What is seen around it.',
    ),
    soft: number(
      'Soft edge',
      'px',
      [0, 400, 1],
      0,
      'Over how many pixels it fades in from its own edge, or that of its pin.',
    ),
    ...shutterSettings,
  },
  sentence: (settings) =>
    `Insert {clip} {lies} ${settings.lies === 'over' ? '' : '{target}'}, seen in {region}${smeared(settings)} ${laidOn}`,
})
