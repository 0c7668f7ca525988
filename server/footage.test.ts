import { createHash } from 'node:crypto'
import { createWriteStream } from 'node:fs'
import { mkdtemp, readdir, readFile, rename, rm, truncate, writeFile } from 'node:fs/promises'
import http from 'node:http'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Writable } from 'node:stream'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { makeClip, turnByTag } from '#lab/support/clips.ts'
import { ffmpeg } from '#lab/support/ffmpeg.ts'
import { Room } from './storage/room.ts'
import { newProject, send, testServer, type TestServer } from './testServer.ts'

let folder = ''
const clip = (name: string) => join(folder, name)
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'wisp-clips-'))
  await makeClip(clip('plain.mp4'), { width: 320, height: 180, frames: 30, sound: true })
}, 120_000)
afterAll(() => rm(folder, { recursive: true, force: true }))

const upload = (server: TestServer, body: Buffer) =>
  server.http.post('/api/footage').set('Content-Type', 'application/octet-stream').send(body)
/** Files below the data folder that footage could have left. */
async function leftovers(server: TestServer): Promise<string[]> {
  const folders = ['footage', 'incoming'].map(async (name) =>
    (await readdir(join(server.data, name))).map((file) => `${name}/${file}`),
  )
  return (await Promise.all(folders)).flat()
}

