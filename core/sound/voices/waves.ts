const size = 2048

/**
 * One turn of a wave from the strengths of its harmonics 1 to `count`, of the root mean square `level`: 2048 samples and the
 * first once more.
 */
export function wave(harmonic: (n: number) => number, count: number, level = 0.25): Float32Array {
  const out = new Float64Array(size)
  for (let n = 1; n <= count; n++)
    // Phases of Schroeder keep the wave flat where many harmonics stand together (IEEE Trans. Inf. Theory 16, 1970).
    for (let i = 0; i < size; i++)
      out[i]! += harmonic(n) * Math.sin((2 * Math.PI * n * i) / size + (Math.PI * n * n) / count)
  const power = Math.sqrt(out.reduce((sum, v) => sum + v * v, 0) / size)
  return Float32Array.from([...out, out[0]!], (v) => (level * v) / power)
}

/** The wave at a phase, 0 up to 1: straight between its samples. */
export function at(table: Float32Array, phase: number): number {
  const x = phase * size
  const i = x | 0
  return table[i]! + (table[i + 1]! - table[i]!) * (x - i)
}
