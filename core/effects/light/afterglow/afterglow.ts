import { colour, number, seedNumber, stops } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { laidOn, lightOfSomebody } from '../../shared/forms.ts'

export const afterglow = defineEffect('afterglow', {
  title: 'Afterglow',
  summary: 'The wisp’s own trail: past shapes fade behind the motion.',
  group: 'Light',
  ...lightOfSomebody,
  parameters: {
    length: number('Length', 'frames', [1, 96, 1], 9, 'How long a past shape is still seen.'),
    strength: number('Strength', '×', [0, 10, 0.05], 1, 'Light of the trail where it begins.'),
    young: colour('Young', '#bfe6ff', 'Colour where the trail begins.'),
    old: colour('Old', '#2a52d8', 'Colour where it ends.'),
    between: stops('young', 'old', 'Colours that the trail takes on along its way.'),
    fade: number('Fading', '', [0.2, 5, 0.05], 1.5, 'Above 1 it fades early, below 1 late.'),
    soften: number('Softness', 'px', [0, 200, 1], 10, 'Softness of the trail.'),
    wander: number('Wander', 'px', [0, 300, 1], 0, 'How far old shapes drift away, as smoke does.'),
    breakup: number('Breakup', '%', [0, 1, 0.01], 0.2, 'How much the old end falls into shreds.'),
    grain: number('Shred size', 'px', [4, 400, 1], 40, 'Size of the shreds.'),
    seed: seedNumber,
  },
  wishes: {
    'How it burns': ['strength', 'young', 'old', 'between'],
    'How long it stays': ['length', 'fade'],
    'How it dissolves': ['soften', 'wander', 'breakup', 'grain', 'seed'],
  },
  sentence: `Afterglow of {target} for {length} from {young} to {old} ${laidOn}`,
})
