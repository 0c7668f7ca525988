import { hexOf } from './hex.ts'

/**
 * Chromaticity of daylight of a correlated colour temperature (CIE D series, CIE 15), 4000 to 25000 K; below that of a
 * black body by the cubic fit of Kim et al. (2002), 1667 to 4000 K.
 */
export function chromaticity(kelvin: number): [number, number] {
  const t = Math.max(1667, Math.min(25000, kelvin))
  if (t >= 4000) {
    const x =
      t <= 7000
        ? 0.244063 + 0.09911e3 / t + 2.9678e6 / t ** 2 - 4.607e9 / t ** 3
        : 0.23704 + 0.24748e3 / t + 1.9018e6 / t ** 2 - 2.0064e9 / t ** 3
    return [x, -3 * x * x + 2.87 * x - 0.275]
  }
  const x = -0.2661239e9 / t ** 3 - 0.2343589e6 / t ** 2 + 0.8776956e3 / t + 0.17991
  const y =
    t < 2222
      ? -1.1063814 * x ** 3 - 1.3481102 * x ** 2 + 2.18555832 * x - 0.20219683
      : -0.9549476 * x ** 3 - 1.37418593 * x ** 2 + 2.09137015 * x - 0.16748867
  return [x, y]
}

type Matrix = readonly [readonly number[], readonly number[], readonly number[]]
/** BT.709 primaries with D65 white to CIE XYZ, and back (IEC 61966-2-1). */
const toXyz: Matrix = [
  [0.4123908, 0.3575843, 0.1804808],
  [0.212639, 0.7151687, 0.0721923],
  [0.0193308, 0.1191948, 0.9505322],
]
const fromXyz: Matrix = [
  [3.2409699, -1.5373832, -0.4986108],
  [-0.9692436, 1.8759675, 0.0415551],
  [0.0556301, -0.203977, 1.0569715],
]
/** Bradford cone responses, and back. */
const toCones: Matrix = [
  [0.8951, 0.2664, -0.1614],
  [-0.7502, 1.7135, 0.0367],
  [0.0389, -0.0685, 1.0296],
]
const fromCones: Matrix = [
  [0.9869929, -0.1470543, 0.1599627],
  [0.4323053, 0.5183603, 0.0492912],
  [-0.0085287, 0.0400428, 0.9684867],
]

const times = (m: Matrix, v: readonly number[]): [number, number, number] =>
  m.map((row) => row[0]! * v[0]! + row[1]! * v[1]! + row[2]! * v[2]!) as [number, number, number]

/** Rows of the matrix on linear BT.709 light that makes white look as if it were lit at `kelvin` (6504 changes nothing). */
export function adaptation(kelvin: number): [number, number, number][] {
  const xyz = ([x, y]: [number, number]) => [x / y, 1, (1 - x - y) / y] as const
  const from = times(toCones, xyz([0.3127, 0.329]))
  const to = times(toCones, xyz(chromaticity(kelvin)))
  const columns = ([0, 1, 2] as const).map((c) => {
    const unit = [0, 0, 0]
    unit[c] = 1
    const cones = times(toCones, times(toXyz, unit)).map((v, i) => (v * to[i]!) / from[i]!)
    return times(fromXyz, times(fromCones, cones))
  })
  return ([0, 1, 2] as const).map((r) => [columns[0]![r], columns[1]![r], columns[2]![r]])
}

/** Colour of light of a correlated colour temperature (1667 to 25000 K) on a D65 screen, its strongest component full: '#rrggbb'. */
export function colourOfLight(kelvin: number): string {
  const [x, y] = chromaticity(kelvin)
  const rgb = times(fromXyz, [x / y, 1, (1 - x - y) / y]).map((v) => Math.max(0, v))
  const most = Math.max(...rgb)
  return hexOf(rgb.map((v) => v / most))
}
