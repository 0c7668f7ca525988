import { hashed } from '#core/pixels/filters/noise.ts'
import {
  canvas,
  type Canvas,
  clamp,
  cloud,
  fill,
  mix,
  nodesThrough,
  noise,
  polygonOf,
  type Rgb,
  smooth,
} from './paint.ts'
import { frameSize } from './scene.ts'

/** The marsh at dusk: sky, far trees, water, reeds and, where wanted, the boards of the jetty. */
export function marsh(seed: number, boards = true): Canvas {
  const { margin } = frameSize
  const out = canvas(frameSize.width + 2 * margin, frameSize.height + 2 * margin)
  const horizon = 410 + margin
  const tint = hashed(seed, 1) * 0.3
  for (let y = 0; y < out.height; y++) {
    for (let x = 0; x < out.width; x++) {
      const colour =
        y < horizon ? sky(x, y / horizon, seed, tint) : water(x, y - horizon, out.height - horizon, seed, tint)
      out.data.set([...colour, 1], 4 * (y * out.width + x))
    }
  }
  growth(out, seed)
  if (boards) jetty(out, 596 + margin, seed)
  return out
}

/** Trees and reeds alone, on nothing: what stands before whatever is in the sky. */
export function growthAlone(seed: number): Canvas {
  const { margin } = frameSize
  const out = canvas(frameSize.width + 2 * margin, frameSize.height + 2 * margin)
  growth(out, seed)
  return out
}

function growth(out: Canvas, seed: number): void {
  const horizon = 410 + frameSize.margin
  farTrees(out, horizon, seed)
  for (let depth = 0; depth < 3; depth++) reeds(out, horizon + depth * 26, depth, seed)
}

function sky(x: number, v: number, seed: number, tint: number): Rgb {
  const bank = smooth(0.45, 0.75, cloud(x / 260, v * 5, seed)) * smooth(0.05, 0.5, v)
  const low = v ** 2.6
  return [
    mix(0.022, 0.27 + tint * 0.2, low) + bank * 0.035,
    mix(0.035, 0.155, low) + bank * 0.02,
    mix(0.072, 0.115, low) + bank * 0.022,
  ]
}

function water(x: number, depth: number, all: number, seed: number, tint: number): Rgb {
  const near = depth / all
  const ripple = cloud(x / mix(26, 90, near), depth / mix(1.3, 6, near), seed + 40, 3) - 0.5
  const mirror = clamp(1 - near * 1.6 + ripple * 0.7)
  return [0.012 + mirror * (0.11 + tint * 0.1), 0.022 + mirror * 0.075, 0.03 + mirror * 0.062]
}

function farTrees(out: Canvas, horizon: number, seed: number): void {
  const points: number[] = [0, horizon + 4]
  for (let x = 0; x <= out.width; x += 4)
    points.push(x, horizon - 10 - 46 * cloud(x / 120, 0.5, seed + 9) ** 1.5 - 9 * noise(x / 9, 3, seed))
  points.push(out.width, horizon + 4)
  fill(out, points, (x, y) => {
    const v = 0.014 + 0.01 * noise(x / 3, y / 3, seed + 3)
    return [v * 1.1, v, v * 1.1]
  })
}

function reeds(out: Canvas, ground: number, depth: number, seed: number): void {
  const count = [190, 120, 60][depth]!
  for (let i = 0; i < count; i++) {
    const r = (k: number) => hashed(i, depth * 31 + k, seed + 70)
    const x = r(1) * out.width
    const tall = mix(55, 150, r(2)) * (0.75 + depth * 0.3)
    const lean = (r(3) - 0.5) * tall * 0.5
    const w = (1 + r(4) * 1.6) * (0.8 + depth * 0.5)
    const base = ground + r(5) * 26
    const blade = nodesThrough([
      x - w,
      base,
      x - w * 0.6 + lean * 0.3,
      base - tall * 0.55,
      x + lean,
      base - tall,
      x + w * 0.6 + lean * 0.35,
      base - tall * 0.55,
      x + w,
      base,
    ])
    const shade = mix(0.35, 1, r(6)) * (0.7 + depth * 0.25)
    const warm = r(7)
    fill(out, polygonOf(blade), (px, py) => {
      const v = shade * (0.6 + 0.5 * noise(px / 2, py / 14, seed + i))
      return [v * mix(0.05, 0.1, warm), v * mix(0.062, 0.07, warm), v * 0.028]
    })
    if (r(8) > 0.72) {
      const [hx, hy] = [x + lean * 0.92, base - tall * 0.94]
      fill(out, polygonOf(nodesThrough([hx - 3.2, hy, hx, hy - 16, hx + 3.2, hy, hx, hy + 16])), (px, py) => {
        const v = 0.03 + 0.035 * noise(px / 2, py / 2, seed + 5)
        return [v * 1.5, v * 0.9, v * 0.55]
      })
    }
  }
}

function jetty(out: Canvas, top: number, seed: number): void {
  const vanish = { x: out.width / 2, y: top - 560 }
  const along = (x: number, y: number) => vanish.x + (x - vanish.x) * ((y - vanish.y) / (top - vanish.y))
  let x = -240
  for (let board = 0; x < out.width + 240; board++) {
    const wide = 52 + 26 * hashed(board, 2, seed)
    const [a, b] = [x + 1.5, x + wide - 1.5]
    const tone = mix(0.6, 1.15, hashed(board, 3, seed))
    const bottom = out.height + 4
    fill(out, [a, top, b, top, along(b, bottom), bottom, along(a, bottom), bottom], (px, py) => {
      const across = vanish.x + (px - vanish.x) * ((top - vanish.y) / (py - vanish.y))
      const grain = cloud(across / 3.2, py / 70, seed + board * 7, 3)
      const worn = cloud(across / 40, py / 40, seed + 99, 3)
      const knot = Math.exp(
        -(((across - (a + b) / 2) / 9) ** 2) - ((py - top - 60 * hashed(board, 5, seed) - 20) / 7) ** 2,
      )
      const edge = smooth(0, 5, across - a) * smooth(0, 5, b - across)
      const v =
        tone *
        (0.035 + 0.07 * grain * worn) *
        (0.35 + 0.65 * edge) *
        (1 - 0.55 * knot) *
        mix(1.25, 0.75, (py - top) / 130)
      return [v * 1.25, v * 1.0, v * 0.8]
    })
    for (const nail of [0.25, 0.75]) {
      const [nx, ny] = [mix(a, b, nail), top + 11]
      fill(out, polygonOf(nodesThrough([nx - 2, ny, nx, ny - 2, nx + 2, ny, nx, ny + 2])), () => [0.012, 0.011, 0.011])
    }
    x += wide
  }
  fill(out, [0, top - 7, out.width, top - 7, out.width, top + 1, 0, top + 1], (px, py) => {
    const v = 0.06 + 0.05 * cloud(px / 60, py / 2, seed + 17)
    return [v * 1.1, v * 0.85, v * 0.68]
  })
}
