import { choice, number } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { aboutSomebody } from '../../shared/forms.ts'

export const spinBlur = defineEffect('spinBlur', {
  title: 'Zoom and spin blur',
  summary: 'The picture streams away from a member, or whirls around it.',
  group: 'Blur',
  ...aboutSomebody,
  parameters: {
    way: choice('Way', { zoom: 'zoom', spin: 'spin' }, 'Away from the middle, or around it.'),
    zoom: number('Zoom', '%', [0, 3, 0.01], 0.25, 'How much larger the picture is at the end of the blur.'),
    spin: number('Spin', '°', [0, 180, 1], 12, 'How far the picture turns during the blur.'),
    keep: number('Sharp within', 'px', [0, 2000, 1], 0, 'Radius about the middle that stays sharp.'),
  },
  sentence: (settings) => `Blur by {${settings.way}} {way} about {target} {region} {range}`,
})
