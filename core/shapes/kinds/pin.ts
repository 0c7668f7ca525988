import { say } from '../../say.ts'
import { named } from '../../parameters/builders.ts'
import { matteSettings, type PartKind, polygonPath, withPoint } from '../kind.ts'

/** Four corners of a flat rectangle seen in perspective, in order around it; for laying things on. */
export const pin: PartKind = {
  kind: 'pin',
  title: say`Pin`,
  numbers: [8],
  placing: [
    say`Click the upper left corner of a flat thing`,
    say`Click its upper right corner`,
    say`Click its lower right corner`,
    say`Click its lower left corner`,
  ],
  hold: true,
  settings: named(matteSettings),
  handleForm: () => 'corner',
  group: (_, index) => [index],
  moved: withPoint,
  path: polygonPath,
  fromClicks: (clicks) => clicks.slice(0, 8),
}
