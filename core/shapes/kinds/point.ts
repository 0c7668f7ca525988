import { say } from '../../say.ts'
import { named, still } from '../../parameters/builders.ts'
import { type PartKind, polygonPath, withPoint } from '../kind.ts'

/** Side of a point's patch until somebody says otherwise, in pixels. */
const usualPatch = 31
/** Half the length of the strokes that a point is drawn with in the editor, in pixels. */
const stroke = 9

/** One place on the picture, for anything to ride on. It covers nothing; what is followed is a patch around it. */
export const point: PartKind = {
  kind: 'point',
  title: say`Point`,
  numbers: [2],
  placing: [say`Click a place that stands out: a corner, a spot, a knot`],
  hold: false,
  settings: named({
    patch: still('Patch', 'px', [9, 200, 1], usualPatch, 'Side of the square around the point that is followed.'),
  }),
  handleForm: () => 'smooth',
  group: (_, index) => [index],
  moved: withPoint,
  path: ([x, y]) => polygonPath([x!, y!]),
  drawn([x, y]) {
    const s = stroke
    return polygonPath([x! - s, y!, x! + s, y!, x!, y!, x!, y! - s, x!, y! + s, x!, y!])
  },
  followed([x, y], settings) {
    const half = Number(settings.patch ?? usualPatch) / 2
    return polygonPath([x! - half, y! - half, x! + half, y! - half, x! + half, y! + half, x! - half, y! + half])
  },
  fromClicks: (clicks) => clicks.slice(0, 2),
}
