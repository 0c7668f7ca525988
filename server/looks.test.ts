import { expect, it } from 'vitest'
import { shippedLooks } from '#core/looks/looks.ts'
import { testServer } from './testServer.ts'

const look = (id: string, name: string) => ({ ...shippedLooks[0]!, type: 'look', id, name, preview: '' })

it('looks stay with whoever works here: kept in order, changed, deleted, and there after a start anew', async () => {
  const server = await testServer()
  const names = async ({ http } = server) =>
    ((await http.get('/api/looks').expect(200)).body as { name: string }[]).map(({ name }) => name)
  expect(await names()).toEqual([])
  for (const one of [look('a', 'Reeds'), look('b', 'Fog')])
    await server.http.put(`/api/looks/${one.id}`).send(one).expect(204)
  await server.http.put('/api/looks/a').send(look('a', 'Reeds at night')).expect(204)
  expect(await names()).toEqual(['Reeds at night', 'Fog'])
  const { body } = await server.http.get('/api/looks')
  expect((body as object[])[1]).toEqual(JSON.parse(JSON.stringify(look('b', 'Fog'))))
  await server.http.delete('/api/looks/a').expect(204)
  await server.http.delete('/api/looks/a').expect(204)
  await server.close()
  expect(await names(await testServer({ data: server.data }))).toEqual(['Fog'])
})

it('a look that is none is refused with a sentence, and nothing is kept', async () => {
  const { http } = await testServer()
  const { cards: _cards, ...bare } = look('a', 'Bare')
  for (const [broken, sentence] of [
    [bare, /cards/],
    [{ ...look('a', ''), name: '' }, /name/],
    [{ ...look('a', 'x'), preview: 'https://elsewhere/picture.jpg' }, /small JPEG/],
    [{ ...look('a', 'x'), cards: [{ ...shippedLooks[0]!.cards[0]!, kind: 'nothing' }] }, /nothing|kind/],
    ['{', /^The request .*\.$/],
  ] as const) {
    const answer = await http.put('/api/looks/a').set('Content-Type', 'application/json').send(broken)
    expect(answer.status).toBeGreaterThanOrEqual(400)
    expect(answer.status).toBeLessThan(500)
    expect((answer.body as { error: string }).error).toMatch(sentence)
  }
  expect((await http.get('/api/looks')).body).toEqual([])
})