describe('footage', () => {
  it('is read, stored once under its hash, and served in ranges', async () => {
    const server = await testServer()
    const bytes = await readFile(clip('plain.mp4'))
    const { body } = await upload(server, bytes).expect(201)
    const hash = createHash('sha256').update(bytes).digest('hex')
    expect(body).toMatchObject({
      hash,
      codec: 'avc',
      audio: 'aac',
      width: 320,
      height: 180,
      rotation: 0,
      frames: 30,
      rate: 24,
      variableRate: false,
    })
    expect(body).toMatchObject({
      matrix: 'bt709',
      range: 'limited',
      tagged: true,
      seconds: expect.closeTo(1.25, 3),
      bytes: bytes.length,
    })
    expect((await upload(server, bytes).expect(201)).body.hash).toBe(hash)
    expect(await leftovers(server)).toEqual([`footage/${hash}`])
    const part = await server.http.get(`/api/footage/${hash}`).set('Range', 'bytes=100-199').expect(206)
    expect(Buffer.from(part.body as Buffer)).toEqual(bytes.subarray(100, 200))
    const { body: facts } = await server.http.get(`/api/footage/${hash}/facts`)
    expect(facts.times).toHaveLength(30)
    facts.times.forEach((time: number, i: number) => expect(time - facts.times[0]).toBeCloseTo(i / 24, 4))
  })

  it.each([
    ['VP8 in WebM', 'vp8.webm', ['-c:v', 'libvpx', '-b:v', '1M'], { codec: 'vp8' }],
    ['VP9 in WebM', 'vp9.webm', ['-c:v', 'libvpx-vp9', '-b:v', '1M', '-cpu-used', '8'], { codec: 'vp9' }],
    ['AV1 in MP4', 'av1.mp4', ['-c:v', 'libaom-av1', '-cpu-used', '8', '-b:v', '500k'], { codec: 'av1' }],
    ['H.264 in MOV', 'plain.mov', ['-c:v', 'libx264', '-pix_fmt', 'yuv420p'], { codec: 'avc' }],
    [
      'a phone held upright',
      'turned.mp4',
      ['-c:v', 'libx264', '-pix_fmt', 'yuv420p'],
      { rotation: 270, width: 180, height: 320 },
    ],
    ['NTSC rate', 'ntsc.mp4', ['-vf', 'fps=30000/1001', '-c:v', 'libx264'], { rate: 29.97, variableRate: false }],
  ])('knows %s', async (_, name, coding, expected) => {
    ffmpeg(['-i', clip('plain.mp4'), '-an', ...coding, clip(name)])
    if (name === 'turned.mp4') {
      name = 'turned-by-tag.mp4'
      turnByTag(clip('turned.mp4'), clip(name))
    }
    const server = await testServer()
    const { body } = await upload(server, await readFile(clip(name))).expect(201)
    expect(body).toMatchObject(expected)
    if (!('rate' in expected)) expect(body).toMatchObject({ frames: 30, rate: 24 })
  })

  it.each([
    ['8 bit WAV', 'a.wav', ['-c:a', 'pcm_u8'], 'pcm-u8'],
    ['24 bit WAV of six channels at 96 kHz', 'b.wav', ['-c:a', 'pcm_s24le', '-ac', '6', '-ar', '96000'], 'pcm-s24'],
    ['float WAV', 'c.wav', ['-c:a', 'pcm_f32le'], 'pcm-f32'],
    ['MP3', 'd.mp3', ['-c:a', 'libmp3lame'], 'mp3'],
    ['Ogg Vorbis', 'e.ogg', ['-c:a', 'libvorbis', '-ac', '2'], 'vorbis'],
    ['Ogg Opus', 'f.opus', ['-c:a', 'libopus', '-ar', '48000'], 'opus'],
    ['FLAC', 'g.flac', ['-c:a', 'flac'], 'flac'],
    ['M4A', 'h.m4a', ['-c:a', 'aac'], 'aac'],
  ])('knows sound alone: %s', async (_, name, coding, audio) => {
    ffmpeg(['-f', 'lavfi', '-i', 'sine=440:duration=1.5:sample_rate=44100', ...coding, clip(name)])
    const server = await testServer()
    const { body } = await upload(server, await readFile(clip(name))).expect(201)
    expect(body).toMatchObject({ codec: 'sound', audio, width: 0, height: 0, frames: 0 })
    expect(Math.abs(body.seconds - 1.5)).toBeLessThan(0.06)
  })

  it('notices a rate that varies, and counts every frame of it', async () => {
    // Every third frame is left out, as phones do in the dark.
    ffmpeg([
      '-i',
      clip('plain.mp4'),
      '-an',
      '-vf',
      "select='mod(n,3)'",
      '-fps_mode',
      'vfr',
      '-c:v',
      'libx264',
      clip('vfr.mp4'),
    ])
    const server = await testServer()
    expect((await upload(server, await readFile(clip('vfr.mp4'))).expect(201)).body).toMatchObject({
      variableRate: true,
      frames: 20,
    })
  })

  it.each([
    [
      'a text file with a film’s name',
      async () => Buffer.from('dear diary, '.repeat(500)),
      /no file that Wisp Trail knows/,
    ],
    ['an empty file', async () => Buffer.alloc(0), /is empty/],
    [
      'sound in a form that no browser decodes',
      async () => (
        ffmpeg(['-f', 'lavfi', '-i', 'sine=440:duration=0.5', '-c:a', 'ac3', clip('sound.mka')]),
        readFile(clip('sound.mka'))
      ),
      /coded as ac3.*Save it as WAV/,
    ],
    [
      'a WAV without a sample',
      async () => (
        ffmpeg(['-f', 'lavfi', '-i', 'sine=440:duration=0.5', '-t', '0', clip('none.wav')]),
        readFile(clip('none.wav'))
      ),
      /no sound in this file/,
    ],
    [
      'a clip cut short',
      async () => (
        ffmpeg(['-i', clip('plain.mp4'), '-c', 'copy', '-movflags', '+faststart', clip('fast.mp4')]),
        (await readFile(clip('fast.mp4'))).subarray(0, 9000)
      ),
      /damaged or cut short/,
    ],
    [
      'a clip cut before its index',
      async () => (await readFile(clip('plain.mp4'))).subarray(0, 9000),
      /damaged or cut short|no file that/,
    ],
    [
      'H.265',
      async () => (
        ffmpeg(['-i', clip('plain.mp4'), '-an', '-c:v', 'libx265', '-x265-params', 'log-level=none', clip('hevc.mp4')]),
        readFile(clip('hevc.mp4'))
      ),
      /H\.265.*can not decode.*Convert/,
    ],
    [
      'a picture of one pixel',
      async () => (
        ffmpeg([
          '-f',
          'lavfi',
          '-i',
          'color=s=16x16:d=0.2',
          '-vf',
          'scale=1:1',
          '-c:v',
          'libvpx-vp9',
          clip('dot.webm'),
        ]),
        readFile(clip('dot.webm'))
      ),
      /1 x 1 pixels; the smallest/,
    ],
    [
      'a picture of 8000 x 4000',
      async () => (
        ffmpeg([
          '-f',
          'lavfi',
          '-i',
          'color=s=8000x4000:d=0.1',
          '-c:v',
          'libx264',
          '-preset',
          'ultrafast',
          clip('huge.mp4'),
        ]),
        readFile(clip('huge.mp4'))
      ),
      /8000 x 4000 pixels; the largest/,
    ],
  ])('refuses %s with a sentence and leaves nothing behind', async (_, make, sentence) => {
    const server = await testServer()
    const answer = await upload(server, await make())
    expect([415, 422]).toContain(answer.status)
    expect(answer.body.error).toMatch(sentence)
    expect(await leftovers(server)).toEqual([])
    await server.http.get('/api/projects').expect(200)
  })

  it('an upload that breaks off leaves nothing, and the same file comes in afterwards', async () => {
    const server = await testServer()
    const bytes = await readFile(clip('plain.mp4'))
    const listener = server.app.listen(0, '127.0.0.1')
    await new Promise((done) => listener.once('listening', done))
    const { port } = listener.address() as { port: number }
    await new Promise<void>((done) => {
      const request = http.request({
        port,
        host: '127.0.0.1',
        method: 'POST',
        path: '/api/footage',
        headers: { 'Content-Length': bytes.length },
      })
      request.on('error', () => done())
      request.write(bytes.subarray(0, bytes.length / 2), () => setTimeout(() => request.destroy(), 50))
    })
    for (let i = 0; i < 100 && (await leftovers(server)).length; i++) await new Promise((done) => setTimeout(done, 20))
    expect(await leftovers(server)).toEqual([])
    listener.closeAllConnections()
    await new Promise((done) => listener.close(done))
    await upload(server, bytes).expect(201)
  })

  it('says that the disk is full, and takes the file once there is room', async () => {
    let room = 20_000
    const openFile = (path: string) => {
      const real = createWriteStream(path, { flags: 'wx' })
      return new Writable({
        write(chunk: Buffer, _, done) {
          room -= chunk.length
          if (room < 0) done(Object.assign(new Error('ENOSPC: no space left on device, write'), { code: 'ENOSPC' }))
          else real.write(chunk, done)
        },
        final: (done) => void real.end(done),
        destroy: (error, done) => void real.destroy().once('close', () => done(error)),
      }) as unknown as ReturnType<typeof createWriteStream>
    }
    const server = await testServer({ openFile })
    const bytes = await readFile(clip('plain.mp4'))
    expect((await upload(server, bytes).expect(507)).body.error).toMatch(/disk is full/)
    expect(await leftovers(server)).toEqual([])
    room = 1e9
    await upload(server, bytes).expect(201)
  })
})

