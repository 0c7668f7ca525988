import type { BorderMode } from '../buffers/border.ts'
import type { Rgba, RgbaArea } from '../buffers/picture.ts'
import { type Scratch, Slot } from '../buffers/scratch.ts'
import { span } from '../kernels/interface.ts'

const slots = { before: new Slot(), nodes: new Slot(), line: new Slot() } as const

/**
 * Where pixels take their colour from: `where` writes the place for the pixel at (x, y), in pixels of the whole picture
 * (centres at +0.5). It is asked on a mesh of `step` pixels and straight between: it has to be smooth over that.
 */
export interface SmoothMap {
  where(x: number, y: number, out: [number, number]): void
  step: number
}

/** A picture over a region that is drawn anew; `under` is the same, or more of it, in a buffer of its own. */
export interface Warped extends RgbaArea {
  under?: RgbaArea
}

/** What a picture was before it is drawn anew in place: what lies under it, or else a copy. */
function sourceOf({ data, region, under }: Warped, scratch: Scratch): RgbaArea {
  if (under) return under
  const copy = scratch.floats(slots.before, data.length)
  copy.set(data)
  return { data: copy, region }
}

/**
 * Draws a picture anew in place: each pixel takes what lies at the place that the map names, sampled bilinearly; past the
 * picture lies what `border` says. The data comes from the scratch.
 */
export const warp = (image: Warped, map: SmoothMap, border: BorderMode, scratch: Scratch): void =>
  resample(sourceOf(image, scratch), image, map, border, scratch)

/** The same from one picture into another. */
export function resample(
  source: RgbaArea,
  { data: out, region: to }: RgbaArea,
  { where, step }: SmoothMap,
  border: BorderMode,
  scratch: Scratch,
): void {
  const { region: from } = source
  // Nodes lie at multiples of the step in the whole picture, so that another region asks at the same places.
  const left = Math.floor(to.x / step)
  const count = Math.ceil((to.x + to.width) / step) - left + 2
  const offset = to.x - left * step
  // Two rows of nodes after each other: the one above and the one below.
  const nodes = scratch.floats(slots.nodes, 4 * count)
  const mesh = { nodes: scratch.floats(slots.line, 2 * count), step, offset }
  const place: [number, number] = [0, 0]
  const ask = (row: number, at: number) => {
    for (let k = 0; k < count; k++) {
      where((left + k) * step + 0.5, row * step + 0.5, place)
      nodes[at + 2 * k] = place[0] - from.x
      nodes[at + 2 * k + 1] = place[1] - from.y
    }
  }
  const picture = pictureOf(source)
  let asked = NaN
  let above = 0
  let below = 2 * count
  for (let y = to.y; y < to.y + to.height; y++) {
    const row = Math.floor(y / step)
    if (row !== asked) {
      if (row === asked + 1) [above, below] = [below, above]
      else ask(row, above)
      ask(row + 1, below)
      asked = row
    }
    scratch.kernels.mixLines(nodes, [above, below], (y - row * step) / step, mesh.nodes, 0, 2 * count)
    scratch.kernels.sampleMesh(picture, mesh, border, span(out, 4 * (y - to.y) * to.width), to.width)
  }
}

const pictureOf = ({ data, region: { width, height } }: RgbaArea): Rgba => ({ data, width, height })

/** Place of the pixel (x, y): (a x + c y + e, b x + d y + f). */
export type Affine = readonly [a: number, b: number, c: number, d: number, e: number, f: number]

/** A turn by `angle` (radians, clockwise on screen) and growth by `size` about a place, then a shift. */
export function turnAbout(cx: number, cy: number, angle: number, size: number, dx = 0, dy = 0): Affine {
  const [c, s] = [Math.cos(angle) * size, Math.sin(angle) * size]
  return [c, s, -s, c, cx + dx - c * cx + s * cy, cy + dy - s * cx - c * cy]
}

/** The map after a shift by (dx, dy). */
export const movedFirst = ([a, b, c, d, e, f]: Affine, dx: number, dy: number): Affine => [
  ...([a, b, c, d] as const),
  e + a * dx + c * dy,
  f + b * dx + d * dy,
]

/** {@link resample} for maps that keep lines straight and parallel. */
export function resampleAffine(
  source: RgbaArea,
  { data: out, region: to }: RgbaArea,
  [a, b, c, d, e, f]: Affine,
  border: BorderMode,
  scratch: Scratch,
): void {
  const { region: from } = source
  const picture = pictureOf(source)
  for (let y = 0; y < to.height; y++) {
    const [px, py] = [to.x + 0.5, to.y + y + 0.5]
    const line = { x: a * px + c * py + e - from.x, y: b * px + d * py + f - from.y, dx: a, dy: b }
    scratch.kernels.sampleLine(picture, line, border, span(out, 4 * y * to.width), to.width)
  }
}

export const warpAffine = (image: Warped, map: Affine, border: BorderMode, scratch: Scratch): void =>
  resampleAffine(sourceOf(image, scratch), image, map, border, scratch)
