import { describe, expect, it } from 'vitest'
import { newProject, testServer } from '../testServer.ts'

describe('safety', () => {
  it('answers to its own names only', async () => {
    const { http } = await testServer()
    await http.get('/api/projects').set('Host', 'localhost:4310').expect(200)
    expect((await http.get('/api/projects').set('Host', 'evil.example').expect(403)).body.error).toMatch(
      /by its own address/,
    )
    await http.get('/api/projects').set('Host', '127.0.0.1.evil.example').expect(403)
    await http.get('/api/projects').set('Origin', 'http://127.0.0.1:4310').expect(200)
    expect(
      (await http.post('/api/projects').set('Origin', 'https://evil.example').send({ name: 'x' }).expect(403)).body
        .error,
    ).toMatch(/Another website/)
    await http.get('/api/projects').set('Origin', 'null').expect(403)
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
