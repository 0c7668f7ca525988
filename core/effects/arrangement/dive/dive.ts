import { media, number } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { anyShape, clipTimeSettings, shutterSettings, smeared } from '../../shared/forms.ts'

export const dive = defineEffect('dive', {
  title: 'Dive',
  summary: 'The camera dives into a member, 100 times and more; through it another clip is seen, sharp at any depth.',
  group: 'Arrangement',
  rides: anyShape,
  alone: false,
  region: 'none',
  makes: 'picture',
  blend: 'normal',
  moves: 'byItsSettings',
  parameters: {
    depth: number(
      'Depth',
      '',
      [0, 10, 0.01],
      0,
      'How often the picture is doubled: 4.3 is 20 times, 6.6 is 100 times. Key it straight for an even dive.',
    ),
    clip: media('Behind it', 'The clip that is seen through the hole.'),
    size: number('Size', '%', [0.1, 10, 0.01], 1, 'Size of the clip behind; at 100 % it is as wide as the picture.'),
    ...clipTimeSettings,
    ...shutterSettings,
  },
  sentence: (settings) => `Dive {depth} doublings into {target}, behind it {clip}${smeared(settings)} {range}`,
})