describe('a row without its file', () => {
  const hashOf = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex')
  it.each([
    ['gone', (file: string) => rm(file)],
    ['cut off', (file: string) => truncate(file, 100)],
  ])('that is %s takes the file when it comes again, without a start in between', async (_, spoil) => {
    const server = await testServer()
    const bytes = await readFile(clip('plain.mp4'))
    await upload(server, bytes).expect(201)
    await spoil(join(server.data, 'footage', hashOf(bytes)))
    await upload(server, bytes).expect(201)
    expect((await server.http.get(`/api/footage/${hashOf(bytes)}`).expect(200)).body).toEqual(bytes)
  })
  it('is put right at the start; an output that is not there is not listed', async () => {
    const first = await testServer()
    const id = await newProject(first)
    const bytes = await readFile(clip('plain.mp4'))
    await upload(first, bytes).expect(201)
    const { body: made } = await first.http
      .post(`/api/projects/${id}/outputs`)
      .query({ shot: 's', name: 'Swing.mp4' })
      .set('Content-Type', 'video/mp4')
      .send(Buffer.from('film'))
    await rm(join(first.data, 'footage', hashOf(bytes)))
    await rm(join(first.data, 'outputs', made.id as string))
    await first.close()
    const second = await testServer({ data: first.data })
    await second.http.get(`/api/footage/${hashOf(bytes)}`).expect(404)
    expect((await second.http.get(`/api/projects/${id}/outputs`)).body).toEqual([])
  })
})

