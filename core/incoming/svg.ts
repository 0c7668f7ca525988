import { say } from '../say.ts'
import { SVGPathData } from 'svg-pathdata'
import { polygonArea } from '../geometry/path.ts'
import { limits } from '../records/limits.ts'
import { Refusal } from '../refusal.ts'
import { cornerNodes, nodeAt, nodeNumbers } from '../shapes/kinds/outline.ts'
import type { PartKindName } from '../shapes/registry.ts'

/** [a, b, c, d, e, f] of SVG: x' = a x + c y + e, y' = b x + d y + f. */
export type SvgMatrix = [number, number, number, number, number, number]

/** An element of a drawing that has a shape, with all that moves it. */
export interface SvgElement {
  name: string
  /** Its id, or what else it is called; '' for nothing. */
  called: string
  attributes: Readonly<Record<string, string>>
  matrix: SvgMatrix
}

/** A shape of a drawing as a part, in pixels of the plate. */
export interface DrawnShape {
  kind: PartKindName
  name: string
  points: number[]
  role: 'add' | 'cut'
}

/** Elements that have a shape of their own. */
export const svgShapes = ['path', 'rect', 'circle', 'ellipse', 'line', 'polyline', 'polygon'] as const

/** Shapes of a file that are taken at most. */
const mostShapes = 200
/** Elements that are looked at, and letters of one: what has more has too many points or shapes in any case. */
const [mostElements, mostLetters] = [5000, 200_000]

/**
 * The shapes of a drawing: paths, rectangles and polygons as outlines, circles and ellipses as ovals, lines as rods. A piece of
 * a path that runs the other way round than its first one cuts from it. Throws a Refusal where that is too much or can not be read.
 */
export function shapesOfSvg(elements: readonly SvgElement[]): DrawnShape[] {
  if (elements.length > mostElements)
    throw new Refusal(
      say`The drawing has ${elements.length} shapes; at most ${mostShapes} fit. Take out those that are not needed.`,
    )
  const endless = elements.find(({ attributes: { d = '', points = '' } }) => d.length + points.length > mostLetters)
  if (endless)
    throw new Refusal(
      say`${endless.called || endless.name} has far more points than the ${limits.numbers / nodeNumbers} that fit. Simplify the path in the program that drew it.`,
    )
  const out = elements.flatMap((element) => shapesOf(element))
  if (out.length === 0)
    throw new Refusal(
      say`There is no shape in this drawing. Turn texts and symbols into paths in the program that drew it.`,
    )
  if (out.length > mostShapes)
    throw new Refusal(
      say`The drawing has ${out.length} shapes; at most ${mostShapes} fit. Take out those that are not needed.`,
    )
  const large = out.find(({ points }) => points.length > limits.numbers)
  if (large)
    throw new Refusal(
      say`${large.name} has ${large.points.length / nodeNumbers} points; at most ${limits.numbers / nodeNumbers} fit. Simplify the path in the program that drew it.`,
    )
  if (out.some(({ points }) => points.some((v) => !Number.isFinite(v) || Math.abs(v) > limits.coordinate)))
    throw new Refusal(say`The drawing has a place that is no number, or far outside of everything.`)
  return out
}

