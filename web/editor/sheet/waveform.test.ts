import { expect, it } from 'vitest'
import { Waveform } from './waveform.ts'

it('gives the largest bar of a stretch, however long, as pieces become known', () => {
  const waveform = new Waveform(1000)
  const bars = Float32Array.from({ length: 1000 }, (_, i) => (i === 700 ? 0.9 : i === 90 ? 0.5 : 0.1))
  waveform.set(0, bars.subarray(0, 400))
  expect(waveform.most(0, 1000)).toBeCloseTo(0.5, 6)
  expect(waveform.most(600, 900)).toBe(0)
  waveform.set(400, bars.subarray(400))
  expect(waveform.most(600, 900)).toBeCloseTo(0.9, 6)
  expect(waveform.most(90, 90.4)).toBeCloseTo(0.5, 6)
  expect(waveform.most(91, 95)).toBeCloseTo(0.1, 6)
  // What changes is seen in both pictures of it.
  waveform.set(690, new Float32Array(20))
  expect(waveform.most(600, 900)).toBeCloseTo(0.1, 6)
  // Pieces that go beyond the end, and stretches outside of it.
  waveform.set(990, new Float32Array(50).fill(1))
  expect(waveform.most(0, 5000)).toBe(1)
  expect(waveform.most(2000, 3000)).toBe(0)
})
