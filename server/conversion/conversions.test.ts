import { mkdtemp, readdir, readFile, rm, truncate, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { deflateRawSync } from 'node:zlib'
import { zipSync } from 'fflate'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import { shown } from '#core/pixels/colour/hdr.ts'
import { pixelsOfExr } from '#core/formats/exr.ts'
import { pixelsOfPng } from '#core/formats/png.ts'
import type { ConversionState } from '#core/records/exchange.ts'
import { turnByTag } from '#lab/support/clips.ts'
import { ffmpeg } from '#lab/support/ffmpeg.ts'
import { forms, makeForm, readStrip, strip } from '#lab/support/formats.ts'
import { claimingZip } from '#lab/support/zips.ts'
import { HttpRefusal } from '../http/refusal.ts'
import { unpackSequence } from './sequence.ts'
import { newProject, testServer, type TestServer } from '../testServer.ts'

let folder = ''
const clip = (name: string) => join(folder, name)
const made = (name: string, file: string) => {
  makeForm(
    forms.find((form) => form.name === name)!,
    clip(file),
  )
  return readFile(clip(file))
}
let hevc = Buffer.alloc(0)
/** Long enough that its conversion can be met while it runs. */
let long = Buffer.alloc(0)
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'wisp-forms-'))
  hevc = await made('HEVC, 10 bit', 'hevc.mov')
  const noise = ['-f', 'lavfi', '-i', 'testsrc2=s=640x360:r=30:d=10,noise=alls=20:allf=t']
  ffmpeg([...noise, '-c:v', 'mpeg4', '-q:v', '3', clip('long.avi')])
  long = await readFile(clip('long.avi'))
}, 120_000)
afterAll(() => rm(folder, { recursive: true, force: true }))

const upload = (server: TestServer, project: string, body: Buffer, name = 'clip.mov') =>
  server.http.post('/api/footage').query({ project, name }).set('Content-Type', 'application/octet-stream').send(body)
const list = async (server: TestServer, project: string) =>
  (await server.http.get(`/api/projects/${project}/conversions`).expect(200)).body as ConversionState[]
/** The only conversion of a project as soon as it is in one of these states. */
async function until(
  server: TestServer,
  project: string,
  ...states: ConversionState['state'][]
): Promise<ConversionState> {
  return vi.waitFor(
    async () => {
      const [one] = await list(server, project)
      if (!one || !states.includes(one.state)) throw new Error(`It is ${one?.state ?? 'gone'}: ${one?.error}`)
      return one
    },
    { timeout: 60_000, interval: 50 },
  )
}

