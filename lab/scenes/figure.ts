import { type Canvas, cloud, fill, limb, mix, nodesThrough, noise, placed, polygonOf, type Rgb } from './paint.ts'
import type { Posed } from './scene.ts'

export interface FigureLook {
  name: string
  coat: Rgb
  hat: Rgb
  skin: Rgb
  pole: Rgb
  /** Which way the light comes from: 1 from the right. */
  facing: 1 | -1
  seed: number
}
export interface FigurePose {
  /** Middle of the feet. */
  x: number
  y: number
  lean: number
  /** Turn of the head in radians. */
  nod: number
  pole: { x: number; y: number; angle: number; length: number; width: number }
}

/** A figure in coat and hat that holds a pole with both hands; shapes in camera pixels. */
export function figure(look: FigureLook, pose: FigurePose): Posed {
  const { x, y, lean, pole } = pose
  const f = look.facing
  const chest = { x: x + lean * 160, y: y - 235 }
  const head = { x: x + lean * 235 + f * 3, y: y - 352 }
  const direction = { x: Math.cos(pole.angle), y: Math.sin(pole.angle) }
  const tip = { x: pole.x + direction.x * pole.length, y: pole.y + direction.y * pole.length }
  const hands = [10, 66].map((d) => ({ x: pole.x + direction.x * d, y: pole.y + direction.y * d }))

  const shapes: { name: string; nodes: number[]; shade: (x: number, y: number) => Rgb }[] = []
  const cloth = clothOf(look)
  const add = (name: string, places: number[], shade: (x: number, y: number) => Rgb) =>
    shapes.push({ name, nodes: nodesThrough(places), shade })

  for (const side of [-1, 1]) {
    const foot = x + side * 34
    add(
      side < 0 ? 'left leg' : 'right leg',
      limb(chest.x + side * 20, y - 120, foot, y - 8, 25, 16),
      cloth(look.coat.map((c) => c * 0.45) as Rgb, foot, y, 40),
    )
    add(
      side < 0 ? 'left boot' : 'right boot',
      limb(foot - 4, y - 8, foot + f * 24, y - 4, 13, 9),
      cloth([0.012, 0.011, 0.01], foot, y, 30),
    )
  }
  const hem = 66 + 5 * Math.sin(pole.angle * 2)
  const torso = [-46, -68, -20, -78, 20, -78, 46, -68, 52, 0, hem, 150, 10, 158, -hem, 150, -52, 0]
  add('torso', placed(torso, chest.x, chest.y, lean * 0.6), cloth(look.coat, chest.x, chest.y, 62))
  const poleBehind = shapes.length
  add(
    'neck',
    limb(head.x, head.y + 26, chest.x, chest.y - 66, 14, 18),
    cloth(look.skin.map((c) => c * 0.5) as Rgb, head.x, head.y, 20),
  )
  const face = [0, -38, 22, -30, 30, -6, 26, 20, 10, 39, -4, 40, -22, 26, -30, 0, -24, -28]
  add('head', placed(face, head.x, head.y, pose.nod), skin(look, head))
  const brim = [-62, -20, -30, -31, 0, -34, 34, -31, 64, -18, 30, -9, 0, -6, -30, -9]
  const crown = [-33, -24, -30, -52, -14, -63, 6, -60, 20, -64, 31, -50, 34, -24, 0, -16]
  add('crown', placed(crown, head.x, head.y, pose.nod), cloth(look.hat, head.x, head.y - 40, 36))
  add(
    'brim',
    placed(brim, head.x, head.y, pose.nod),
    cloth(look.hat.map((c) => c * 0.8) as Rgb, head.x, head.y - 20, 66),
  )
  hands.forEach((hand, i) => {
    const side = i ? f : -f
    const shoulder = { x: chest.x + side * 42, y: chest.y - 56 }
    const [dx, dy] = [hand.x - shoulder.x, hand.y - shoulder.y]
    const reach = Math.hypot(dx, dy) || 1
    const bend = Math.sqrt(Math.max(0, 88 * 88 - (reach / 2) ** 2)) * 0.8
    const elbow = {
      x: shoulder.x + dx / 2 - (dy / reach) * bend * side * -0.6,
      y: shoulder.y + dy / 2 + Math.abs(dx / reach) * bend + 10,
    }
    const arm = i ? 'right' : 'left'
    add(
      `${arm} arm`,
      limb(shoulder.x, shoulder.y, elbow.x, elbow.y, 24, 19),
      cloth(look.coat, shoulder.x, shoulder.y, 40),
    )
    add(
      `${arm} forearm`,
      limb(elbow.x, elbow.y, hand.x, hand.y, 19, 13),
      cloth(look.coat.map((c) => c * 1.15) as Rgb, elbow.x, elbow.y, 34),
    )
    add(
      `${arm} hand`,
      limb(
        hand.x - direction.x * 6,
        hand.y - direction.y * 6,
        hand.x + direction.x * 7,
        hand.y + direction.y * 7,
        13,
        12,
      ),
      skin(look, hand),
    )
  })

  return {
    draw(target: Canvas) {
      shapes.forEach((shape, i) => {
        if (i === poleBehind) drawPole(target, look, pose, tip)
        fill(target, polygonOf(shape.nodes), shape.shade)
      })
    },
    rods: [
      {
        name: `${look.name} pole`,
        width: pole.width,
        points: [pole.x, pole.y, tip.x, tip.y],
        head: `${look.name} head`,
      },
    ],
    outlines: shapes.map((shape) => ({ name: shape.name, figure: look.name, nodes: shape.nodes })),
  }
}

