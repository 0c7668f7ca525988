import { matteSettings, type PartKind } from '../kind.ts'
import { oval } from './oval.ts'

/**
 * A matte grown from strokes and carried through the clip. Its keys hold the matte of their frame as pixels; their points
 * are the oval of the same area, place and spread, by which the part's motion is measured. It is there only on frames
 * that have a matte.
 */
export const painted: PartKind = {
  kind: 'painted',
  title: 'Painted matte',
  numbers: oval.numbers,
  placing: [],
  hold: false,
  pixels: true,
  settings: [
    ...matteSettings.map((setting) => (setting.name === 'feather' ? { ...setting, default: 0 } : setting)),
    {
      ...{ type: 'number', name: 'quality', label: 'Quality', unit: '', min: 1, max: 3, step: 1, default: 2 },
      hint: 'How fine the matte is worked out: 1 quick, at a quarter of the size, 2 at half, 3 at full size.',
    },
    {
      ...{ type: 'number', name: 'edge', label: 'Edge', unit: 'px', min: 1, max: 40, step: 1, default: 2 },
      hint: 'How far around the edge pixels may be partly wanted: 2 for cloth, 15 and more for hair.',
    },
    {
      ...{ type: 'number', name: 'every', label: 'Afresh', unit: 'frames', min: 1, max: 24, step: 1, default: 1 },
      hint: 'The matte is worked out afresh on every so many frames and carried by the motion between them: 1 for the best edge.',
    },
  ],
  handleForm: oval.handleForm,
  group: oval.group,
  moved: (points) => [...points],
  path: oval.path,
  fromClicks: (clicks) => clicks.slice(0, 2),
}
