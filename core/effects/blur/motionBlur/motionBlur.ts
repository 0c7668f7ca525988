import { number, still } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { anyShape } from '../../shared/forms.ts'

export const motionBlur = defineEffect('motionBlur', {
  title: 'Motion blur',
  summary: 'Smears a member along its own traced motion, by shutter angle and samples.',
  group: 'Blur',
  rides: anyShape,
  alone: false,
  region: 'none',
  makes: 'picture',
  blend: 'normal',
  parameters: {
    shutter: number('Shutter', '°', [0, 1080, 5], 180, 'Angle of the shutter: 360 is a whole frame of motion.'),
    samples: still('Samples', '', [2, 64, 1], 12, 'Moments of the motion that are laid together.'),
  },
  sentence: 'Motion blur of {target} with a shutter of {shutter} {behind} {range}',
})