describe('a clip that the browser does not decode', () => {
  it('that is cut short and can be read comes in, and says that it ends early', async () => {
    const server = await testServer()
    const project = await newProject(server)
    ffmpeg(['-f', 'lavfi', '-i', 'testsrc2=s=160x96:r=25:d=8', '-c:v', 'mpeg4', clip('card.avi')])
    const card = await readFile(clip('card.avi'))
    await upload(server, project, card.subarray(0, card.length / 2), 'card.avi').expect(202)
    const { facts, error } = await until(server, project, 'done')
    expect(facts!.frames).toBeLessThan(130)
    expect(error).toMatch(/^The file ends early: of 8\.0 seconds [345]\.\d are in it\./)
    // Brought in a second time it is there at once, and says it again.
    await upload(server, project, card.subarray(0, card.length / 2), 'card.avi').expect(202)
    expect((await until(server, project, 'done')).error).toBe(error)
    const other = await newProject(server)
    await upload(server, other, card, 'card.avi').expect(202)
    expect(await until(server, other, 'done')).toMatchObject({ error: '', facts: { frames: 200 } })
  })

  it('is converted: every frame is there, in order, at its time, and says what it was', async () => {
    const server = await testServer()
    const project = await newProject(server)
    const { body } = await upload(server, project, hevc, 'phone.mov').expect(202)
    expect(body.conversion).toMatchObject({ name: 'phone.mov', called: 'HEVC, 10 bit', bytes: hevc.length, error: '' })
    const { facts, id } = await until(server, project, 'done')
    expect(facts).toMatchObject({ codec: 'avc', width: strip.width, height: strip.height, frames: strip.frames })
    expect(facts).toMatchObject({ rate: 25, variableRate: false, matrix: 'bt709', range: 'limited', rotation: 0 })
    const { body: told } = await server.http.get(`/api/footage/${facts!.hash}/facts`)
    ;(told.times as number[]).forEach((time, i) => expect(time).toBeCloseTo(i / strip.rate, 4))
    const file = join(server.data, 'footage', facts!.hash)
    const rgb = ffmpeg(['-i', file, '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-'])
    const size = 3 * strip.width * strip.height
    const numbers = Array.from({ length: strip.frames }, (_, f) => readStrip(rgb.subarray(f * size), 3).number)
    expect(numbers).toEqual(numbers.map((_, f) => f))

    await server.http.post(`/api/projects/${project}/conversions/${id}/taken`).expect(204)
    expect(await list(server, project)).toMatchObject([{ state: 'taken', bytes: hevc.length }])
    // The file as it came in is kept until it is let go of.
    expect(await readdir(join(server.data, 'originals'))).toHaveLength(1)
    await server.http.delete(`/api/projects/${project}/conversions/${id}`).expect(204)
    expect(await readdir(join(server.data, 'originals'))).toEqual([])
    expect(await readdir(join(server.data, 'footage'))).toEqual([facts!.hash])
  })

  it('dropped twice while it converts is one conversion; another project has its own', async () => {
    const server = await testServer()
    const [one, two] = [await newProject(server), await newProject(server)]
    const first = await upload(server, one, hevc).expect(202)
    const again = await upload(server, one, hevc).expect(202)
    expect(again.body.conversion.id).toBe(first.body.conversion.id)
    await upload(server, two, hevc).expect(202)
    const [a, b] = [await until(server, one, 'done'), await until(server, two, 'done')]
    expect(a.facts!.hash).toBe(b.facts!.hash)
  })

  it('shows how far it is, is ended at once, and leaves nothing', async () => {
    const server = await testServer()
    const project = await newProject(server)
    await upload(server, project, long, 'long.avi').expect(202)
    const { id } = await until(server, project, 'running')
    await vi.waitFor(async () => expect((await list(server, project))[0]!.share).toBeGreaterThan(0), {
      timeout: 30_000,
    })
    expect((await list(server, project))[0]).toMatchObject({ called: 'MPEG-4 Part 2', state: 'running', error: '' })
    await server.http.delete(`/api/projects/${project}/conversions/${id}`).expect(204)
    expect(await list(server, project)).toEqual([])
    await vi.waitFor(async () => expect(await readdir(join(server.data, 'incoming'))).toEqual([]), { timeout: 40_000 })
    expect(await readdir(join(server.data, 'originals'))).toEqual([])
    expect(await readdir(join(server.data, 'footage'))).toEqual([])
    // The next one is not kept waiting.
    await upload(server, project, hevc).expect(202)
    await until(server, project, 'done')
  })

  it('is begun again where the server was stopped in the middle of it', async () => {
    const first = await testServer()
    const project = await newProject(first)
    await upload(first, project, long, 'long.avi').expect(202)
    await until(first, project, 'running')
    await first.close()
    const second = await testServer({ data: first.data })
    const { facts } = await until(second, project, 'done')
    expect(facts).toMatchObject({ codec: 'avc', frames: 300, width: 640, height: 360 })
  }, 120_000)
})

