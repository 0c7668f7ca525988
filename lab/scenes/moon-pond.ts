import { hashed } from '#core/pixels/filters/noise.ts'
import { growthAlone, marsh } from './marsh.ts'
import { type Canvas, fill, mix, nodesThrough, noise, once, polygonOf, smooth } from './paint.ts'
import { frameSize, type Posed, type Scene } from './scene.ts'

/** Water, reeds and a rising moon; nobody. */
export const moonPond: Scene = {
  name: 'Moon pond',
  file: 'moon-pond.mp4',
  frames: 72,
  thumbnail: 44,
  codec: 'h264',
  sound: false,
  perform(seed) {
    const vary = (k: number, amount: number) => (seed === 1 ? 0 : (hashed(seed, k) - 0.5) * 2 * amount)
    const x0 = 806 + vary(1, 160)
    const rise = 190 + vary(2, 40)
    const radius = 46
    const before = once(() => growthAlone(seed + 31))
    return {
      background: once(() => marsh(seed + 31, false)),
      contacts: [],
      at(t): Posed {
        const u = t / 72
        const moon = { x: x0 + 60 * u, y: 330 - rise * u }
        const disc = nodesThrough(
          Array.from({ length: 8 }, (_, i) => [
            moon.x + radius * Math.cos((i * Math.PI) / 4),
            moon.y + radius * Math.sin((i * Math.PI) / 4),
          ]).flat(),
        )
        return {
          draw(target) {
            fill(target, polygonOf(disc), (x, y) => {
              const [dx, dy] = [(x - moon.x) / radius, (y - moon.y) / radius]
              const seas = 0.72 + 0.28 * smooth(0.35, 0.6, noise(dx * 2.2 + 5, dy * 2.2, 77))
              const v = 0.62 * seas * mix(1, 0.82, dx * dx + dy * dy)
              return [v, v * 0.9, v * 0.72]
            })
            cover(target, before(), moon, radius + 4)
            glints(target, moon.x, t)
          },
          rods: [],
          outlines: [{ name: 'moon', figure: 'Moon', nodes: disc }],
        }
      },
    }
  },
}

/** Lays what stands before the sky over the moon's place. */
function cover(target: Canvas, growth: Canvas, { x, y }: { x: number; y: number }, reach: number): void {
  const { margin } = frameSize
  for (let py = Math.max(0, Math.floor(y - reach)); py < Math.min(target.height, y + reach); py++)
    for (let px = Math.max(0, Math.floor(x - reach)); px < Math.min(target.width, x + reach); px++) {
      const from = 4 * ((py + margin) * growth.width + px + margin)
      const to = 4 * (py * target.width + px)
      const left = 1 - growth.data[from + 3]!
      if (target.data[to + 3] === 0 || left === 1) continue
      for (let c = 0; c < 4; c++)
        target.data[to + c] = target.data[to + c]! * left + growth.data[from + c]! * target.data[to + 3]!
    }
}

/** The moon's broken road of light on the water: light without cover. */
function glints(target: Canvas, x: number, t: number): void {
  for (let py = 452; py < 716; py++) {
    const near = (py - 452) / 264
    const wide = mix(22, 74, near)
    for (let px = Math.max(0, Math.floor(x - wide)); px < Math.min(target.width, x + wide); px++) {
      const away = Math.abs(px - x) / wide
      const wave = noise(px / mix(11, 34, near) + 0.05 * t, py / mix(1.6, 4.5, near) - 0.16 * t, 91)
      const v = 0.3 * (1 - away) * smooth(0.52, 0.78, wave) * mix(0.55, 1, near)
      if (v <= 0) continue
      const to = 4 * (py * target.width + px)
      target.data[to]! += v
      target.data[to + 1]! += v * 0.88
      target.data[to + 2]! += v * 0.66
    }
  }
}