it('a clip whose file was away for a start is there again with its file', async () => {
  const first = await testServer()
  const bytes = await readFile(clip('plain.mp4'))
  const { body } = await upload(first, bytes).expect(201)
  const hash = body.hash as string
  await first.close()
  const file = join(first.data, 'footage', hash)
  await rename(file, `${first.data}/aside`)
  const without = await testServer({ data: first.data })
  await without.http.get(`/api/footage/${hash}/facts`).expect(404)
  await rename(`${first.data}/aside`, file)
  const answers = await Promise.all([1, 2, 3].map(() => without.http.get(`/api/footage/${hash}/facts`)))
  for (const answer of answers) expect(answer.body).toMatchObject({ ...body, times: expect.any(Array) })
})

describe('uploads at once', () => {
  it('of the same new clip are one clip for all', async () => {
    const server = await testServer()
    const bytes = await readFile(clip('plain.mp4'))
    const answers = await Promise.all(Array.from({ length: 5 }, () => upload(server, bytes)))
    expect(answers.map((one) => one.status)).toEqual(Array(5).fill(201))
    expect(new Set(answers.map((one) => JSON.stringify(one.body))).size).toBe(1)
    expect(await leftovers(server)).toEqual([`footage/${(answers[0]!.body as { hash: string }).hash}`])
  })
  it('ask for room first', async () => {
    const server = await testServer()
    await server.http.get('/api/room/for/1000').expect(204)
    expect((await server.http.get('/api/room/for/1e15').expect(507)).body.error).toMatch(/takes .* GB, but only/)
    await server.http.get('/api/room/for/much').expect(422)
    await expect(server.files.askForRoom(1e17)).rejects.toThrow(/takes \d+\.\d GB, but only [\d.]+ [GM]B are free/)
  })
})

describe('room', () => {
  it('is told by what takes it, and freed of what neither a project, an undo nor a backup needs', async () => {
    const server = await testServer()
    const id = await newProject(server)
    const bytes = await readFile(clip('plain.mp4'))
    const { body: facts } = await upload(server, bytes).expect(201)
    const record = { type: 'media', id: 'm', name: 'plain.mp4', ...facts }
    await send(server, id, 0, { put: [record], remove: [] }).expect(200)
    await writeFile(join(server.data, 'outputs', 'nobody'), 'film')
    await writeFile(join(server.data, 'thumbnails', 'gone.png'), 'png')
    const room = new Room(server.database, server.files, server.backups)
    const [today, later] = [Date.now(), Date.now() + 40 * 86_400_000]
    expect(await room.taken(today)).toMatchObject({ clips: bytes.length, rendered: 4, pictures: 3, freeable: [] })
    // The clip is taken out of the project; an undo could still bring it back.
    await send(server, id, 1, { put: [], remove: [{ type: 'media', id: 'm' }] }).expect(200)
    const loose = [
      { what: 'rendered', count: 1, bytes: 4 },
      { what: 'pictures', count: 1, bytes: 3 },
    ]
    expect(await room.freeable(today + 2 * 86_400_000)).toEqual(loose)
    expect(await room.freeable(later)).toEqual([...loose, { what: 'logs', count: 2, bytes: expect.any(Number) }])
    await room.free(later)
    expect((await server.http.get(`/api/footage/${facts.hash as string}`)).status).toBe(200)
    // With the log the last way back is gone.
    expect(await room.freeable(later)).toEqual([{ what: 'clips', count: 1, bytes: bytes.length }])
    expect(await room.free(later)).toBe(bytes.length)
    expect(await leftovers(server)).toEqual([])
    await server.http.get(`/api/footage/${facts.hash as string}`).expect(404)
  })
  it('is freed of files as they came in once the project that they were converted for is gone', async () => {
    const server = await testServer()
    const [id, other] = [await newProject(server), await newProject(server)]
    const source = 'b'.repeat(64)
    await writeFile(join(server.data, 'originals', source), 'as it came in')
    const row = { name: 'a.mov', source, bytes: 13, called: 'HEVC', state: 'taken', result: '', error: '', asked: '' }
    for (const project of [id, other])
      await server.database.write((manager) =>
        manager.insert('conversion', { ...row, id: `of-${project}`, project, questions: null, choices: null } as never),
      )
    const room = new Room(server.database, server.files, server.backups)
    const later = Date.now() + 40 * 86_400_000
    const gone = (project: string) => server.database.write((manager) => manager.delete('project', { id: project }))
    await gone(id)
    expect(await room.freeable(later)).toEqual([])
    await gone(other)
    expect(await room.freeable(later)).toEqual([{ what: 'originals', count: 1, bytes: 13 }])
    await room.free(later)
    expect(await readdir(join(server.data, 'originals'))).toEqual([])
    expect(await server.database.read((manager) => manager.count('conversion'))).toBe(0)
  })
  it('is not freed of a clip that a backup needs', async () => {
    const server = await testServer()
    const id = await newProject(server)
    const { body: facts } = await upload(server, await readFile(clip('plain.mp4'))).expect(201)
    await send(server, id, 0, { put: [{ type: 'media', id: 'm', name: 'plain.mp4', ...facts }], remove: [] })
    await server.backups.makeIfChanged()
    await send(server, id, 1, { put: [], remove: [{ type: 'media', id: 'm' }] }).expect(200)
    await server.http.post('/api/room/free').expect(200)
    const room = new Room(server.database, server.files, server.backups)
    const later = Date.now() + 40 * 86_400_000
    await room.free(later)
    expect((await room.freeable(later)).filter((one) => one.what === 'clips')).toEqual([])
  })
})

