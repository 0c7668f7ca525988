import { request } from 'node:http'
import { describe, expect, it, onTestFinished } from 'vitest'
import { newProject, testServer } from '../testServer.ts'

describe('safety', () => {
  it('answers to its own names and its own port only', async () => {
    const { app } = await testServer()
    const listener = app.listen(0, '127.0.0.1')
    onTestFinished(() => void listener.close())
    await new Promise((done) => listener.once('listening', done))
    const { port } = listener.address() as { port: number }
    const ask = async (headers: Record<string, string>, method = 'GET', path = '/api/projects') =>
      new Promise<number>((done, fail) => {
        const asked = request({ port, path, method, headers: { host: `127.0.0.1:${port}`, ...headers } }, (answer) => {
          answer.resume()
          done(answer.statusCode!)
        })
        asked.on('error', fail).end()
      })
    const own = `http://127.0.0.1:${port}`
    for (const [headers, status] of [
      [{ host: `localhost:${port}` }, 200],
      [{ host: `LOCALHOST:${port}` }, 200],
      [{ host: `[::1]:${port}` }, 200],
      [{ host: `127.0.0.1:${port + 1}` }, 403],
      [{ host: '127.0.0.1' }, 403],
      [{ host: 'evil.example' }, 403],
      [{ host: `127.0.0.1.evil.example:${port}` }, 403],
      [{ origin: own }, 200],
      [{ origin: `http://127.0.0.1:${port + 1}` }, 403],
      [{ origin: `https://127.0.0.1:${port}` }, 403],
      [{ origin: 'https://evil.example' }, 403],
      [{ origin: 'null' }, 403],
      // What a browser says of who asks: W3C, Fetch Metadata Request Headers.
      [{ 'sec-fetch-site': 'same-origin' }, 200],
      [{ 'sec-fetch-site': 'same-site' }, 403],
      [{ 'sec-fetch-site': 'cross-site' }, 403],
      [{ 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'navigate' }, 403],
      [{ 'sec-fetch-site': 'none', 'sec-fetch-mode': 'navigate' }, 200],
    ] as const)
      expect(await ask(headers), JSON.stringify(headers)).toBe(status)
    expect(await ask({ 'sec-fetch-site': 'same-site' }, 'POST')).toBe(403)
    // A link from anywhere may lead to a page.
    expect(await ask({ 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'navigate' }, 'GET', '/')).toBe(404)
  })
  it('sends a strict content security policy and opens shared memory', async () => {
    const { http } = await testServer()
    const { headers } = await http.get('/api/projects')
    expect(headers['content-security-policy']).toMatch(/default-src 'none'/)
    expect(headers['content-security-policy']!.replace("'wasm-unsafe-eval'", '')).not.toMatch(/unsafe|\*|https?:/)
    expect(headers['cross-origin-opener-policy']).toBe('same-origin')
    expect(headers['cross-origin-embedder-policy']).toBe('require-corp')
  })
  it.each([
    '/api/projects/..%2f..%2fetc%2fpasswd',
    '/api/projects/%2e%2e/thumbnail',
    '/api/projects/..%2fwisp-trail.sqlite/thumbnail',
    '/api/footage/..%2f..%2fwisp-trail.sqlite',
    '/api/footage/%00',
    '/api/detectors/..%2f..%2fpackage.json/hands.js',
    '/api/detectors/hands/..%2f..%2f..%2fpackage.json',
    '/api/detectors/hands/package.json',
    '/api/detectors/vision/vision.js',
    '/api/nothing',
  ])('gives nothing of the disk away at %s', async (path) => {
    const { http } = await testServer()
    const answer = await http.get(path)
    expect([400, 404]).toContain(answer.status)
    expect(answer.body).toEqual({ error: expect.stringMatching(/^[A-Z].*[a-z].*\.$/) })
  })
  it('gives the files of the detectors as they are, to whoever is on this machine', async () => {
    const { http } = await testServer()
    const { headers, text } = await http.get('/api/detectors/hands/hands.js').expect(200)
    expect(headers['content-type']).toMatch(/javascript/)
    expect(text).toContain('createMediapipeSolutionsWasm')
    for (const file of ['face_mesh/face_mesh_solution_packed_assets.data', 'pose/pose_landmark_full.tflite'])
      await http.head(`/api/detectors/${file}`).expect(200)
  })
  it('takes a thumbnail only as a PNG of moderate size', async () => {
    const server = await testServer()
    const id = await newProject(server)
    const place = `/api/projects/${id}/thumbnail`
    await server.http.get(place).expect(204)
    const png = Buffer.from(
      'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
      'base64',
    )
    await server.http.put(place).set('Content-Type', 'image/png').send(png).expect(204)
    expect((await server.http.get(place).expect(200)).body).toEqual(png)
    await server.http.put(place).set('Content-Type', 'image/png').send(Buffer.from('no picture')).expect(422)
    await server.http
      .put(place)
      .set('Content-Type', 'image/png')
      .send(Buffer.alloc(2 ** 21))
      .expect(413)
  })
})
