import { choice, colour, number, still, text } from '../../../parameters/builders.ts'
import { faceNames, faceTitle, missingFrom } from '../../../text/faceNames.ts'
import { defineEffect } from '../../effect.ts'
import { anyShape, laidOn, placementSettings, shutterSettings, smeared } from '../../shared/forms.ts'

export const words = defineEffect('words', {
  title: 'Text',
  summary:
    'Text in one of five faces, behind a member, inside a shape, carried along, or laid on a pin in perspective.',
  group: 'Arrangement',
  rides: anyShape,
  alone: true,
  region: 'bounds',
  makes: 'layer',
  blend: 'normal',
  moves: 'byItsSettings',
  parameters: {
    text: text('Words', 'The Reed Ferry', { max: 400, lines: true }, 'What is written, on one line or several.'),
    face: choice('Face', faceNames, 'The typeface.'),
    size: number('Size', 'px', [4, 4000, 1], 120, 'Type size.'),
    ...placementSettings,
    tint: colour('Colour', '#f4f1e8', 'Colour of the words.'),
    light: number('Light', '×', [0, 20, 0.05], 1, 'Brightness; above 1 it glows in what follows.'),
    shown: number('Written', '%', [0, 1, 0.005], 1, 'How many of the characters stand there; keyed they are written.'),
    spacing: number('Apart', '%', [-0.2, 3, 0.005], 0, 'Extra space between characters, of the size.'),
    leading: still('Lines apart', '×', [0.5, 4, 0.01], 1.15, 'From one line to the next, in sizes.'),
    align: choice('Lines', { middle: 'centred', left: 'from the left', right: 'to the right' }, 'How lines stand.'),
    ...shutterSettings,
  },
  sentence: (settings) =>
    `Write {text} in {face} {lies} ${settings.lies === 'over' ? '' : '{target}'}, seen in {region}${smeared(settings)} ${laidOn}`,
  trouble({ face, text }) {
    const missing = missingFrom(face, text)
    return missing.length ? `${faceTitle(face)} has no ${missing.slice(0, 6).join(' ')}; it is left out.` : ''
  },
})
