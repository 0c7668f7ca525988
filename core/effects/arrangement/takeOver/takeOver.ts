import { choice, colour, number } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { aboutSomebody, dissolveBy, dissolveSettings, laidOn } from '../../shared/forms.ts'

export const takeOver = defineEffect('takeOver', {
  title: 'Take over',
  summary:
    'The next shot, with its own effects, takes over where two shots are joined: evenly, by noise, brightness or distance.',
  group: 'Arrangement',
  ...aboutSomebody,
  makes: 'layer',
  parameters: {
    amount: number(
      'Taken over',
      '%',
      [0, 1, 0.005],
      0.5,
      'How much of the picture is the next shot; driven by the join it goes from nothing to all of it.',
    ),
    by: choice('By', { evenly: 'a fade', out: 'distance, outwards', ...dissolveBy }, 'What goes first.'),
    size: dissolveSettings.size,
    soften: dissolveSettings.soften,
    rim: dissolveSettings.rim,
    rimColour: colour('Rim colour', '#8fdcff', 'Colour of the rim.'),
    seed: dissolveSettings.seed,
  },
  sentence: (settings) =>
    `Next {next} takes over {region}, going by {by} ${settings.by === 'out' ? 'from {target}' : ''}, so far {amount} ${laidOn}`,
})