describe('a clip that leaves a choice', () => {
  it('of interlaced pictures is asked about: both fields as one picture, or a picture of each', async () => {
    const server = await testServer()
    const project = await newProject(server)
    // 25 pictures a second of two fields each, pixels a third wider than high.
    const fields = ['-vf', 'scale=720:576,tinterlace=interleave_top,fieldorder=tff,setsar=64/45', '-r', '25']
    const drawn = ['-f', 'lavfi', '-i', 'testsrc2=s=720x576:r=50:d=1']
    ffmpeg([...drawn, ...fields, '-flags', '+ilme+ildct', '-c:v', 'mpeg2video', '-q:v', '3', clip('tape.mpg')])
    const tape = await readFile(clip('tape.mpg'))
    const ways = { frame: [25, 25], field: [50, 50] } as const
    for (const [picture, [frames, rate]] of Object.entries(ways)) {
      const { body } = await upload(server, project, tape, 'tape.mpg').expect(202)
      const { id, questions, state } = body.conversion as ConversionState
      expect(state).toBe('asking')
      expect(questions).toMatchObject({ interlaced: true, widths: [1024], best: { picture: 'frame', width: 1024 } })
      const path = `/api/projects/${project}/conversions/${id}/choices`
      await server.http
        .put(path)
        .send({ ...questions!.best, width: 999 })
        .expect(422)
      await server.http
        .put(path)
        .send({ ...questions!.best, picture })
        .expect(204)
      const { facts } = await until(server, project, 'done')
      // Square pixels: as wide as it was meant to be seen.
      expect(facts).toMatchObject({ width: 1024, height: 576, rate, frames: expect.closeTo(frames, -1) })
      expect(Math.abs(facts!.frames - frames)).toBeLessThan(3)
    }
  })

  it('of fields in H.264, as camcorders film, is asked about, too', async () => {
    const server = await testServer()
    const project = await newProject(server)
    const fields = [
      '-vf',
      'tinterlace=interleave_top',
      '-r',
      '25',
      '-flags',
      '+ilme+ildct',
      '-c:v',
      'libx264',
      '-x264-params',
      'tff=1',
    ]
    ffmpeg([
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=320x192:r=50:d=1',
      '-pix_fmt',
      'yuv420p',
      ...fields,
      clip('camcorder.mts'),
    ])
    const { body } = await upload(server, project, await readFile(clip('camcorder.mts'))).expect(202)
    expect(body.conversion).toMatchObject({ state: 'asking', called: 'H.264', questions: { interlaced: true } })
  })

  it('filmed upright with stretched pixels stands upright, its pixels square', async () => {
    const server = await testServer()
    const project = await newProject(server)
    const drawn = ['-f', 'lavfi', '-i', 'testsrc2=s=160x120:r=25:d=0.4', '-vf', 'setsar=2', '-pix_fmt', 'yuv420p']
    ffmpeg([...drawn, '-c:v', 'libx264', clip('stretched.mp4')])
    turnByTag(clip('stretched.mp4'), clip('turned.mp4'))
    await upload(server, project, await readFile(clip('turned.mp4'))).expect(202)
    expect((await until(server, project, 'done')).facts).toMatchObject({ width: 120, height: 320, rotation: 0 })
  })

  it('that is larger than can be worked with comes in at a size that is chosen', async () => {
    const server = await testServer()
    const project = await newProject(server)
    const drawn = ['-f', 'lavfi', '-i', 'testsrc2=s=5120x2880:r=25:d=0.12']
    ffmpeg([...drawn, '-c:v', 'libx264', '-preset', 'ultrafast', '-pix_fmt', 'yuv420p', clip('huge.mp4')])
    const { body } = await upload(server, project, await readFile(clip('huge.mp4'))).expect(202)
    const { id, questions } = body.conversion as ConversionState
    expect(questions!.widths).toEqual([4096, 3840, 2560, 1920, 1280])
    const choices = { ...questions!.best, width: 1280 }
    await server.http.put(`/api/projects/${project}/conversions/${id}/choices`).send(choices).expect(204)
    expect((await until(server, project, 'done')).facts).toMatchObject({ width: 1280, height: 720, frames: 3 })
  })

  it('is there at once when it was converted before, and can be brought in again', async () => {
    const server = await testServer()
    const project = await newProject(server)
    const { body } = await upload(server, project, hevc).expect(202)
    const { facts } = await until(server, project, 'done')
    await server.http.post(`/api/projects/${project}/conversions/${body.conversion.id}/taken`).expect(204)
    const again = await upload(server, project, hevc).expect(202)
    expect(again.body.conversion).toMatchObject({ state: 'done', facts: { hash: facts!.hash } })
    expect(again.body.conversion.id).not.toBe(body.conversion.id)
    expect(await list(server, project)).toHaveLength(1)
  })
})

