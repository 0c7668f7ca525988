import { mkdtemp, readdir, readFile, rm, truncate, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { deflateRawSync } from 'node:zlib'
import { encode } from 'fast-png'
import { type Zippable, zipSync } from 'fflate'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { ffmpeg } from '#lab/support/ffmpeg.ts'
import { claimingZip } from '#lab/support/zips.ts'
import { runJob } from './jobs/runJob.ts'
import { newProject, send, testServer, type TestServer } from './testServer.ts'

const upload = (server: TestServer, body: Uint8Array) =>
  server.http.post('/api/footage').set('Content-Type', 'application/octet-stream').send(Buffer.from(body))
/** A plain picture of one level. */
const png = (level: number, width = 40, height = 30) =>
  encode({ width, height, data: new Uint8Array(4 * width * height).fill(level), channels: 4 })
const picture = async (server: TestServer, hash: string, number: number) =>
  Buffer.from((await server.http.get(`/api/footage/${hash}/pictures/${number}`).expect(200)).body as Buffer)

let folder = ''
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'wisp-pictures-'))
})
afterAll(() => rm(folder, { recursive: true, force: true }))

describe('pictures', () => {
  it('a still is one picture, served as it is, and can be put into a project', async () => {
    const server = await testServer()
    const file = png(90)
    const { body } = await upload(server, file).expect(201)
    expect(body).toMatchObject({ codec: 'png', width: 40, height: 30, frames: 1, audio: '', bytes: file.length })
    expect(await picture(server, body.hash, 0)).toEqual(Buffer.from(file))
    await server.http.get(`/api/footage/${body.hash}/pictures/1`).expect(404)
    const record = { type: 'media', id: 'still', name: 'lantern.png', ...body }
    // It lasts as long as one likes.
    const shot = { type: 'shot', id: 'title', media: 'still', name: 'Title', order: 1, in: 0, out: 240, join: 0 }
    const project = await newProject(server)
    await send(server, project, 0, { put: [record, shot], remove: [] }).expect(200)
    const longer = { put: [{ ...shot, out: 10_001 }], remove: [] }
    expect((await send(server, project, 1, longer).expect(422)).body.error).toMatch(/which has 10000 frames/)
  })
  it.each([
    ['plain', 0],
    ['packed', 9],
  ] as const)(
    'a %s zip is a sequence in the order of its numbers; what is no picture is left alone',
    async (_, level) => {
      const server = await testServer()
      const named = {
        'sway-10.png': png(10),
        'sway-9.png': png(9),
        'sway-8.png': png(8),
        'notes.txt': new Uint8Array([1]),
        '.hidden.png': png(1),
      }
      const { body } = await upload(server, zipSync(named as Zippable, { level })).expect(201)
      expect(body).toMatchObject({ codec: 'png', width: 40, height: 30, frames: 3, rate: 24, seconds: 0.125 })
      for (const [i, value] of [8, 9, 10].entries())
        expect(await picture(server, body.hash, i)).toEqual(Buffer.from(png(value)))
    },
  )
  it('a JPEG that a phone held upright is as large as it stands', async () => {
    const server = await testServer()
    ffmpeg(['-f', 'lavfi', '-i', 'testsrc=s=80x60', '-frames:v', '1', join(folder, 'plain.jpg')])
    const jpeg = await readFile(join(folder, 'plain.jpg'))
    expect((await upload(server, jpeg).expect(201)).body).toMatchObject({ codec: 'jpeg', width: 80, height: 60 })
    // An Exif block with nothing but an orientation of 6, a quarter turn (CIPA DC-008, written by hand).
    const tiff = [0x4d, 0x4d, 0, 42, 0, 0, 0, 8, 0, 1, 0x01, 0x12, 0, 3, 0, 0, 0, 1, 0, 6, 0, 0, 0, 0, 0, 0]
    const exif = [0xff, 0xe1, 0, 8 + tiff.length, 0x45, 0x78, 0x69, 0x66, 0, 0, ...tiff]
    const turned = Buffer.concat([jpeg.subarray(0, 2), Buffer.from(exif), jpeg.subarray(2)])
    expect((await upload(server, turned).expect(201)).body).toMatchObject({ width: 60, height: 80 })
  })
  it.each([
    ['is cut short', () => png(5).subarray(0, 60), /damaged or cut short/],
    ['is too small', () => png(5, 8, 8), /smallest that can be worked with is 16 x 16/],
    ['is too large', () => png(5, 5000, 16), /largest that fits is 4096 x 2304/],
    ['is an empty zip', () => zipSync({ 'notes.txt': new Uint8Array([1]) }), /no picture in this zip/],
    ['is a zip cut short', () => zipSync({ 'a1.png': png(1) }, { level: 0 }).subarray(0, -30), /zip is damaged/],
    [
      'has two sizes',
      () => zipSync({ 'a1.png': png(1), 'a2.png': png(1, 44, 30) }),
      /a2.png is 44 x 30 pixels, the first of the sequence 40 x 30/,
    ],
    ['holds a broken one', () => zipSync({ 'a1.png': png(1), 'a2.png': png(1).subarray(0, 50) }), /a2.png is damaged/],
    [
      'only says that it is a picture',
      () => zipSync({ 'a1.png': new TextEncoder().encode('no picture at all') }),
      /a1.png is no PNG/,
    ],
  ])('what %s is refused with a sentence, and nothing stays', async (_, make, sentence) => {
    const server = await testServer()
    const { body } = await upload(server, make()).expect(422)
    expect(body.error).toMatch(sentence)
    expect(await readdir(join(server.data, 'footage'))).toEqual([])
  })
})

