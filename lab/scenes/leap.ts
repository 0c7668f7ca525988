import { hashed } from '#core/pixels/filters/noise.ts'
import { clothOf, skin } from './figure.ts'
import { keeper } from './jetty-swing.ts'
import { marsh } from './marsh.ts'
import { fill, limb, nodesThrough, once, placed, polygonOf, type Rgb, through } from './paint.ts'
import type { Posed, Scene } from './scene.ts'

const degrees = Math.PI / 180
/** Lengths of the body in pixels. */
const body = { thigh: 84, shin: 82, upperArm: 62, forearm: 58, trunk: 108 }

interface Limbs {
  x: number
  y: number
  lean: number
  nod: number
  /** Angles from straight down, forwards positive, in degrees: the one nearer to us last. */
  thighs: [number, number]
  shins: [number, number]
  upperArms: [number, number]
  forearms: [number, number]
}

/** The Keeper without a pole, every limb on its own. */
function leaper(seed: number, pose: Limbs): Posed {
  const look = { ...keeper, seed: seed + 10 }
  const cloth = clothOf(look)
  const shapes: { name: string; nodes: number[]; shade: (x: number, y: number) => Rgb }[] = []
  const add = (name: string, places: number[], shade: (x: number, y: number) => Rgb) =>
    shapes.push({ name, nodes: nodesThrough(places), shade })
  const from = (x: number, y: number, angle: number, length: number) => ({
    x: x + Math.sin(angle * degrees) * length,
    y: y + Math.cos(angle * degrees) * length,
  })
  const hip = { x: pose.x, y: pose.y }
  const neck = from(hip.x, hip.y, 180 - pose.lean, body.trunk)
  const coat = look.coat
  const dim = (k: number): Rgb => [coat[0] * k, coat[1] * k, coat[2] * k]
  const leg = (i: 0 | 1) => {
    const side = i ? 'right' : 'left'
    const root = { x: hip.x + (i ? 9 : -9), y: hip.y - 6 }
    const knee = from(root.x, root.y, pose.thighs[i], body.thigh)
    const ankle = from(knee.x, knee.y, pose.shins[i], body.shin)
    const toe = { x: ankle.x + 26, y: ankle.y + 5 }
    add(`${side} thigh`, limb(root.x, root.y, knee.x, knee.y, 25, 18), cloth(dim(0.5), root.x, root.y, 40))
    add(`${side} shin`, limb(knee.x, knee.y, ankle.x, ankle.y, 17, 12), cloth(dim(0.42), knee.x, knee.y, 30))
    add(
      `${side} boot`,
      limb(ankle.x - 4, ankle.y + 2, toe.x, toe.y, 13, 9),
      cloth([0.012, 0.011, 0.01], ankle.x, ankle.y, 30),
    )
  }
  const arm = (i: 0 | 1) => {
    const side = i ? 'right' : 'left'
    const shoulder = { x: neck.x + (i ? 12 : -10), y: neck.y + 20 }
    const elbow = from(shoulder.x, shoulder.y, pose.upperArms[i], body.upperArm)
    const wrist = from(elbow.x, elbow.y, pose.forearms[i], body.forearm)
    const hand = from(wrist.x, wrist.y, pose.forearms[i], 15)
    add(
      `${side} upper arm`,
      limb(shoulder.x, shoulder.y, elbow.x, elbow.y, 22, 17),
      cloth(dim(i ? 1 : 0.75), shoulder.x, shoulder.y, 34),
    )
    add(
      `${side} forearm`,
      limb(elbow.x, elbow.y, wrist.x, wrist.y, 17, 12),
      cloth(dim(i ? 1.15 : 0.85), elbow.x, elbow.y, 28),
    )
    add(`${side} hand`, limb(wrist.x, wrist.y, hand.x, hand.y, 11, 9), skin(look, hand))
  }
  arm(0)
  leg(0)
  leg(1)
  const trunk = [-38, -112, -16, -122, 18, -122, 40, -112, 45, -50, 50, 14, 8, 24, -48, 14, -45, -50]
  add('torso', placed(trunk, hip.x, hip.y, pose.lean * degrees), cloth(coat, hip.x, hip.y - 60, 56))
  const head = from(neck.x, neck.y, 180 - pose.lean - pose.nod, 48)
  add(
    'neck',
    limb(neck.x, neck.y - 4, head.x, head.y + 22, 15, 13),
    cloth(look.skin.map((c) => c * 0.5) as Rgb, head.x, head.y, 20),
  )
  const turn = (pose.lean + pose.nod) * degrees
  const face = [0, -38, 22, -30, 30, -6, 26, 20, 10, 39, -4, 40, -22, 26, -30, 0, -24, -28]
  add('head', placed(face, head.x, head.y, turn), skin(look, head))
  const crown = [-33, -22, -31, -46, -14, -58, 6, -56, 20, -59, 31, -46, 34, -22, 0, -14]
  add('hat', placed(crown, head.x, head.y, turn), cloth(look.hat, head.x, head.y - 40, 36))
  arm(1)
  return {
    draw: (target) => shapes.forEach((shape) => fill(target, polygonOf(shape.nodes), shape.shade)),
    rods: [],
    outlines: shapes.map(({ name, nodes }) => ({ name, figure: look.name, nodes })),
  }
}

