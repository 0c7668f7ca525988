import { behindKnown, viewNumbers } from '../../pixels/kernels/station.ts'
import type { PlacesLook } from '../../pixels/kernels/interface.ts'
import { lookInMemory, viewInMemory } from './memory.ts'
import type { RodPose } from './pose.ts'
import type { RodView } from './view.ts'

/** What the hand that holds a rod looks like, in coordinates of the rod: it says where along its axis the heel is. */
export type GripLook = PlacesLook

const along = { from: -20, to: 36, step: 2 }
const across = { reach: 10, step: 2 }
const rows = Math.round((2 * across.reach) / across.step) + 1
const columns = Math.round((along.to - along.from) / along.step) + 1
/** Levels of colour by which the hand may look different, and by which it must differ from what stands behind it. */
const tolerance = 15
const differs = 12
/** Levels from one place to the next that make an edge. */
const steep = 24

/** Reads it from a frame on which a hand has set the rod. */
export function gripLook(view: RodView, pose: RodPose): GripLook {
  const colour = new Float32Array(rows * columns * 3).fill(-1)
  const tells = new Float32Array(rows * columns)
  const { gain, offset } = view.light
  forPlaces(view, pose, (at, place) => {
    const { data } = view
    colour[3 * place] = (data[at]! - offset) / gain
    colour[3 * place + 1] = data[at + 1]!
    colour[3 * place + 2] = data[at + 2]!
    const known = data[at + 7] === behindKnown
    const off = Math.hypot(data[at]! - data[at + 3]!, data[at + 1]! - data[at + 4]!, data[at + 2]! - data[at + 5]!)
    tells[place] = known ? Math.min(1, off / differs) ** 2 : 0.3
  })
  // What is even along the rod fits wherever the hand is put: edges across it tell where it is.
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const place = row * columns + column
      const slopes = [-1, 1].map((by) => {
        const other = column + by < 0 || column + by >= columns ? place : place + by
        if (colour[3 * other]! < -0.5) return 0
        return Math.hypot(...[0, 1, 2].map((k) => colour[3 * other + k]! - colour[3 * place + k]!))
      })
      tells[place]! *= 0.15 + 0.85 * Math.min(1, Math.max(...slopes) / steep)
    }
  const telling = [...tells.keys()].filter((place) => tells[place]! > 0)
  const count = 4 * Math.ceil(telling.length / 4)
  const numbers = new Float32Array(6 * count)
  telling.forEach((place, i) => {
    const told = [farOf[place]!, offOf[place]!, ...colour.subarray(3 * place, 3 * place + 3), tells[place]!]
    told.forEach((value, k) => (numbers[k * count + i] = value))
  })
  return { count, numbers, scale: 1 / (tolerance * tolerance) }
}

/** How much the surroundings of a pose's heel look like the grip, 0 to 1; 0.4 where hardly anything can be told. */
export function gripFit(view: RodView, look: GripLook, pose: RodPose): number {
  const there = viewInMemory(view)
  const heel = { x: pose.hx, y: pose.hy, dx: Math.cos(pose.angle), dy: Math.sin(pose.angle) }
  const said = there.kernels.alikeSays(there.view, lookInMemory(look, there.kernels), heel, view.light)
  return said < 0 ? 0.4 : said
}

/** Where each place lies: along the rod from its heel, and across it. */
const farOf = Float64Array.from({ length: rows * columns }, (_, place) => along.from + (place % columns) * along.step)
const offOf = Float64Array.from(
  { length: rows * columns },
  (_, place) => Math.floor(place / columns) * across.step - across.reach,
)

function forPlaces(view: RodView, pose: RodPose, visit: (at: number, place: number) => void): void {
  const [dx, dy] = [Math.cos(pose.angle), Math.sin(pose.angle)]
  const { x: left, y: top, width, height } = view
  for (let place = 0; place < rows * columns; place++) {
    const [far, off] = [farOf[place]!, offOf[place]!]
    const x = Math.floor(pose.hx + dx * far - dy * off) - left
    const y = Math.floor(pose.hy + dy * far + dx * off) - top
    if (x >= 0 && y >= 0 && x < width && y < height) visit((y * width + x) * viewNumbers, place)
  }
}
