import { execFileSync } from 'node:child_process'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { ffmpeg } from '#lab/support/ffmpeg.ts'
import { retime } from './videoFile.ts'

let folder = ''
beforeAll(async () => void (folder = await mkdtemp(join(tmpdir(), 'wisp-timed-'))))
afterAll(() => rm(folder, { recursive: true, force: true }))

it.each([
  ['mp4', ['-c:v', 'libx264', '-bf', '3', '-pix_fmt', 'yuv420p']],
  ['webm', ['-c:v', 'libvpx-vp9', '-deadline', 'realtime', '-pix_fmt', 'yuv420p']],
  ['mov', ['-c:v', 'prores_ks', '-pix_fmt', 'yuv422p10le']],
])(
  'frames of a %s get times of their own, as another reader sees them, and their pixels stay',
  async (ending, coding) => {
    const file = join(folder, `one.${ending}`)
    ffmpeg(['-f', 'lavfi', '-i', 'testsrc2=s=64x48:r=25:d=0.8', ...coding, file])
    const sums = () => {
      const text = ffmpeg(['-i', file, '-fps_mode', 'passthrough', '-map', '0:v', '-f', 'framemd5', '-'])
      return [...String(Buffer.from(text)).matchAll(/[0-9a-f]{32}/g)].map(([sum]) => sum)
    }
    const before = sums()
    // Every third frame stays four times as long.
    let time = 0
    const frames = Array.from({ length: 20 }, (_, frame) => {
      const duration = frame % 3 ? 0.04 : 0.16
      time += duration
      return { stretch: 0, frame, time: time - duration, duration }
    })
    await retime(file, 25, frames)
    const asked = ['-v', 'error', '-select_streams', 'v:0', '-show_entries', 'frame=pts_time', '-of', 'csv=p=0', file]
    const times = String(execFileSync('ffprobe', asked)).split('\n').filter(Boolean).map(Number.parseFloat)
    expect(times).toHaveLength(20)
    // WebM counts in milliseconds.
    expect(Math.max(...frames.map(({ time: meant }, i) => Math.abs(times[i]! - meant)))).toBeLessThan(0.0011)
    expect(sums()).toEqual(before)
  },
)
