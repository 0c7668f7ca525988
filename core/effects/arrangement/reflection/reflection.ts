import { number } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { fromRegion } from '../../shared/forms.ts'
import { groundSettings } from '../../shared/ground.ts'

export const reflection = defineEffect('reflection', {
  title: 'Reflection',
  summary: 'The ground that somebody stands on mirrors them, still or like water.',
  group: 'Arrangement',
  ...fromRegion,
  parameters: {
    strength: number('Strength', '%', [0, 1, 0.01], 0.5, 'How much of them is seen in the ground.'),
    length: number('Length', '×', [0.1, 3, 0.05], 1, 'Stretched or shortened.'),
    waves: number('Waves', 'px', [0, 100, 0.5], 0, 'How far waves move it to the sides.'),
    apart: number('Apart', 'px', [2, 400, 1], 26, 'From one wave to the next.'),
    speed: number('Speed', 'px', [-100, 100, 0.5], 1.5, 'How far the waves come nearer on each frame.'),
    ...groundSettings,
  },
  sentence: (settings) =>
    `{region} mirrored in the ground, {strength} of them${settings.waves > 0 ? ', waves of {waves}' : ''} {behind} {range}`,
})
