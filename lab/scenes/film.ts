import { to8Bit } from '#core/pixels/colour/transfer.ts'
import { hashed } from '#core/pixels/filters/noise.ts'
import { canvas, type Canvas } from './paint.ts'
import { frameSize, type Performance, type Truth } from './scene.ts'

export interface Filming {
  seed: number
  /** Grain, 1 as the demo. */
  noise: number
  /** Shutter, 1 for 180 degrees. */
  blur: number
}

/** Sway of the camera in pixels at a time in frames: what is fixed in the world moves by it. */
export const sway = (t: number, seed: number): { x: number; y: number } => ({
  x: 3.2 * Math.sin(t / 19 + seed) + 1.1 * Math.sin(t / 7.3),
  y: 2.1 * Math.sin(t / 23 + 2 * seed) + 0.8 * Math.sin(t / 5.9),
})

/** Where the camera has moved to: its sway, and what it follows. */
function camera(performance: Performance, t: number, seed: number): { x: number; y: number } {
  const [hand, followed] = [sway(t, seed), performance.follow?.(t) ?? { x: 0, y: 0 }]
  return { x: hand.x + followed.x, y: hand.y + followed.y }
}

/** One frame as encoded RGBA bytes: many moments of the open shutter, lens softness, light, grain. */
export function film(performance: Performance, frame: number, { seed, noise, blur }: Filming): Uint8ClampedArray {
  const { width, height, margin } = frameSize
  const mean = canvas(width, height)
  const moment = canvas(width, height)
  const subframes = momentsOf(performance, frame, blur)
  for (let i = 0; i < subframes; i++) {
    const t = frame + 0.5 * blur * ((i + 0.5) / subframes - 0.5)
    moment.data.fill(0)
    performance.at(t).draw(moment)
    for (let k = 0; k < mean.data.length; k++) mean.data[k]! += moment.data[k]! / subframes
  }
  const shift = camera(performance, frame, seed)
  const world = shifted(performance.background(), margin - shift.x, margin - shift.y, width, height)
  const figures = shifted(mean, -shift.x, -shift.y, width, height)
  const light = 1 + 0.045 * Math.sin(frame / 13 + seed) + 0.02 * Math.sin(frame / 3.7)
  for (let k = 0; k < world.data.length; k += 4) {
    const behind = 1 - figures.data[k + 3]!
    for (let c = 0; c < 3; c++) world.data[k + c] = (world.data[k + c]! * behind + figures.data[k + c]!) * light
  }
  soften(world)
  const out = new Uint8ClampedArray(width * height * 4)
  for (let p = 0; p < width * height; p++) {
    // Grain of a sensor: stronger in the dark tones once encoded, a little different per channel.
    const common = grain(p, frame, seed)
    for (let c = 0; c < 3; c++) {
      const value = to8Bit(world.data[4 * p + c]!)
      out[4 * p + c] = value + noise * (2.4 * common + 1.2 * grain(p, frame * 3 + c + 1000, seed))
    }
    out[4 * p + 3] = 255
  }
  return out
}

/** Moments of the shutter that are drawn: a step of about 4 px for the fastest tip, so that a fan has no ribs. */
function momentsOf(performance: Performance, frame: number, blur: number): number {
  const open = performance.at(frame - 0.25 * blur)
  const closed = performance.at(frame + 0.25 * blur)
  const travel = [
    0,
    ...open.rods.map((rod, i) =>
      Math.hypot(rod.points[2]! - closed.rods[i]!.points[2]!, rod.points[3]! - closed.rods[i]!.points[3]!),
    ),
    ...open.outlines.map((one, i) =>
      Math.hypot(one.nodes[0]! - closed.outlines[i]!.nodes[0]!, one.nodes[1]! - closed.outlines[i]!.nodes[1]!),
    ),
  ]
  return Math.max(4, Math.min(32, Math.ceil(Math.max(...travel) / 4)))
}

const grain = (p: number, frame: number, seed: number) => hashed(p, frame, seed) + hashed(p, frame, seed + 77) - 1

