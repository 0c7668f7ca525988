import { Chance } from '../support/chance.ts'
import { type Case, groundSize } from './cases.ts'

/** A rod and the arm that holds it at a moment, in px of the world that the camera looks at. */
export interface Held {
  heel: Point
  tip: Point
  shoulder: Point
  elbow: Point
  hand: Point
  /** How the hand is turned, radians; along the rod where it lies stiff on it. */
  turned: number
  /** A second hand of the same performer on the rod. */
  second: Point | null
  /** By how much the rod is wider at heel and tip than where all is equally far off. */
  wider: { heel: number; tip: number }
}
export type Point = [number, number]

/** Everything that is drawn at a moment. */
export interface Moment {
  /** The one that is followed first. */
  held: Held[]
  /** Middle of the chest; null where nobody stands there. */
  body: Point | null
  /** A post before everything: its middle and width; null for none. */
  post: { x: number; width: number } | null
  camera: { x: number; y: number; turn: number }
}

/** What an arm does at a time: where the hand is, how the rod points, its foreshortening, and where on it the hand lies. */
interface Knot {
  time: number
  /** x, y (px), angle (radians), share of the length that is seen, grip (px from the heel), turn of the hand (radians). */
  values: number[]
}

/** Performs a case: what there is to be seen at any time, in frames. */
export function performed(of: Case): (time: number) => Moment {
  const chance = new Chance(of.seed * 31 + 5)
  const { width, height } = groundSize
  const right = chance.happens(0.5)
  const centre: Point = [width * chance.between(0.42, 0.58), height * chance.between(0.5, 0.62)]
  const arms = [armOf(of, chance, centre, right)]
  if (of.move === 'two sticks') arms.push(armOf(of, chance, [centre[0] + (right ? -1 : 1) * 190, centre[1]], !right))
  const drift = wander(chance, of.camera === 'handheld' ? 9 : of.camera === 'pan' ? 5 : 0, 23)
  const roll = wander(chance, of.camera === 'handheld' ? 0.006 : 0, 41)
  const pan = of.camera === 'pan' ? chance.between(1.2, 2.6) * (chance.happens(0.5) ? 1 : -1) : 0
  const sway = wander(chance, 6, 37)
  const post =
    of.move === 'passes behind' ? { x: centre[0] + chance.between(90, 170), width: chance.between(36, 70) } : null
  return (time) => {
    const [dx, dy] = drift(time)
    // A pan follows its performer, who goes along.
    const along = pan * (time - of.frames / 2)
    const [sx, sy] = sway(time)
    const go = ([x, y]: Point): Point => [x + along + sx, y + 0.4 * sy]
    return {
      held: arms.map((arm) => {
        const held = arm(time)
        return {
          ...{ turned: held.turned, heel: go(held.heel), tip: go(held.tip), shoulder: go(held.shoulder) },
          ...{ elbow: go(held.elbow), hand: go(held.hand), second: held.second && go(held.second) },
          wider: held.wider,
        }
      }),
      body: of.body ? go([centre[0] + (right ? -70 : 70), centre[1] + 120]) : null,
      post: post && { ...post, x: post.x + along },
      camera: { x: along + dx, y: dy, turn: roll(time)[0] },
    }
  }
}

/** Two smooth wanderings of about so many px, with waves from `period` frames on. */
function wander(chance: Chance, size: number, period: number): (time: number) => Point {
  const waves = [0, 1].map(() =>
    [1, 0.53, 0.29].map((longer, i) => ({
      size: (size * [1, 0.5, 0.25][i]!) / 1.2,
      rate: (2 * Math.PI) / (period * longer * chance.between(0.85, 1.2)),
      phase: chance.between(0, 2 * Math.PI),
    })),
  )
  return (time) =>
    waves.map((axis) => axis.reduce((sum, w) => sum + w.size * Math.sin(w.rate * time + w.phase), 0)) as Point
}

