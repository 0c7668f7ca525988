import { choice, colour, member, number, seedNumber, still, stops } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { lightOfSomebody } from '../../shared/forms.ts'

export const sparks = defineEffect('sparks', {
  title: 'Sparks and motes',
  summary: 'Small lights born inside a shape, along its edge, at its tip or at contacts, flying on by themselves.',
  group: 'Light',
  ...lightOfSomebody,
  parameters: {
    from: choice(
      'Born',
      { edge: 'along the edge', inside: 'inside', tip: 'at the tip', contact: 'at contacts' },
      'Where new ones appear.',
    ),
    other: member('Meets', 'Whom it has to touch, for contacts.'),
    rate: number('Birth rate', '', [0, 400, 1], 24, 'New ones a frame; at a contact that many times eight at once.'),
    life: number('Life', 'frames', [1, 200, 1], 16, 'How long one lasts, give or take a third.'),
    size: number('Size', 'px', [0.5, 60, 0.5], 3, 'Thickness of one.'),
    strength: number('Light', '×', [0, 30, 0.1], 4, 'Brightness of a young one.'),
    young: colour('Young', '#fff0c0', 'Colour at birth.'),
    old: colour('Old', '#ff5a1f', 'Colour at the end.'),
    between: stops('young', 'old', 'Colours that it takes on in its life.'),
    speed: number('Own speed', 'px', [0, 200, 0.5], 9, 'Pixels a frame, in a direction of its own.'),
    inherit: number(
      'Speed of the motion',
      '%',
      [-1, 3, 0.05],
      0.5,
      'How much of the shape’s own speed it takes along.',
    ),
    gravity: number(
      'Gravity',
      'px',
      [-5, 10, 0.05],
      0.5,
      'Pixels a frame faster downwards on every frame; below 0 they rise.',
    ),
    drag: number('Drag', '', [0, 1, 0.01], 0.08, 'How soon the air stops them.'),
    wander: number('Wander', 'px', [0, 200, 1], 0, 'How far they float about.'),
    seed: seedNumber,
    most: still('At most', '', [10, 5000, 10], 2000, 'So many are drawn at once at most.'),
  },
  wishes: {
    'Where they are born': ['from', 'other', 'rate', 'most'],
    'How they look': ['size', 'strength', 'young', 'old', 'between', 'life'],
    'How they fly': ['speed', 'inherit', 'gravity', 'drag', 'wander', 'seed'],
  },
  sentence: (settings) =>
    `Sparks {from} of {target} ${settings.from === 'contact' ? 'with {other}' : ''}, {rate} a frame, from {young} to {old} {behind} laid on with {blend} {range}`,
})