function shapesOf({ name, called, attributes, matrix }: SvgElement): DrawnShape[] {
  const at = (x: number, y: number): [number, number] => [
    matrix[0] * x + matrix[2] * y + matrix[4],
    matrix[1] * x + matrix[3] * y + matrix[5],
  ]
  const number = (key: string) => Number.parseFloat(attributes[key] ?? '0') || 0
  const shape = (kind: PartKindName, points: number[]): DrawnShape[] => [
    { kind, name: called || name, points, role: 'add' },
  ]
  switch (name) {
    case 'line':
      return shape('rod', [...at(number('x1'), number('y1')), ...at(number('x2'), number('y2'))])
    case 'circle':
    case 'ellipse': {
      const [cx, cy] = [number('cx'), number('cy')]
      const [rx, ry] = name === 'circle' ? [number('r'), number('r')] : [number('rx'), number('ry')]
      return rx > 0 && ry > 0 ? shape('oval', [...at(cx, cy), ...at(cx + rx, cy), ...at(cx, cy + ry)]) : []
    }
    case 'rect': {
      const [x, y, w, h] = [number('x'), number('y'), number('width'), number('height')]
      if (w <= 0 || h <= 0) return []
      return shape('outline', cornerNodes([...at(x, y), ...at(x + w, y), ...at(x + w, y + h), ...at(x, y + h)]))
    }
    case 'polyline':
    case 'polygon': {
      const numbers = (attributes.points ?? '').match(/[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?/gi)?.map(Number) ?? []
      const places: number[] = []
      for (let i = 0; i + 1 < numbers.length; i += 2) places.push(...at(numbers[i]!, numbers[i + 1]!))
      return places.length >= 6 ? shape('outline', cornerNodes(places)) : []
    }
    case 'path': {
      const pieces = piecesOf(attributes.d ?? '', called || name, matrix)
      const way = Math.sign(pieces[0] ? turn(pieces[0]) : 0)
      return pieces.map((points, i) => ({
        ...{ kind: 'outline' as const, name: i === 0 ? called || name : `${called || name} ${i + 1}`, points },
        role: Math.sign(turn(points)) === -way ? ('cut' as const) : ('add' as const),
      }))
    }
    default:
      return []
  }
}

/** Area of a piece by its nodes alone, with the sign of the way round. */
const turn = (nodes: readonly number[]): number => polygonArea(nodes.filter((_, i) => i % nodeNumbers < 2))

/** The pieces of a path as nodes with their handles. */
function piecesOf(d: string, name: string, matrix: SvgMatrix): number[][] {
  let commands: SVGPathData['commands']
  try {
    commands = new SVGPathData(d)
      .toAbs()
      .aToC()
      .normalizeHVZ(false)
      .normalizeST()
      .qtToC()
      .transform(moved(matrix)).commands
  } catch {
    throw new Refusal(say`The path of ${name} can not be read. Save the drawing anew in the program that drew it.`)
  }
  const pieces: number[][] = []
  // A node is made when the next one is known: only then its handle after it is.
  let nodes: number[] = []
  let start: [number, number] = [0, 0]
  const end = () => {
    const n = nodes.length
    // A piece that comes back to where it began has one node there, not two.
    if (
      n > nodeNumbers &&
      Math.hypot(nodes[0]! - nodes[n - nodeNumbers]!, nodes[1]! - nodes[n - nodeNumbers + 1]!) < 1e-3
    ) {
      nodes[2] = nodes[n - nodeNumbers + 2]!
      nodes[3] = nodes[n - nodeNumbers + 3]!
      nodes.length = n - nodeNumbers
    }
    if (nodes.length >= 3 * nodeNumbers) pieces.push(nodes)
    nodes = []
  }
  for (const command of commands) {
    if (command.type === SVGPathData.MOVE_TO) {
      end()
      start = [command.x, command.y]
      nodes = nodeAt(...start, start, start)
    } else if (command.type === SVGPathData.LINE_TO) {
      if (nodes.length === 0) nodes = nodeAt(...start, start, start)
      const place: [number, number] = [command.x, command.y]
      nodes.push(...nodeAt(...place, place, place))
    } else if (command.type === SVGPathData.CURVE_TO) {
      if (nodes.length === 0) nodes = nodeAt(...start, start, start)
      const n = nodes.length
      ;[nodes[n - 4], nodes[n - 3]] = [command.x1, command.y1]
      const place: [number, number] = [command.x, command.y]
      nodes.push(...nodeAt(...place, [command.x2, command.y2], place))
    } else if (command.type === SVGPathData.CLOSE_PATH) end()
  }
  end()
  return pieces
}

/** What svg-pathdata calls a transform. */
const moved =
  ([a, b, c, d, e, f]: SvgMatrix) =>
  <C extends object>(command: C): C => {
    const out = { ...command } as Record<string, number>
    for (const [x, y] of [
      ['x', 'y'],
      ['x1', 'y1'],
      ['x2', 'y2'],
    ] as const)
      if (x in out) {
        const [px, py] = [out[x]!, out[y]!]
        out[x] = a * px + c * py + e
        out[y] = b * px + d * py + f
      }
    return out as C
  }

/** Two matrices one after the other: first `b`, then `a`. */
export const timesMatrix = (a: SvgMatrix, b: SvgMatrix): SvgMatrix => [
  a[0] * b[0] + a[2] * b[1],
  a[1] * b[0] + a[3] * b[1],
  a[0] * b[2] + a[2] * b[3],
  a[1] * b[2] + a[3] * b[3],
  a[0] * b[4] + a[2] * b[5] + a[4],
  a[1] * b[4] + a[3] * b[5] + a[5],
]

/** What lays a drawing's own units on the plate: as they are where they are its pixels, else as large as fits, in its middle. */
export function onPlate(
  box: { x: number; y: number; width: number; height: number } | null,
  plate: { width: number; height: number },
): SvgMatrix {
  if (!box || !(box.width > 0 && box.height > 0)) return [1, 0, 0, 1, 0, 0]
  const k = Math.min(plate.width / box.width, plate.height / box.height)
  const [dx, dy] = [(plate.width - k * box.width) / 2, (plate.height - k * box.height) / 2]
  return [k, 0, 0, k, dx - k * box.x, dy - k * box.y]
}