describe('outputs', () => {
  it('are kept, listed, downloaded and deleted', async () => {
    const server = await testServer()
    const id = await newProject(server)
    const place = `/api/projects/${id}/outputs`
    const post = (name: string, body: Buffer) =>
      server.http.post(place).query({ shot: 's', name, about: 'MP4' }).set('Content-Type', 'video/mp4').send(body)
    const { body: made } = await post('../Swing.mp4', Buffer.from('film')).expect(201)
    expect(made).toMatchObject({ name: 'Swing.mp4', bytes: 4 })
    expect((await post('Swing.exe', Buffer.from('film')).expect(422)).body.error).toMatch(
      /ends in one of mp4, webm, png/,
    )
    expect((await post('a.constructor', Buffer.from('film')).expect(422)).body.error).toMatch(
      /ends in one of mp4, webm, png/,
    )
    // A drawing may hold scripts: it is saved, never shown as a page of ours.
    const { body: drawing } = await post('Swing.svg', Buffer.from('<svg/>')).expect(201)
    const saved = await server.http.get(`${place}/${drawing.id}/file`).expect(200)
    expect(saved.headers['content-disposition']).toContain('attachment')
    await server.http.delete(`${place}/${drawing.id}`).expect(204)
    expect((await post('Swing.mp4', Buffer.alloc(0)).expect(422)).body.error).toMatch(/empty/)
    expect((await server.http.get(place)).body).toHaveLength(1)
    const file = await server.http.get(`${place}/${made.id}/file`).expect(200)
    expect(file.headers['content-disposition']).toContain('attachment')
    expect(Buffer.from(file.body as Buffer).toString()).toBe('film')
    await server.http.delete(`${place}/${made.id}`).expect(204)
    expect(await readdir(join(server.data, 'outputs'))).toEqual([])
    expect((await server.http.get(`${place}/${made.id}/file`).expect(404)).body.error).toMatch(/not on the server/)
  })
  it('what was half-way in when the server stopped is gone when it starts', async () => {
    const first = await testServer()
    await writeFile(join(first.data, 'incoming', 'half'), 'half a film')
    await first.close()
    const second = await testServer({ data: first.data })
    expect(await leftovers(second)).toEqual([])
  })
})
