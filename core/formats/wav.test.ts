import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { WaveFile } from 'wavefile'
import { expect, it } from 'vitest'
import { ffprobeProgram } from '#lab/support/ffmpeg.ts'
import { type WavForm, wavHead, wavSamples } from './wav.ts'

const count = 500
const left = Float32Array.from({ length: count }, (_, i) => Math.sin(i / 7))
const right = Float32Array.from({ length: count }, (_, i) => (i === 3 ? -1 : i === 4 ? 1.5 : Math.cos(i / 11) / 2))
const fileOf = (form: WavForm) => Buffer.concat([wavHead(form, count, 48_000), wavSamples(form, left, right, count)])

// The library wavefile (RIFF WAVE) and ffprobe read what was written.
it.each<[WavForm, number, string, string, number]>([
  ['s16', 1, '16', 'pcm_s16le', 32768],
  ['s24', 1, '24', 'pcm_s24le', 8388608],
  ['f32', 3, '32f', 'pcm_f32le', 1],
])('%s is what others read: head and samples', (form, format, depth, codec, full) => {
  const wave = new WaveFile(fileOf(form))
  expect(wave.fmt).toMatchObject({ audioFormat: format, numChannels: 2, sampleRate: 48_000 })
  expect(wave.bitDepth).toBe(depth)
  const samples = wave.getSamples(false, Float64Array) as unknown as Float64Array[]
  for (let i = 0; i < count; i++) {
    expect(Math.abs(samples[0]![i]! / full - Math.min(left[i]!, full === 1 ? 9 : 1 - 1 / full))).toBeLessThanOrEqual(
      0.51 / full,
    )
    if (full === 1) expect(samples[1]![i]).toBe(right[i])
  }
  if (full > 1) expect([samples[1]![3], samples[1]![4]]).toEqual([-full, full - 1])

  const folder = mkdtempSync(join(tmpdir(), 'wav-'))
  const path = join(folder, 'a.wav')
  writeFileSync(path, fileOf(form))
  const show = ['-show_entries', 'stream=codec_name,channels,sample_rate,duration_ts', '-of', 'json']
  const { stdout, stderr } = spawnSync(ffprobeProgram, ['-v', 'warning', ...show, path], { encoding: 'utf8' })
  rmSync(folder, { recursive: true })
  expect(stderr).toBe('')
  expect((JSON.parse(stdout) as { streams: unknown[] }).streams[0]).toMatchObject({
    ...{ codec_name: codec, channels: 2, sample_rate: '48000', duration_ts: count },
  })
})

it('says where a file would be too long', () => {
  expect(() => wavHead('f32', 6e8, 48_000)).toThrow('at most 4 GB')
})
