import { hashed } from '#core/pixels/filters/noise.ts'
import { figure, type FigureLook } from './figure.ts'
import { marsh } from './marsh.ts'
import { once, through } from './paint.ts'
import type { Scene } from './scene.ts'

export const keeper: FigureLook = {
  name: 'Keeper',
  coat: [0.042, 0.046, 0.056],
  hat: [0.034, 0.028, 0.022],
  skin: [0.34, 0.18, 0.11],
  pole: [0.46, 0.31, 0.17],
  facing: 1,
  seed: 11,
}

const degrees = Math.PI / 180

/** The Keeper lifts a ferry pole slowly, swings it overhead and down; its tip leaves the picture at the top. */
export const jettySwing: Scene = {
  name: 'Jetty swing',
  file: 'jetty-swing.mp4',
  frames: 96,
  thumbnail: 26,
  codec: 'h264',
  sound: true,
  perform(seed) {
    const vary = (k: number, amount: number) => (seed === 1 ? 0 : (hashed(seed, k) - 0.5) * 2 * amount)
    const late = vary(1, 4)
    const angle: [number, number][] = [
      [-4, 34],
      [8, 24 + vary(2, 8)],
      [36 + late, -74 + vary(3, 8)],
      [48 + late, -124 + vary(4, 6)],
      [52 + late, -127],
      [63 + late + vary(5, 2), 30 + vary(6, 8)],
      [70 + late, 20],
      [100, 12 + vary(7, 8)],
    ]
    const heelX: [number, number][] = [
      [-4, 690],
      [36 + late, 668],
      [50 + late, 636],
      [58 + late, 676],
      [66 + late, 706],
      [100, 696],
    ]
    const heelY: [number, number][] = [
      [-4, 438],
      [36 + late, 352],
      [50 + late, 318],
      [58 + late, 338],
      [66 + late, 438],
      [100, 430],
    ]
    return {
      background: once(() => marsh(seed + 2)),
      contacts: [],
      at: (t) =>
        figure(
          { ...keeper, seed: seed + 10 },
          {
            x: 600,
            y: 640,
            lean:
              0.06 * Math.sin(t / 17) +
              0.12 *
                through(
                  [
                    [44 + late, 0],
                    [52 + late, -0.5],
                    [64 + late, 1],
                    [90, 0.3],
                  ],
                  t,
                ),
            nod: through(
              [
                [0, 0.05],
                [40 + late, -0.12],
                [52 + late, -0.1],
                [64 + late, 0.14],
                [95, 0.04],
              ],
              t,
            ),
            pole: {
              x: through(heelX, t),
              y: through(heelY, t),
              angle: through(angle, t) * degrees,
              length: 430,
              width: 9,
            },
          },
        ),
    }
  },
}
