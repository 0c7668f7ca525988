import { say } from '../../say.ts'
import { named, still } from '../../parameters/builders.ts'
import { matteSettings, type PartKind } from '../kind.ts'
import { oval } from './oval.ts'

/**
 * A matte grown from strokes and carried through the clip. Its keys hold the matte of their frame as pixels; their points
 * are the oval of the same area, place and spread, by which the part's motion is measured. It is there only on frames
 * that have a matte.
 */
export const painted: PartKind = {
  kind: 'painted',
  title: say`Painted matte`,
  numbers: oval.numbers,
  placing: [],
  hold: false,
  pixels: true,
  settings: named({
    ...matteSettings,
    feather: { ...matteSettings.feather, default: 0 },
    quality: still(
      'Quality',
      '',
      [1, 3, 1],
      2,
      'How fine the matte is worked out: 1 quick, at a quarter of the size, 2 at half, 3 at full size.',
    ),
    edge: still(
      'Edge',
      'px',
      [1, 40, 1],
      2,
      'How far around the edge pixels may be partly wanted: 2 for cloth, 15 and more for hair.',
    ),
    every: still(
      'Afresh',
      'frames',
      [1, 24, 1],
      1,
      'The matte is worked out afresh on every so many frames and carried by the motion between them: 1 for the best edge.',
    ),
  }),
  handleForm: oval.handleForm,
  group: oval.group,
  moved: (points) => [...points],
  path: oval.path,
  fromClicks: (clicks) => clicks.slice(0, 2),
}