describe('numbered pictures that the browser does not show', () => {
  /** A zip of pictures of one ending, each of a grey of its own. */
  const zipOf = async (ending: string, coding: string[], count = 5) => {
    const files: Record<string, Uint8Array> = {}
    for (let i = 0; i < count; i++) {
      const raw = ['-f', 'rawvideo', '-pix_fmt', 'rgb24', '-s', '64x48', '-i', '-']
      const file = clip(`one.${ending}`)
      ffmpeg([...raw, '-frames:v', '1', ...coding, file], Buffer.alloc(3 * 64 * 48, 40 * (i + 1)))
      files[`shot_${i + 8}.${ending}`] = await readFile(file)
    }
    return files
  }
  const packed = (files: Record<string, Uint8Array>) => Buffer.from(zipSync(files, { level: 0 }))
  const rgb = ['-vf', 'format=rgb24']

  it.each([
    ['TIFF', 'tiff', rgb],
    ['TIFF, 16 bit', 'tif', ['-vf', 'format=rgb48le']],
    ['BMP', 'bmp', rgb],
    ['WebP', 'webp', [...rgb, '-lossless', '1']],
    ['JPEG 2000', 'jp2', rgb],
  ] as const)('%s become one sequence, in the order of their numbers', async (_, ending, coding) => {
    const server = await testServer()
    const project = await newProject(server)
    const zip = packed(await zipOf(ending, [...coding]))
    const { body } = await upload(server, project, zip, 'shot.zip').expect(202)
    expect(body.conversion.called).toMatch(/^(TIFF|BMP|WebP|JPEG 2000).*, 5 pictures$/)
    const { facts } = await until(server, project, 'done')
    expect(facts).toMatchObject({ codec: 'png', frames: 5, width: 64, height: 48, rate: 24 })
    for (let i = 0; i < 5; i++) {
      const { body: png } = await server.http.get(`/api/footage/${facts!.hash}/pictures/${i}`).expect(200)
      const { rgba: data } = pixelsOfPng(new Uint8Array(png as Buffer))
      // The level that ffmpeg makes of 200 with 16 bits is 51200, which is nearer to 199.
      expect(Math.abs(data[0]! - 40 * (i + 1))).toBeLessThanOrEqual(
        { jp2: 2, tif: 1, tiff: 0, bmp: 0, webp: 0 }[ending],
      )
    }
    expect(await readdir(join(server.data, 'incoming'))).toEqual([])
  })

  it('one alone keeps odd sides; one with more light than is shown is mapped', async () => {
    const server = await testServer()
    const project = await newProject(server)
    const raw = ['-f', 'rawvideo', '-pix_fmt', 'rgb24', '-s', '65x49', '-i', '-', '-frames:v', '1']
    ffmpeg([...raw, ...rgb, clip('odd.tif')], Buffer.alloc(3 * 65 * 49, 90))
    await upload(server, project, await readFile(clip('odd.tif')), 'odd.tif').expect(202)
    expect((await until(server, project, 'done')).facts).toMatchObject({ width: 65, height: 49, frames: 1 })

    const other = await newProject(server)
    const tags = [
      '-colorspace',
      'bt2020nc',
      '-color_primaries',
      'bt2020',
      '-color_trc',
      'smpte2084',
      '-color_range',
      'tv',
    ]
    const av1 = ['-c:v', 'libaom-av1', '-still-picture', '1', '-cpu-used', '8', '-crf', '5', '-pix_fmt', 'yuv420p10le']
    const even = raw.map((word) => (word === '65x49' ? '64x48' : word))
    const scaled = ['-vf', 'scale=out_color_matrix=bt2020:out_range=tv,format=yuv420p10le']
    ffmpeg([...even, ...scaled, ...av1, ...tags, clip('bright.avif')], Buffer.alloc(3 * 64 * 48, 148))
    await upload(server, other, await readFile(clip('bright.avif')), 'bright.avif').expect(202)
    const { facts } = await until(server, other, 'done')
    const { body: png } = await server.http.get(`/api/footage/${facts!.hash}/pictures/0`).expect(200)
    const { rgba: data } = pixelsOfPng(new Uint8Array(png as Buffer))
    expect(Math.abs(data[1]! - 255 * shown([148 / 255, 148 / 255, 148 / 255], 'pq')[1])).toBeLessThan(3)
  })

  it('OpenEXR comes in as it is, its light above white too; of a form that is not read here it is made one that is', async () => {
    const server = await testServer()
    const project = await newProject(server)
    const light = ['-vf', "format=gbrpf32le,geq=r='0.5':g='0.5':b='2'", '-pix_fmt', 'gbrpf32le']
    ffmpeg(['-f', 'lavfi', '-i', 'color=black:s=64x48', '-frames:v', '1', ...light, clip('one.exr')])
    const exr = await readFile(clip('one.exr'))
    const plain = packed({ 'a1.exr': exr, 'a2.exr': exr })
    const { body } = await upload(server, project, plain, 'a.zip').expect(201)
    expect(body).toMatchObject({ codec: 'exr', frames: 2, width: 64, height: 48 })
    // Its window of pixels begins elsewhere than its picture: every pixel is still there.
    const shown = exr.indexOf('displayWindow') + 'displayWindow'.length + 1 + 'box2i'.length + 1 + 4
    const cropped = Buffer.from(exr)
    cropped.writeInt32LE(79, shown + 8)
    for (const [file, frames, name] of [
      [cropped, 1, 'b.exr'],
      [packed({ 'b1.exr': cropped, 'b2.exr': cropped, 'b3.exr': cropped }), 3, 'b.zip'],
    ] as const) {
      const other = await newProject(server)
      await upload(server, other, file, name).expect(202)
      const { facts } = await until(server, other, 'done')
      expect(facts).toMatchObject({ codec: 'exr', frames, width: 80, height: 48 })
      const { body: made } = await server.http.get(`/api/footage/${facts!.hash}/pictures/${frames - 1}`).expect(200)
      const { light: kept } = pixelsOfExr(new Uint8Array(made as Buffer))
      expect([...kept!.slice(0, 4)]).toEqual([0.5, 0.5, 2, 1])
      expect([...kept!.slice(4 * 79, 4 * 80)]).toEqual([0, 0, 0, 1])
    }
  })

  it('a picture of 16 bits keeps them', async () => {
    const server = await testServer()
    const project = await newProject(server)
    const deep = ['-f', 'rawvideo', '-pix_fmt', 'rgb48le', '-s', '64x48', '-i', '-', '-frames:v', '1']
    ffmpeg([...deep, clip('deep.tif')], Buffer.from(Uint16Array.from({ length: 3 * 64 * 48 }, () => 1000).buffer))
    await upload(server, project, await readFile(clip('deep.tif')), 'deep.tif').expect(202)
    const { facts } = await until(server, project, 'done')
    const { body: png } = await server.http.get(`/api/footage/${facts!.hash}/pictures/0`).expect(200)
    const { light } = pixelsOfPng(new Uint8Array(png as Buffer))
    // IEC 61966-2-1 below its bend.
    expect(light![0]).toBeCloseTo(1000 / 65535 / 12.92, 8)
  })

  it('of two kinds, damaged, or packed to do harm are refused with a sentence', async () => {
    const server = await testServer()
    const project = await newProject(server)
    const tiff = await zipOf('tiff', rgb, 2)
    const mixed = await upload(server, project, packed({ ...tiff, ...(await zipOf('bmp', rgb, 1)) })).expect(422)
    expect(mixed.body.error).toMatch(/are \.\w+ and \.\w+: all must be of one kind/)
    const [name] = Object.keys(tiff)
    const { body } = await upload(server, project, packed({ ...tiff, 'shot_9.tiff': tiff[name!]!.slice(0, 60) }))
    expect(body.conversion.state).toBe('waiting')
    expect((await until(server, project, 'failed')).error).toMatch(/damaged/)
    // Names that lead elsewhere lead nowhere.
    const away = await upload(
      server,
      project,
      packed({ '../../away1.tiff': tiff[name!]!, '../../away2.tiff': tiff[name!]! }),
    )
    expect([202, 422]).toContain(away.status)
    expect(await readdir(join(server.data, '..'))).not.toContain('away1.tiff')
    // Sizes that are claimed, and sizes that only come out while it is unpacked.
    const empty = deflateRawSync(Buffer.alloc(200 * 1024 ** 2), { level: 9 })
    for (const claimed of [200 * 1024 ** 2, 1000]) {
      const zip = claimingZip(empty.length, claimed, empty, 20, 8, 'bmp')
      await writeFile(clip('harm.zip'), zip)
      const unpacking = unpackSequence(clip('harm.zip'), join(folder, 'unpacked'))
      await expect(unpacking).rejects.toThrow(/unpacked; at most/)
      await rm(join(folder, 'unpacked'), { recursive: true, force: true })
    }
    for (const name of ['incoming', 'footage']) expect(await readdir(join(server.data, name))).toEqual([])
  })
})