/** Bilinear reading of `source` from (x, y) on; outside is nothing. */
function shifted(source: Canvas, x: number, y: number, width: number, height: number): Canvas {
  const out = canvas(width, height)
  const [ix, iy] = [Math.floor(x), Math.floor(y)]
  const [u, v] = [x - ix, y - iy]
  const weights = [(1 - u) * (1 - v), u * (1 - v), (1 - u) * v, u * v]
  for (let row = 0; row < height; row++) {
    for (let column = 0; column < width; column++) {
      const to = 4 * (row * width + column)
      for (let k = 0; k < 4; k++) {
        const sx = column + ix + (k & 1)
        const sy = row + iy + (k >> 1)
        if (sx < 0 || sy < 0 || sx >= source.width || sy >= source.height) continue
        const from = 4 * (sy * source.width + sx)
        for (let c = 0; c < 4; c++) out.data[to + c]! += source.data[from + c]! * weights[k]!
      }
    }
  }
  return out
}

/** A lens is never perfectly sharp: a small tent in both directions. */
function soften(image: Canvas): void {
  const { data, width, height } = image
  const pass = (length: number, count: number, step: number, stride: number) => {
    for (let n = 0; n < count; n++) {
      for (let c = 0; c < 3; c++) {
        let before = data[n * stride + c]!
        for (let i = 1; i < length - 1; i++) {
          const at = n * stride + i * step + c
          const here = data[at]!
          data[at] = 0.22 * (before + data[at + step]!) + 0.56 * here
          before = here
        }
      }
    }
  }
  pass(width, height, 4, 4 * width)
  pass(height, width, 4 * width, 4)
}

/** To hundredths, as the truth is kept. */
export const round = (values: number[]) => values.map((v) => Math.round(v * 100) / 100)

/** What is known of every frame, at the middle of its shutter. */
export function truthOf(scene: string, performance: Performance, frames: number, seed: number): Truth {
  const { width, height, rate } = frameSize
  const truth: Truth = { scene, seed, width, height, rate, frames, rods: [], outlines: [], contacts: [] }
  for (let frame = 0; frame < frames; frame++) {
    const { x, y } = camera(performance, frame, seed)
    const moved = (points: number[]) => round(points.map((v, i) => v + (i % 2 ? y : x)))
    const posed = performance.at(frame)
    posed.rods.forEach((rod, i) => {
      const entry = (truth.rods[i] ??= { name: rod.name, width: rod.width, points: [], behindHead: [], tipOutside: [] })
      const points = moved(rod.points)
      entry.points.push(points)
      if (points[2]! < 0 || points[3]! < 0 || points[2]! > width || points[3]! > height) entry.tipOutside.push(frame)
      const head = posed.outlines.find((o) => `${o.figure} ${o.name}` === rod.head)
      if (head && crosses(points, moved(head.nodes))) entry.behindHead.push(frame)
    })
    posed.outlines.forEach((shape, i) => {
      const entry = (truth.outlines[i] ??= { name: shape.name, figure: shape.figure, points: [] })
      entry.points.push(moved(shape.nodes))
    })
    if (performance.contacts.includes(frame)) {
      const [a, b] = truth.rods.map((rod) => rod.points[frame]!) as [number[], number[]]
      truth.contacts.push({ frame, ...meeting(a, b) })
    }
  }
  return truth
}

/** Whether the rod passes through the box of the head. */
function crosses(rod: number[], nodes: number[]): boolean {
  const xs = nodes.filter((_, i) => i % 6 === 0)
  const ys = nodes.filter((_, i) => i % 6 === 1)
  for (let u = 0; u <= 1; u += 0.01) {
    const x = rod[0]! + (rod[2]! - rod[0]!) * u
    const y = rod[1]! + (rod[3]! - rod[1]!) * u
    if (x > Math.min(...xs) && x < Math.max(...xs) && y > Math.min(...ys) && y < Math.max(...ys)) return true
  }
  return false
}

/** Where the lines of two rods cross. */
function meeting(a: number[], b: number[]): { x: number; y: number } {
  const [ux, uy, vx, vy] = [a[2]! - a[0]!, a[3]! - a[1]!, b[2]! - b[0]!, b[3]! - b[1]!]
  const s = ((b[0]! - a[0]!) * vy - (b[1]! - a[1]!) * vx) / (ux * vy - uy * vx)
  return { x: Math.round((a[0]! + ux * s) * 100) / 100, y: Math.round((a[1]! + uy * s) * 100) / 100 }
}
