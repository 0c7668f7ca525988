import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { ALL_FORMATS, EncodedPacketSink, FilePathSource, Input } from 'mediabunny'
import { afterAll, describe, expect, it } from 'vitest'
import { ffmpeg } from '#lab/support/ffmpeg.ts'
import { mayBeFields, setOfRecord, setOfStream } from './fields.ts'

const folder = mkdtempSync(join(tmpdir(), 'wisp-fields-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

/** The parameter set of a clip that x264, the encoder, made: it is the reference for what the set says. */
async function setOf(name: string, coding: string[]): Promise<Uint8Array | null> {
  const file = join(folder, name)
  ffmpeg(['-f', 'lavfi', '-i', 'testsrc2=s=160x128:r=25:d=0.2', '-c:v', 'libx264', ...coding, file])
  const input = new Input({ formats: ALL_FORMATS, source: new FilePathSource(file) })
  try {
    const track = (await input.getPrimaryVideoTrack())!
    const record = (await track.getDecoderConfig())?.description
    if (record) return setOfRecord(new Uint8Array(record as ArrayBuffer))
    return setOfStream((await new EncodedPacketSink(track).getFirstPacket())!.data)
  } finally {
    input.dispose()
  }
}

describe('a clip of H.264', () => {
  const plain = ['-pix_fmt', 'yuv420p']
  const fields = ['-flags', '+ilme+ildct', '-x264-params', 'tff=1']
  it.each<[string, string, string[], boolean]>([
    ['progressive', 'a.mp4', plain, false],
    ['of fields', 'b.mp4', [...plain, ...fields], true],
    ['of fields, as camcorders have it', 'c.mts', [...plain, ...fields], true],
    ['progressive, in the same form', 'd.mts', plain, false],
    ['progressive, with tables of its own', 'e.mp4', [...plain, '-x264-params', 'cqm=jvt'], false],
    ['of fields, with tables of its own', 'f.mp4', [...plain, '-x264-params', 'tff=1:cqm=jvt'], true],
    ['of fields, for the simplest players', 'g.mp4', [...plain, '-profile:v', 'main', ...fields], true],
    ['progressive, baseline', 'h.mp4', [...plain, '-profile:v', 'baseline'], false],
    ['of fields, with fine colours', 'i.mp4', ['-pix_fmt', 'yuv444p', ...fields], true],
  ])('%s', async (_, name, coding, expected) => {
    const set = await setOf(name, coding)
    expect(set).not.toBeNull()
    expect(mayBeFields(set!)).toBe(expected)
  })

  it('a set that is cut short anywhere, or is none, ends the reading', async () => {
    const set = (await setOf('j.mp4', [...plain, ...fields]))!
    for (let length = 0; length < set.length; length++) expect(typeof mayBeFields(set.slice(0, length))).toBe('boolean')
    expect(setOfRecord(new Uint8Array(4))).toBeNull()
    expect(setOfRecord(Uint8Array.of(1, 100, 0, 30, 255, 225, 255, 255, 1))).toBeNull()
    expect(setOfStream(new Uint8Array(100))).toBeNull()
  })
})