/** Woven cloth with folds, lit from the side that the figure faces. */
export const clothOf =
  (look: FigureLook) =>
  (colour: Rgb, ox: number, oy: number, width: number) =>
  (px: number, py: number): Rgb => {
    const weave = 0.75 + 0.5 * noise((px - ox) / 1.7, (py - oy) / 1.7, look.seed)
    const folds = 0.25 + 1.15 * cloud((px - ox) / 15, (py - oy) / 70, look.seed + 8, 3)
    const rim = 1 + 0.9 * Math.min(1, Math.max(0, (look.facing * (px - ox)) / width)) ** 3
    const v = weave * folds * rim
    return [colour[0] * v * mix(1, 1.35, rim - 1), colour[1] * v, colour[2] * v]
  }

export function skin(look: FigureLook, at: { x: number; y: number }) {
  return (px: number, py: number): Rgb => {
    const v =
      (0.8 + 0.3 * noise((px - at.x) / 5, (py - at.y) / 5, look.seed + 2)) * (1 + (look.facing * (px - at.x)) / 55)
    return [look.skin[0] * v, look.skin[1] * v, look.skin[2] * v]
  }
}

function drawPole(target: Canvas, look: FigureLook, { pole }: FigurePose, tip: { x: number; y: number }): void {
  const [dx, dy] = [Math.cos(pole.angle), Math.sin(pole.angle)]
  const h = pole.width / 2
  const back = 34
  const [bx, by] = [pole.x - dx * back, pole.y - dy * back]
  fill(
    target,
    [
      bx - dy * h,
      by + dx * h,
      tip.x - dy * h,
      tip.y + dx * h,
      tip.x + dy * h,
      tip.y - dx * h,
      bx + dy * h,
      by - dx * h,
    ],
    (px, py) => {
      const u = (px - pole.x) * dx + (py - pole.y) * dy
      const v = ((py - pole.y) * dx - (px - pole.x) * dy) / h
      const round = 0.45 + 0.75 * Math.sqrt(Math.max(0, 1 - v * v)) - 0.25 * v * Math.sign(dx || 1)
      const wood = 0.65 + 0.6 * cloud(u / 26, v * 1.5 + 7, look.seed + 31, 3)
      const ring = Math.abs(((u + 400) % 92) - 46) < 3 ? 0.55 : 1
      const tone = round * wood * ring
      return [look.pole[0] * tone, look.pole[1] * tone, look.pole[2] * tone]
    },
  )
}