describe('a long clip is looked into before all of it is sent', () => {
  const glance = (server: TestServer, file: Buffer, head: number, tail: number) =>
    server.http
      .post('/api/footage/glance')
      .query({ bytes: file.length, head })
      .set('Content-Type', 'application/octet-stream')
      .send(Buffer.concat([file.subarray(0, head), file.subarray(file.length - tail)]))

  it('by its ends: what will be converted is called by its name, wherever the list of frames stands', async () => {
    const server = await testServer()
    // Its list of frames stands at its end: the head alone does not tell.
    const ends = async (name: string, coding: string[]) => {
      ffmpeg(['-f', 'lavfi', '-i', 'testsrc2=s=320x192:r=25:d=2,noise=alls=30:allf=t', ...coding, clip(name)])
      return readFile(clip(name))
    }
    const x265 = [
      '-c:v',
      'libx265',
      '-preset',
      'ultrafast',
      '-crf',
      '20',
      '-x265-params',
      'log-level=error',
      '-pix_fmt',
      'yuv420p10le',
    ]
    const phone = await ends('ends.mov', x265)
    expect(phone.indexOf('moov')).toBeGreaterThan(phone.length / 2)
    const seen = await glance(server, phone, 20_000, 20_000).expect(200)
    expect(seen.body).toEqual({ becomes: 'HEVC, 10 bit' })
    expect((await glance(server, phone, 20_000, 0).expect(200)).body).toBeNull()
    expect((await glance(server, long, 100_000, 100_000).expect(200)).body).toEqual({ becomes: 'MPEG-4 Part 2' })
    const plain = await ends('plain.mp4', ['-c:v', 'libx264', '-pix_fmt', 'yuv420p'])
    expect((await glance(server, plain, 20_000, 20_000).expect(200)).body).toEqual({ becomes: '' })
    for (const name of ['originals', 'footage', 'incoming']) expect(await readdir(join(server.data, name))).toEqual([])
  })

  it('is refused then, not after hours', async () => {
    const server = await testServer()
    const text = await glance(server, Buffer.from('no clip at all '.repeat(5000)), 20_000, 20_000).expect(422)
    expect(text.body.error).toMatch(/no file that Wisp Trail knows/)
    ffmpeg(['-f', 'lavfi', '-i', 'sine=d=20', '-c:a', 'ac3', clip('sound.mka')])
    const sound = await glance(server, await readFile(clip('sound.mka')), 20_000, 20_000).expect(422)
    expect(sound.body.error).toMatch(/coded as ac3/)
    vi.spyOn(server.files, 'askForRoom').mockImplementation(async (bytes, what) => {
      // The file itself has room.
      if (what) throw new HttpRefusal(507, `${what} ${bytes}`)
    })
    const room = await glance(server, long, 100_000, 100_000).expect(507)
    expect(room.body.error).toMatch(/^Converted, the clip takes about \d+/)
  })
})

