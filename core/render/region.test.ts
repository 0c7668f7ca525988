import { describe, expect, it } from 'vitest'
import { Scratch, Slot } from '../pixels/buffers/scratch.ts'
import { everywhere } from '../records/make.ts'
import type { Region } from '../records/types.ts'
import type { TracedPart } from '../shapes/traced.ts'
import { regionBounds, regionMatte } from './region.ts'
import type { Scene } from './scene.ts'

const slots = { tested: new Slot() }

const disc = (id: string, x: number, y: number, r: number): TracedPart => ({
  ...{ id, kind: 'oval', role: 'add', settings: { feather: 0 } },
  at: (time) => (time < 50 ? [x, y, x + r, y, x, y + r] : null),
})
const parts: Record<string, TracedPart[]> = {
  keeper: [disc('head', 60, 50, 20), disc('body', 60, 90, 30)],
  moon: [disc('moon-disc', 130, 40, 12)],
}
const scene = {
  partsOf: (id: string) => parts[id] ?? [],
  part: (id: string) =>
    Object.values(parts)
      .flat()
      .find((part) => part.id === id) ?? null,
} as unknown as Scene
const frame = { x: 0, y: 0, width: 160, height: 140 }
const region = (of: string[], more: Partial<Region> = {}): Region => ({ ...everywhere, of, ...more })
const matte = (one: Region, time = 0, scale = 1) => {
  const rect = { x: 0, y: 0, width: frame.width * scale, height: frame.height * scale }
  const data = regionMatte(scene, one, { time: time, scale: scale, rect: rect }, new Scratch(), slots.tested)
  return { data, at: (x: number, y: number) => data[Math.floor(y * scale) * rect.width + Math.floor(x * scale)]! }
}

describe('a region', () => {
  it('of nobody is everywhere', () => {
    expect(matte(everywhere).data.every((v) => v === 1)).toBe(true)
  })
  it('takes members, single parts and several of them together', () => {
    const one = matte(region(['keeper']))
    expect([one.at(60, 50), one.at(60, 100), one.at(130, 40)]).toEqual([1, 1, 0])
    expect(matte(region(['head'])).at(60, 110)).toBe(0)
    const both = matte(region(['head', 'moon']))
    expect([both.at(60, 50), both.at(130, 40), both.at(60, 110)]).toEqual([1, 1, 0])
  })
  it('of a painted part is what its pixels cover, and nothing of the oval that stands for them', () => {
    const data = new Uint8Array(30 * 20).fill(255)
    // A notch that no oval has.
    for (let y = 0; y < 20; y++) data.fill(0, y * 30 + 12, y * 30 + 18)
    const raster = { x: 40, y: 60, width: 30, height: 20, data }
    parts.painted = [
      {
        ...{ id: 'pixels', kind: 'painted', role: 'add', settings: { feather: 0 } },
        at: (time) => (time < 50 ? [55, 70, 75, 70, 55, 82] : null),
        raster: (time) => (time < 50 ? raster : null),
      },
    ]
    for (const scale of [1, 0.5]) {
      const one = matte(region(['painted']), 0, scale)
      expect([one.at(45, 70), one.at(65, 70), one.at(54, 70), one.at(75, 70)]).toEqual([1, 1, 0, 0])
    }
    const softer = matte(region(['painted'], { grow: 3, side: 'outside' }))
    expect([softer.at(38, 70), softer.at(35, 70)]).toEqual([0, 1])
    expect(matte(region(['painted']), 60).data.every((v) => v === 0)).toBe(true)
    expect(regionBounds(scene, region(['painted']), 0, 1, frame)).toMatchObject({ x: expect.closeTo(37, -1) })
    delete parts.painted
  })
  it('outside is what inside is not, softened or not', () => {
    for (const more of [{}, { soften: 8 }, { grow: 6 }]) {
      const [inside, outside] = [
        matte(region(['keeper'], more)),
        matte(region(['keeper'], { ...more, side: 'outside' })),
      ]
      inside.data.forEach((v, i) => expect(v + outside.data[i]!).toBeCloseTo(1, 5))
    }
  })
  it('grows and shrinks by pixels, the same at half the scale', () => {
    for (const scale of [1, 0.5]) {
      const area = (grow: number) =>
        matte(region(['moon'], { grow }), 0, scale).data.reduce((a, b) => a + b, 0) / scale ** 2
      // The edge is found to four tenths of a pixel of the scale that is worked at.
      for (const grow of [-5, 4, 9])
        expect(Math.abs(Math.sqrt(area(grow) / Math.PI) - 12 - grow)).toBeLessThan(0.4 / scale)
    }
  })
  it('along the edge is a band of twice the growth', () => {
    const band = matte(region(['moon'], { side: 'edge', grow: 3 }))
    expect([band.at(130, 40), band.at(142, 40), band.at(150, 40)]).toEqual([0, 1, 0])
    const area = band.data.reduce((a, b) => a + b, 0)
    expect(Math.abs(area / (2 * Math.PI * 12) - 6)).toBeLessThan(0.4)
  })
  it('where nobody is there is empty inside and whole outside', () => {
    expect(matte(region(['keeper'], { soften: 5 }), 60).data.every((v) => v === 0)).toBe(true)
    expect(matte(region(['keeper'], { side: 'outside', grow: 5 }), 60).data.every((v) => v === 1)).toBe(true)
    expect(regionBounds(scene, region(['keeper']), 60, 1, frame).width).toBe(0)
  })
  it('its bounds hold everything that is not 0', () => {
    const one = region(['head', 'moon'], { grow: 5, soften: 10 })
    const box = regionBounds(scene, one, 0, 1, frame)
    matte(one).data.forEach((v, i) => {
      const [x, y] = [i % frame.width, Math.floor(i / frame.width)]
      if (x < box.x || y < box.y || x >= box.x + box.width || y >= box.y + box.height) expect(v).toBeLessThan(1e-4)
    })
  })
})