describe('what a file says of its size', () => {
  const read = (file: string, bytes: number, signal?: AbortSignal) =>
    runJob('media/reading', { file, hash: 'a'.repeat(64), bytes }, signal)

  it('is not believed: a small zip that claims four gigabytes is damaged, and the server goes on', async () => {
    const server = await testServer()
    const zip = claimingZip(0xfffffff0, 0xfffffff0, new Uint8Array(30))
    expect(zip.length).toBeLessThan(200)
    expect((await upload(server, zip).expect(422)).body.error).toMatch(/larger than 256.0 MB|damaged/)
    const modest = claimingZip(5000, 5000, new Uint8Array(30))
    expect((await upload(server, modest).expect(422)).body.error).toMatch(/zip is damaged/)
    await server.http.get('/api/projects').expect(200)
  })
  it('is measured while it is unpacked: what grows beyond all claims is not held', async () => {
    const endless = deflateRawSync(Buffer.concat([Buffer.from(png(1)), Buffer.alloc(300 * 1024 ** 2)]), { level: 1 })
    const file = join(folder, 'endless.zip')
    const zip = claimingZip(endless.length, 4000, endless, 1, 8)
    await writeFile(file, zip)
    const before = process.memoryUsage().rss
    await expect(read(file, zip.length)).rejects.toThrow(/larger than 256.0 MB/)
    expect(process.memoryUsage().rss - before).toBeLessThan(150e6)
  })
  it('of a picture file is limited, too, without reading it whole', async () => {
    const file = join(folder, 'huge.png')
    await writeFile(file, png(1))
    await truncate(file, 3 * 1024 ** 3)
    await expect(read(file, 3 * 1024 ** 3)).rejects.toThrow(/larger than 256.0 MB/)
  })
  it('together is limited, and who goes away ends the reading at once', async () => {
    const file = join(folder, 'many.zip')
    const picture = png(1)
    const zip = claimingZip(picture.length, 200 * 1024 ** 2, picture, 100, 8)
    await writeFile(file, zip)
    await expect(read(file, zip.length)).rejects.toThrow(/take 19.5 GB unpacked; at most 9\d\d.\d MB fit/)
    // The same where it lies about its sizes: every entry is whole, and a hundred megabytes of nothing.
    const end = Buffer.from(picture).subarray(-12)
    const small = deflateRawSync(Buffer.concat([Buffer.from(picture), Buffer.alloc(100 * 1024 ** 2), end]), {
      level: 9,
    })
    const lying = claimingZip(small.length, 1000, small, 30, 8)
    await writeFile(file, lying)
    await expect(read(file, lying.length)).rejects.toThrow(/unpacked; at most/)
    // Every entry unpacks 200 MB: half a minute of work.
    const large = deflateRawSync(Buffer.concat([Buffer.from(picture), Buffer.alloc(200 * 1024 ** 2)]), { level: 1 })
    const long = claimingZip(large.length, 1000, large, 60, 8)
    await writeFile(file, long)
    const stop = new AbortController()
    const reading = read(file, long.length, stop.signal)
    reading.catch(() => {})
    await new Promise((done) => setTimeout(done, 300))
    const begin = performance.now()
    stop.abort(new Error('gone'))
    await expect(reading).rejects.toThrow('gone')
    expect(performance.now() - begin).toBeLessThan(1000)
  })
})