describe('what can not be converted', () => {
  it('says what is wrong with it, and nothing of it is kept', async () => {
    const server = await testServer()
    const project = await newProject(server)
    const cut = clip('cut.mov')
    await writeFile(cut, hevc)
    await truncate(cut, Math.floor(hevc.length / 2))
    const { body } = await upload(server, project, await readFile(cut)).expect(422)
    expect(body.error).toMatch(/damaged or cut short/)
    const text = await upload(server, project, Buffer.from('no clip at all '.repeat(500))).expect(422)
    expect(text.body.error).toMatch(/no file that Wisp Trail knows/)
    for (const name of ['originals', 'footage', 'incoming']) expect(await readdir(join(server.data, name))).toEqual([])
  })

  it.each(['ffmpeg', '/nowhere/ffmpeg'])('reaches for no other file and no address: %s', async (program) => {
    vi.stubEnv('FFMPEG', program)
    const server = await testServer()
    const project = await newProject(server)
    const secret = clip('secret.txt')
    await writeFile(secret, 'secret')
    const playlist = `#EXTM3U\n#EXT-X-TARGETDURATION:1\n#EXTINF:1,\nfile://${clip('long.avi')}\n#EXT-X-ENDLIST\n`
    const concat = `ffconcat version 1.0\nfile ${clip('long.avi')}\n`
    for (const list of [playlist, concat]) {
      const answer = await upload(server, project, Buffer.from(list))
      expect(answer.status, list).toBe(422)
    }
    expect(await list(server, project)).toEqual([])
    vi.unstubAllEnvs()
  })
})

describe('where there is no ffmpeg', () => {
  afterAll(() => vi.unstubAllEnvs())

  it('the converter that comes along does the same, and says that it is slow', async () => {
    vi.stubEnv('FFMPEG', '/nowhere/ffmpeg')
    const server = await testServer()
    const project = await newProject(server)
    const { body } = await upload(server, project, hevc, 'phone.mov').expect(202)
    expect(body.conversion).toMatchObject({ called: 'HEVC, 10 bit', slow: true })
    const { facts } = await until(server, project, 'done')
    expect(facts).toMatchObject({ codec: 'avc', width: strip.width, height: strip.height, frames: strip.frames })
    const { body: told } = await server.http.get(`/api/footage/${facts!.hash}/facts`)
    ;(told.times as number[]).forEach((time, i) => expect(time).toBeCloseTo(i / strip.rate, 4))
    const file = join(server.data, 'footage', facts!.hash)
    const rgb = ffmpeg(['-i', file, '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-'])
    const size = 3 * strip.width * strip.height
    const numbers = Array.from({ length: strip.frames }, (_, f) => readStrip(rgb.subarray(f * size), 3).number)
    expect(numbers).toEqual(numbers.map((_, f) => f))
  })
})
