/*
 * Samples between samples: the sum of the samples around, weighted by a sinc within a Kaiser window (J. O. Smith, Digital
 * Audio Resampling; the window after J. F. Kaiser, 1974).
 */

/** Crossings of zero on either side, steps of the table between two of them, and the form of the window. */
const crossings = 48
const steps = 1024
const beta = 11

let made: Float64Array | null = null
/** The windowed sinc on one side, `steps` entries from crossing to crossing: made when it is needed, it takes a while. */
const windowedSinc = (): Float64Array =>
  (made ??= Float64Array.from({ length: crossings * steps + 2 }, (_, i) => {
    const x = i / steps
    if (x >= crossings) return 0
    const sinc = x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x)
    return (sinc * bessel(beta * Math.sqrt(1 - (x / crossings) ** 2))) / bessel(beta)
  }))

/** The modified Bessel function of the first kind and order 0, by its series. */
function bessel(x: number): number {
  let [sum, term] = [1, 1]
  for (let k = 1; term > sum * 1e-17; k++) {
    term *= (x / (2 * k)) ** 2
    sum += term
  }
  return sum
}

/** Share of half the lower rate up to which everything is kept: between it and half the rate the window needs its room. */
const kept = 0.94

/** Samples on either side that a sample between looks at, where `ratio` input samples go into one of the output. */
export const sincReach = (ratio: number): number => Math.ceil(crossings / (kept * Math.min(1, 1 / ratio))) + 1

/**
 * The value at the place `at` (a real number of samples) of a sound that is read with `ratio` samples for one of the
 * output: above 1 it becomes higher, and what would then lie beyond half the rate is left out. Outside there is silence.
 */
export function sincAt(samples: Float32Array, at: number, ratio: number): number {
  const cutoff = kept * Math.min(1, 1 / ratio)
  const reach = crossings / cutoff
  const first = Math.max(0, Math.ceil(at - reach))
  const last = Math.min(samples.length - 1, Math.floor(at + reach))
  const scale = cutoff * steps
  const table = windowedSinc()
  let sum = 0
  for (let i = first; i <= last; i++) {
    const x = Math.abs(at - i) * scale
    const k = x | 0
    const low = table[k]!
    sum += samples[i]! * (low + (table[k + 1]! - low) * (x - k))
  }
  return sum * cutoff
}

/**
 * Samples of a sound at another rate. `samples` begins `before` samples ahead of the first that counts, so that pieces can be
 * joined: output sample n lies at n * from / to after that one. `count` samples are written to `out`.
 */
export function resample(
  samples: Float32Array,
  before: number,
  [from, to]: readonly [from: number, to: number],
  out: Float32Array,
  count = out.length,
): void {
  if (from === to) return out.set(samples.subarray(before, before + count))
  const ratio = from / to
  const common = divisor(from, to)
  const [phases, stride] = [to / common, from / common]
  const cutoff = kept * Math.min(1, 1 / ratio)
  const reach = Math.ceil(crossings / cutoff)
  const taps = 2 * reach
  const kernel = kernelOf(phases, stride, reach, cutoff)
  for (let n = 0; n < count; n++) {
    const phase = n % phases
    // The place is a whole number of phases: nothing is rounded however long the sound.
    const base = before + Math.floor((n * stride) / phases) - reach + 1
    let sum = 0
    const at = phase * taps
    const start = Math.max(0, -base)
    const end = Math.min(taps, samples.length - base)
    for (let k = start; k < end; k++) sum += samples[base + k]! * kernel[at + k]!
    out[n] = sum
  }
}

const kernels = new Map<string, Float32Array>()
/** The weights of every phase between two samples, `2 * reach` each. */
function kernelOf(phases: number, stride: number, reach: number, cutoff: number): Float32Array {
  const name = `${phases} ${stride} ${cutoff}`
  let kernel = kernels.get(name)
  if (kernel) return kernel
  const taps = 2 * reach
  kernel = new Float32Array(phases * taps)
  const table = windowedSinc()
  for (let phase = 0; phase < phases; phase++) {
    const rest = ((phase * stride) % phases) / phases
    for (let k = 0; k < taps; k++) {
      const x = Math.abs(rest - (k - reach + 1)) * cutoff * steps
      const i = Math.floor(x)
      if (i < crossings * steps) kernel[phase * taps + k] = cutoff * (table[i]! + (table[i + 1]! - table[i]!) * (x - i))
    }
  }
  kernels.set(name, kernel)
  return kernel
}

function divisor(a: number, b: number): number {
  while (b) [a, b] = [b, a % b]
  return a
}
