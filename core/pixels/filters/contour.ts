import { polygonArea } from '../../geometry/path.ts'
import type { Raster } from '../buffers/raster.ts'

const known = new WeakMap<Raster, number[][]>()

/**
 * The lines along which a matte covers half, as closed polygons in plate pixels (flat lists), largest first; holes are
 * among them. Each crossing lies where the cover between two pixel centres is half (marching squares); where two areas
 * touch at a corner they stay apart.
 */
export function contoursOf(raster: Raster): number[][] {
  let out = known.get(raster)
  if (!out) known.set(raster, (out = traced(raster)))
  return out
}

/** Sides of a square between four pixel centres: above, right, below, left; where the line goes on to by the side it left. */
const [above, right, below, left] = [0, 1, 2, 3]

function traced({ x, y, width, height, data }: Raster): number[][] {
  // Squares lie between pixel centres, with a rim of nothing around.
  const columns = width + 1
  const rows = height + 1
  const at = (i: number, j: number) => (i < 0 || j < 0 || i >= width || j >= height ? 0 : data[j * width + i]!)
  const inside = (i: number, j: number) => at(i, j) > 127.5
  const seen = new Uint8Array(columns * rows)
  const out: number[][] = []
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++) {
      // Every line crosses some square's left side upwards or downwards; each crossing is begun at once.
      if (seen[j * columns + i] || inside(i - 1, j - 1) || !inside(i - 1, j)) continue
      out.push(walk(i, j))
    }
  return out.sort((a, b) => Math.abs(polygonArea(b)) - Math.abs(polygonArea(a)))

  /** From a square whose left side the line enters with the inside below, around until it is there again. */
  function walk(startI: number, startJ: number): number[] {
    const line: number[] = []
    let [i, j, entered] = [startI, startJ, left]
    do {
      if (entered === left) seen[j * columns + i] = 1
      line.push(...crossing(i, j, entered))
      const corners = [inside(i - 1, j - 1), inside(i, j - 1), inside(i, j), inside(i - 1, j)]
      // The inside lies to the right of the way: the line leaves by the first side to the right where it ends.
      let side = entered
      do side = (side + 3) % 4
      while (corners[side] === corners[(side + 1) % 4])
      if (side === above) j--
      else if (side === right) i++
      else if (side === below) j++
      else i--
      entered = (side + 2) % 4
    } while (i !== startI || j !== startJ || entered !== left)
    return line
  }

  /** Where the cover is half on a side of the square between the centres (i - 1, j - 1) and (i, j). */
  function crossing(i: number, j: number, side: number): [number, number] {
    const share = (a: number, b: number) => (127.5 - a) / (b - a)
    const [px, py] = [x + i - 0.5, y + j - 0.5]
    if (side === above) return [px + share(at(i - 1, j - 1), at(i, j - 1)), py]
    if (side === below) return [px + share(at(i - 1, j), at(i, j)), py + 1]
    if (side === left) return [px, py + share(at(i - 1, j - 1), at(i - 1, j))]
    return [px + 1, py + share(at(i, j - 1), at(i, j))]
  }
}
