import { choice, colour, number, stops } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { laidOn } from '../../shared/forms.ts'

export const outlineLine = defineEffect('outlineLine', {
  title: 'Outline',
  summary: 'A line along the edge of shapes, on it, outside or inside.',
  group: 'Colour',
  rides: null,
  alone: false,
  region: 'source',
  makes: 'layer',
  blend: 'normal',
  parameters: {
    width: number('Width', 'px', [0.5, 200, 0.5], 3, 'Thickness of the line.'),
    runs: choice(
      'Colours',
      { one: 'one colour', across: 'across the line', around: 'around, and back' },
      'Where its colour turns into the second one.',
    ),
    tint: colour('Colour', '#b8f0ff', 'Colour of the line: the one, on its inner side, or where it begins.'),
    second: colour('Second', '#3d6fb0', 'The colour on its outer side, or opposite of where it begins.'),
    between: stops('tint', 'second', 'Colours on the way from the one to the second.'),
    angle: number(
      'Angle',
      '°',
      [-180, 180, 1],
      -90,
      'Where it begins to go around, seen from the middle; -90 is above.',
    ),
    light: number('Light', '×', [0, 20, 0.1], 1, 'Brightness; above 1 it glows in what follows.'),
    lies: choice('Lies', { on: 'on the edge', outside: 'outside', inside: 'inside' }, 'On which side of the edge.'),
    away: number('Away', 'px', [0, 300, 0.5], 0, 'Distance of the line from the edge.'),
    soften: number('Softness', 'px', [0, 100, 0.5], 1, 'How softly the line ends.'),
  },
  wishes: {
    'Where it lies': ['width', 'lies', 'away', 'soften'],
    'Its colours': ['tint', 'light', 'runs', 'second', 'between', 'angle'],
  },
  sentence: `Outline {region} with {width} {tint} {lies} ${laidOn}`,
})