/** The Keeper crouches, leaps from the jetty and lands; the camera follows a little. */
export const leap: Scene = {
  name: 'Leap',
  file: 'leap.mp4',
  frames: 72,
  thumbnail: 34,
  codec: 'h264',
  sound: false,
  perform(seed) {
    const vary = (k: number, amount: number) => (seed === 1 ? 0 : (hashed(seed, k) - 0.5) * 2 * amount)
    const off = 24 + vary(1, 3)
    const down = off + 24 + vary(2, 2)
    const high = 150 + vary(3, 30)
    const far = 250 + vary(4, 40)
    const start = 420 + vary(5, 40)
    const ground = 452
    /** Of the flight, 0 before and 1 after. */
    const flown = (t: number) => Math.max(0, Math.min(1, (t - off) / (down - off)))
    const crouch = (t: number) =>
      through(
        [
          [2, 0],
          [off - 6, 1],
          [off + 1, 0],
          [down - 1, 0],
          [down + 5, 1],
          [down + 16, 0.1],
        ],
        t,
      )
    const tuck = (t: number) =>
      through(
        [
          [off, 0],
          [(off + down) / 2, 1],
          [down, 0],
        ],
        t,
      )
    const arms = (t: number) =>
      through(
        [
          [2, 0],
          [off - 7, -1],
          [off + 3, 1.2],
          [(off + down) / 2, 1],
          [down, 0.5],
          [down + 6, -0.4],
          [down + 18, 0],
        ],
        t,
      )
    return {
      background: once(() => marsh(seed + 4)),
      contacts: [],
      follow: (t) => ({ x: -14 * (flown(t) - 0.5), y: 9 * Math.sin(Math.PI * flown(t)) }),
      at(t) {
        const [c, k, a, u] = [crouch(t), tuck(t), arms(t), flown(t)]
        return leaper(seed, {
          x: start + far * u + 3 * Math.sin(t / 9),
          y: ground - high * 4 * u * (1 - u) + 34 * c,
          lean: 6 + 26 * c + 8 * k,
          nod: -8 * c + 6 * k,
          thighs: [10 + 46 * c + 58 * k, 4 + 40 * c + 34 * k],
          shins: [-6 - 44 * c - 62 * k, -4 - 42 * c - 70 * k],
          upperArms: [8 + 100 * Math.max(0, a) + 50 * Math.min(0, a), 2 + 112 * Math.max(0, a) + 58 * Math.min(0, a)],
          forearms: [22 + 96 * Math.max(0, a) + 34 * Math.min(0, a), 18 + 110 * Math.max(0, a) + 30 * Math.min(0, a)],
        })
      },
    }
  },
}
