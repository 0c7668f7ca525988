import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, describe, expect, it } from 'vitest'
import { ffmpeg } from '../../lab/support/ffmpeg.ts'
import { id3Length, mp3Padding } from './mp3.ts'

const folder = mkdtempSync(join(tmpdir(), 'wisp-mp3-'))
afterAll(() => rmSync(folder, { recursive: true }))
/** A second of a tone as an MP3 file, by ffmpeg and LAME; the tag is only written where the file can be gone back in. */
function mp3(options: string[] = []): Uint8Array {
  const path = join(folder, 'tone.mp3')
  ffmpeg(['-y', '-f', 'lavfi', '-i', 'sine=440:d=1:r=44100', '-c:a', 'libmp3lame', ...options, path])
  return new Uint8Array(readFileSync(path))
}
const behindTag = (file: Uint8Array) => file.subarray(id3Length(file))

describe('padding of an MP3 file', () => {
  it('is what the encoder wrote: 576 samples of LAME and 529 of a decoder', () => {
    // LAME's delay is 576 samples, layer III's 528 and one: its own technical FAQ.
    const { before, behind } = mp3Padding(behindTag(mp3(['-write_xing', '1'])))!
    expect(before).toBe(576 + 529)
    // What is there in all is a whole number of frames of 1152 samples.
    expect((44_100 + before + behind) % 1152).toBe(0)
  })
  it.each([
    ['mono', ['-ac', '1']],
    ['stereo', ['-ac', '2']],
    ['of a lower rate (MPEG-2)', ['-ar', '22050']],
    ['with changing bit rate', ['-q:a', '4']],
    ['with a long title before it', ['-id3v2_version', '3', '-metadata', `title=${'x'.repeat(3000)}`]],
  ])('is found in a file that is %s', (_, options) => {
    expect(mp3Padding(behindTag(mp3(options)))?.before).toBe(576 + 529)
  })
  it('is not known where no tag says so, or the file is cut off or none', () => {
    expect(mp3Padding(behindTag(mp3(['-write_xing', '0'])))).toBeNull()
    expect(mp3Padding(behindTag(mp3()).subarray(0, 100))).toBeNull()
    expect(mp3Padding(new Uint8Array(2000))).toBeNull()
    expect(mp3Padding(new Uint8Array(0))).toBeNull()
    expect(id3Length(new Uint8Array(4))).toBe(0)
  })
})
