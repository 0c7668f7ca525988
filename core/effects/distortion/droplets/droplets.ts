import { choice, colour, number, seedNumber, still } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { aboutSomebody } from '../../shared/forms.ts'

export const droplets = defineEffect('droplets', {
  title: 'Droplets',
  summary: 'Drops of the picture itself come off somebody, run together where they meet and burst towards the viewer.',
  group: 'Distortion',
  ...aboutSomebody,
  alone: false,
  parameters: {
    from: choice('Born', { edge: 'along the edge', inside: 'inside', tip: 'at the tip' }, 'Where new ones come off.'),
    rate: number('Birth rate', '', [0, 40, 0.1], 0.7, 'New ones a frame.'),
    life: number('Life', 'frames', [2, 200, 1], 26, 'How long one lasts, give or take a third.'),
    size: number('Size', 'px', [4, 400, 1], 28, 'Half the width of one that has come off.'),
    grow: number('Towards', '×', [0.2, 8, 0.05], 1.8, 'How large it has become when it bursts: it comes nearer.'),
    bend: number('Bends', '%', [-2, 2, 0.01], 0.7, 'How much the picture behind it is bent at its edge.'),
    shine: number('Shine', '×', [0, 8, 0.05], 1.2, 'The light of a lamp in it, above at the left.'),
    shade: number('Shade', '%', [0, 1, 0.01], 0.45, 'How much darker it is at its edge.'),
    tint: colour('Colour', '#ffffff', 'What white becomes behind it.'),
    speed: number('Own speed', 'px', [0, 200, 0.5], 5, 'Pixels a frame, in a direction of its own.'),
    inherit: number(
      'Speed of the motion',
      '%',
      [-1, 3, 0.05],
      0.6,
      'How much of the shape’s own speed it takes along.',
    ),
    gravity: number('Gravity', 'px', [-5, 10, 0.05], 0.25, 'Pixels a frame faster downwards on every frame.'),
    drag: number('Drag', '', [0, 1, 0.01], 0.04, 'How soon the air stops them.'),
    seed: seedNumber,
    most: still('At most', '', [1, 400, 1], 120, 'So many are there at once at most.'),
  },
  wishes: {
    'Where they come off': ['from', 'rate', 'most'],
    'How they look': ['size', 'grow', 'bend', 'shine', 'shade', 'tint', 'life'],
    'How they fly': ['speed', 'inherit', 'gravity', 'drag', 'seed'],
  },
  sentence: 'Droplets {from} of {target}, {rate} a frame, {size} large, bending the picture by {bend} {behind} {range}',
})
