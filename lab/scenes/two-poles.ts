import { hashed } from '#core/pixels/filters/noise.ts'
import { figure, type FigureLook } from './figure.ts'
import { keeper } from './jetty-swing.ts'
import { marsh } from './marsh.ts'
import { once, through } from './paint.ts'
import type { Posed, Scene } from './scene.ts'

const stranger: FigureLook = {
  name: 'Stranger',
  coat: [0.085, 0.045, 0.04],
  hat: [0.05, 0.045, 0.04],
  skin: [0.3, 0.17, 0.12],
  pole: [0.36, 0.3, 0.24],
  facing: -1,
  seed: 29,
}
const degrees = Math.PI / 180

/** Two who ferry greet each other: twice the tips of their poles meet over their heads, and a light goes across. */
export const twoPoles: Scene = {
  name: 'Two poles',
  file: 'two-poles.webm',
  frames: 72,
  thumbnail: 50,
  codec: 'vp9',
  sound: false,
  perform(seed) {
    const vary = (k: number, amount: number) => (seed === 1 ? 0 : (hashed(seed, k) - 0.5) * 2 * amount)
    const first = 24 + Math.round(vary(1, 3))
    const second = 50 + Math.round(vary(2, 3))
    // Both raise their poles from the outside to an arch, touch just below the tips, and let go again.
    const left: [number, number][] = [
      [-4, -150],
      [10, -158],
      [first, -61],
      [first + 5, -76],
      [first + 15, -104],
      [second, -61],
      [second + 6, -70],
      [76, -76],
    ]
    const right: [number, number][] = [
      [-4, -34],
      [12, -22],
      [first, -116.2],
      [first + 6, -101],
      [first + 15, -72],
      [second, -116.2],
      [second + 7, -108],
      [76, -102],
    ]
    return {
      background: once(() => marsh(seed + 7)),
      contacts: [first, second],
      at(t): Posed {
        const press = through(
          [
            [0, 0],
            [first, 1],
            [first + 12, 0.2],
            [second, 1],
            [72, 0.3],
          ],
          t,
        )
        const both = [
          figure(
            { ...keeper, seed: seed + 10 },
            {
              x: 402,
              y: 642,
              lean: 0.1 * press,
              nod: 0.14 * press,
              pole: {
                x: 476 + 22 * press,
                y: 424 - 26 * press,
                angle: through(left, t) * degrees,
                length: 330,
                width: 9,
              },
            },
          ),
          figure(
            { ...stranger, seed: seed + 20 },
            {
              x: 880,
              y: 646,
              lean: -0.1 * press,
              nod: -0.13 * press,
              pole: {
                x: 806 - 22 * press,
                y: 424 - 20 * press,
                angle: through(right, t) * degrees,
                length: 322,
                width: 8,
              },
            },
          ),
        ]
        return {
          draw: (target) => both.forEach((one) => one.draw(target)),
          rods: both.flatMap((one) => one.rods),
          outlines: both.flatMap((one) => one.outlines),
        }
      },
    }
  },
}
