/*
 * What colours a side of the matte has: a mixture of Gaussians over brightness and colour differences, fitted by
 * expectation maximisation from places chosen by k-means++ (Arthur and Vassilvitskii 2007).
 */

/** Parts of a mixture, each as mean (3), the six numbers of an inverse covariance, and the logarithm of its height. */
export interface Mixture {
  parts: { mean: number[]; inverse: number[]; height: number }[]
}

/** Levels of noise that no colour is known better than. */
const grain = 5
/** Samples that a fit looks at; more are thinned evenly. */
const most = 2500

/** Mixture of at most `count` parts of colours (y, u, v one after the other, 0..255); null for fewer than four. */
export function mixtureOf(colours: ArrayLike<number>, count = 6): Mixture | null {
  const all = Math.floor(colours.length / 3)
  if (all < 4) return null
  const n = Math.min(all, most)
  const data = new Float32Array(3 * n)
  for (let i = 0; i < n; i++) {
    const from = 3 * Math.floor((i * all) / n)
    for (let c = 0; c < 3; c++) data[3 * i + c] = colours[from + c]!
  }
  const k = Math.max(1, Math.min(count, n >> 2))
  const share = new Float32Array(n * k)
  belongings(data, seeds(data, k), share)
  let mixture = fitted(data, share, k)
  for (let turn = 0; turn < 5; turn++) {
    for (let i = 0; i < n; i++) {
      let total = 0
      for (let j = 0; j < k; j++) {
        const part = mixture.parts[j]!
        total += share[i * k + j] = Math.exp(logOf(part, data[3 * i]!, data[3 * i + 1]!, data[3 * i + 2]!)) + 1e-30
      }
      for (let j = 0; j < k; j++) share[i * k + j]! /= total
    }
    mixture = fitted(data, share, k)
  }
  return mixture
}

/** How likely a colour is; far from every part no less than any colour at all. */
export function likelihood(mixture: Mixture, y: number, u: number, v: number): number {
  let sum = 0
  for (const part of mixture.parts) sum += Math.exp(logOf(part, y, u, v))
  // Any of 256 x 128 x 128 colours, once in fifty.
  return sum + 0.02 / (256 * 128 * 128)
}

function logOf({ mean, inverse, height }: Mixture['parts'][number], y: number, u: number, v: number): number {
  const [a, b, c] = [y - mean[0]!, u - mean[1]!, v - mean[2]!]
  const [yy, yu, yv, uu, uv, vv] = inverse as [number, number, number, number, number, number]
  return height - 0.5 * (yy * a * a + uu * b * b + vv * c * c + 2 * (yu * a * b + yv * a * c + uv * b * c))
}

/** Places to begin from: each far from those before it, by a fixed sequence of chances. */
function seeds(data: Float32Array, k: number): number[] {
  const n = data.length / 3
  const chosen = [n >> 1]
  const nearest = new Float32Array(n).fill(Infinity)
  let chance = 0.5
  while (chosen.length < k) {
    const at = 3 * chosen.at(-1)!
    let total = 0
    for (let i = 0; i < n; i++) {
      const d =
        (data[3 * i]! - data[at]!) ** 2 +
        (data[3 * i + 1]! - data[at + 1]!) ** 2 +
        (data[3 * i + 2]! - data[at + 2]!) ** 2
      nearest[i] = Math.min(nearest[i]!, d)
      total += nearest[i]!
    }
    // The golden section spreads the chances evenly.
    chance = (chance + 0.6180339887) % 1
    let left = chance * total
    let next = 0
    while (next < n - 1 && (left -= nearest[next]!) > 0) next++
    chosen.push(next)
  }
  return chosen
}

function belongings(data: Float32Array, chosen: number[], share: Float32Array): void {
  const k = chosen.length
  for (let i = 0; i < data.length / 3; i++) {
    let [best, least] = [0, Infinity]
    for (let j = 0; j < k; j++) {
      const at = 3 * chosen[j]!
      const d =
        (data[3 * i]! - data[at]!) ** 2 +
        (data[3 * i + 1]! - data[at + 1]!) ** 2 +
        (data[3 * i + 2]! - data[at + 2]!) ** 2
      if (d < least) [best, least] = [j, d]
    }
    share[i * k + best] = 1
  }
}

function fitted(data: Float32Array, share: Float32Array, k: number): Mixture {
  const n = data.length / 3
  const parts = Array.from({ length: k }, (_, j) => {
    let weight = 1e-9
    const mean = [0, 0, 0]
    for (let i = 0; i < n; i++) {
      const w = share[i * k + j]!
      weight += w
      for (let c = 0; c < 3; c++) mean[c]! += w * data[3 * i + c]!
    }
    for (let c = 0; c < 3; c++) mean[c]! /= weight
    const m = [0, 0, 0, 0, 0, 0]
    for (let i = 0; i < n; i++) {
      const w = share[i * k + j]!
      if (w < 1e-6) continue
      const [a, b, c] = [data[3 * i]! - mean[0]!, data[3 * i + 1]! - mean[1]!, data[3 * i + 2]! - mean[2]!]
      m[0]! += w * a * a
      m[1]! += w * a * b
      m[2]! += w * a * c
      m[3]! += w * b * b
      m[4]! += w * b * c
      m[5]! += w * c * c
    }
    const [yy, yu, yv, uu, uv, vv] = m.map(
      (value, i) => value / weight + (i === 0 || i === 3 || i === 5 ? grain * grain : 0),
    ) as [number, number, number, number, number, number]
    const volume = yy * (uu * vv - uv * uv) - yu * (yu * vv - uv * yv) + yv * (yu * uv - uu * yv)
    return {
      mean,
      inverse: [
        uu * vv - uv * uv,
        yv * uv - yu * vv,
        yu * uv - yv * uu,
        yy * vv - yv * yv,
        yu * yv - yy * uv,
        yy * uu - yu * yu,
      ].map((value) => value / volume),
      height: Math.log(weight / n) - 0.5 * Math.log(volume) - 1.5 * Math.log(2 * Math.PI),
    }
  })
  return { parts }
}

/** How likely colours are in a mixture, looked up in steps of 4 levels. */
export class ColourTable {
  private readonly known = new Float32Array(64 ** 3).fill(NaN)
  private readonly mixture: Mixture

  constructor(mixture: Mixture) {
    this.mixture = mixture
  }

  at(y: number, u: number, v: number): number {
    const [a, b, c] = [y >> 2, u >> 2, v >> 2]
    const i = (a << 12) | (b << 6) | c
    const known = this.known[i]!
    if (known === known) return known
    return (this.known[i] = likelihood(this.mixture, 4 * a + 2, 4 * b + 2, 4 * c + 2))
  }
}
