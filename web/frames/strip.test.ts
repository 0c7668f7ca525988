import { beforeEach, expect, it, vi } from 'vitest'
import type { Media } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import { Strips } from './strip.ts'

const world = vi.hoisted(() => ({ drawn: [] as string[], opened: [] as string[], broken: '' }))
vi.mock('./clipOf.ts', () => ({ timesOf: async () => [0] }))
vi.mock('./clips.ts', () => ({
  Clips: class {
    openOwn = async ({ id }: Media) => {
      world.opened.push(id)
      if (world.broken === id) throw new Refusal(`${id} is broken.`)
    }
  },
}))
vi.mock('./start.ts', () => ({
  startRenderer: () => ({
    remote: {
      draw: async ({ clip }: { clip: { media: string; place: { frame: number } } }) => {
        world.drawn.push(`${clip.media} ${clip.place.frame}`)
        return { pixels: new Uint8ClampedArray(4), width: 1, height: 1 }
      },
    },
  }),
}))
const media = (id: string, frames = 100) => ({ id, hash: id, frames }) as Media

beforeEach(() => Object.assign(world, { drawn: [], opened: [], broken: '' }))

it('pictures of a strip lie evenly over the clip, each in the middle of its share', async () => {
  await Promise.all(new Strips().of(media('a'), 4))
  expect(world.drawn).toEqual(['a 12', 'a 37', 'a 62', 'a 87'])
})
it('of a clip with fewer frames than pictures some come twice, and none beyond its end', async () => {
  await Promise.all(new Strips().of(media('a', 2), 4))
  expect(world.drawn).toEqual(['a 0', 'a 0', 'a 1', 'a 1'])
})
it('strips are made one clip after the other, and once', async () => {
  const strips = new Strips()
  const [first, second] = [strips.of(media('a'), 2), strips.of(media('b'), 2)]
  await Promise.all([...first, ...second])
  expect(world.drawn.map((one) => one[0]).join('')).toBe('aabb')
  expect(strips.of(media('a'), 2)).toBe(first)
  expect(world.opened).toEqual(['a', 'b'])
})
it('a clip that fails does not stop the next one, and is tried anew when it is asked for again', async () => {
  const strips = new Strips()
  world.broken = 'a'
  const failed = strips.of(media('a'), 1)
  await Promise.all(strips.of(media('b'), 1))
  await expect(failed[0]).rejects.toThrow('a is broken.')
  world.broken = ''
  await Promise.all(strips.of(media('a'), 1))
  expect(world.drawn).toEqual(['b 50', 'a 50'])
})