function armOf(of: Case, chance: Chance, centre: Point, right: boolean): (time: number) => Held {
  const knots = knotsOf(of, chance, centre, right)
  const side = right ? -1 : 1
  const shoulder: Point = [centre[0] + side * 95, centre[1] + 20]
  const arm = chance.between(105, 130)
  const secondAt = chance.between(48, 70)
  // A step towards the camera and back, and a tip that points at it as far as the rod is foreshortened.
  const nearing = of.perspective ? wander(new Chance(of.seed * 13 + 1), 0.22, 90) : null
  return (time) => {
    const [x, y, angle, shown, grip, turn] = through(knots, time) as [number, number, number, number, number, number]
    const length = of.rod.length * shown
    const [dx, dy] = [Math.cos(angle), Math.sin(angle)]
    const heel: Point = [x - grip * shown * dx, y - grip * shown * dy]
    const near = nearing ? 1 + nearing(time)[0] : 1
    const points = nearing ? 1 / (1 - Math.sqrt(Math.max(0, 1 - shown * shown)) / cameraAway) : 1
    return {
      ...{ heel, shoulder, hand: [x, y], turned: angle + turn },
      tip: [heel[0] + length * dx, heel[1] + length * dy],
      elbow: elbowOf(shoulder, [x, y], arm, side),
      wider: { heel: near, tip: near * points },
      second: of.hand === 'two' ? [x + secondAt * shown * dx, y + secondAt * shown * dy] : null,
    }
  }
}

/** How far off the camera is, in lengths of a rod. */
const cameraAway = 2.5

function knotsOf(of: Case, chance: Chance, centre: Point, right: boolean): Knot[] {
  const side = right ? 1 : -1
  const { length } = of.rod
  const out: Knot[] = []
  let angle = right ? chance.between(-1.2, -0.2) : Math.PI - chance.between(-1.2, -0.2)
  let grip = chance.between(4, 22)
  let way = side
  for (let time = -4; time < of.frames + 30;) {
    const last = out.at(-1)
    const reach = of.move === 'thrust' ? 110 : 75
    const place: Point = [
      centre[0] + side * chance.between(0, reach) + (of.move === 'twirl' ? 0 : chance.between(-30, 30)),
      centre[1] + chance.between(-90, 70),
    ]
    if (of.move === 'twirl') angle += way * chance.between(1.6, 4.2)
    else if (of.move === 'thrust') angle += chance.between(-0.5, 0.5)
    else {
      const bound = right ? -0.5 : Math.PI + 0.5
      angle = bound + way * chance.between(0.3, 1.5)
      way = -way
    }
    if (of.move === 'regrip' && chance.happens(0.5)) grip = chance.between(4, Math.min(120, 0.35 * length))
    const shown =
      of.move === 'thrust'
        ? chance.between(0.5, 1)
        : of.move === 'twirl'
          ? chance.between(0.9, 1)
          : chance.between(0.95, 1)
    const turn = of.hand === 'turning' ? chance.between(-0.7, 0.7) : chance.between(-0.06, 0.06)
    const values = [...place, angle, shown, grip, turn]
    if (last) {
      // Nobody swings a tip faster than this many px a frame, on average of the way.
      const tip =
        Math.abs(angle - last.values[2]!) * length + Math.hypot(place[0] - last.values[0]!, place[1] - last.values[1]!)
      time += Math.max(chance.between(7, 20), tip / chance.between(18, 48))
    }
    out.push({ time, values })
    if (of.move === 'twirl' && chance.happens(0.3)) way = -way
  }
  return out
}

/** Cubic Hermite through the knots, with the slope of their neighbours made weaker: hands nearly rest where they turn. */
function through(knots: readonly Knot[], time: number): number[] {
  let k = knots.findIndex((knot) => knot.time > time) - 1
  k = Math.max(0, k < 0 ? (time < knots[0]!.time ? 0 : knots.length - 2) : k)
  const [a, b] = [knots[k]!, knots[k + 1]!]
  const span = b.time - a.time
  const u = Math.max(0, Math.min(1, (time - a.time) / span))
  const slope = (i: number, c: number) => {
    const [before, after] = [knots[Math.max(0, i - 1)]!, knots[Math.min(knots.length - 1, i + 1)]!]
    return (0.6 * (after.values[c]! - before.values[c]!)) / (after.time - before.time)
  }
  const [u2, u3] = [u * u, u * u * u]
  return a.values.map(
    (from, c) =>
      from * (2 * u3 - 3 * u2 + 1) +
      b.values[c]! * (3 * u2 - 2 * u3) +
      span * (slope(k, c) * (u3 - 2 * u2 + u) + slope(k + 1, c) * (u3 - u2)),
  )
}

function elbowOf(shoulder: Point, hand: Point, arm: number, side: number): Point {
  const [dx, dy] = [hand[0] - shoulder[0], hand[1] - shoulder[1]]
  const far = Math.max(1, Math.hypot(dx, dy))
  const bent = Math.sqrt(Math.max(0, arm * arm - (far * far) / 4))
  return [shoulder[0] + dx / 2 + (side * bent * dy) / far, shoulder[1] + dy / 2 - (side * bent * dx) / far + 0.1 * bent]
}
