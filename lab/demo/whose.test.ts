import { type DecodedPng, decode } from 'fast-png'
import { describe, expect, it } from 'vitest'
import { pictureFile } from '#core/formats/pictureFile.ts'
import { isNobody, nameables, whoseOf } from '#core/outgoing/whose.ts'
import { Scratch } from '#core/pixels/buffers/scratch.ts'
import { Records } from '#core/records/records.ts'
import { drawContent } from '#core/render/drawContent.ts'
import { sceneOf } from '#core/render/scene.ts'
import { demoRecords } from './demoRecords.ts'

const records = new Records(demoRecords().records)
const [shot, frame] = ['shot-leap', 31]
const scene = sceneOf(records, shot)!
/** Coverage of what is called so, a number from 0 to 255 for each pixel at a quarter of the size. */
function matte(name: string): Uint8Array {
  const [width, height] = [320, 180]
  const picture = { words: new Uint32Array(width * height), width, height }
  const of = whoseOf(records, shot, name)
  drawContent(scene, { frame, content: 'matte', of, alpha: true }, 0.25, picture, new Scratch(), () => null)
  return Uint8Array.from(picture.words, (word) => word & 255)
}
const sum = (list: Uint8Array) => list.reduce((all, v) => all + v, 0) / 255

describe('what a matte can be of', () => {
  const all = nameables(records, shot)
  it('is everybody of the shot, each of their parts, and where effects work, each by a name of its own', () => {
    expect(new Set(all.map(({ name }) => name)).size).toBe(all.length)
    const names = (what: string) => all.filter((one) => one.what === what).map(({ name }) => name)
    expect(names('member')).toContain('Keeper')
    expect(names('part')).toContain('Keeper, head')
    expect(names('region').length).toBeGreaterThan(1)
  })
  it('of a part is less than of its member, and lies within it', () => {
    const [whole, head] = [matte('Keeper'), matte('Keeper, head')]
    expect(sum(head)).toBeGreaterThan(50)
    expect(sum(head)).toBeLessThan(0.5 * sum(whole))
    expect(head.every((v, i) => v <= whole[i]! + 1)).toBe(true)
  })
  it('of where an effect works is its own region: outside of somebody it is what they leave', () => {
    const outside = all.find(
      (one) => one.what === 'region' && records.get('effect', one.id)!.region.side === 'outside',
    )!
    const [around, whole] = [matte(outside.name), matte('')]
    expect(sum(around)).toBeGreaterThan(0.5 * around.length)
    // Where somebody is for certain nothing of it is there.
    const inner = whole.map((v, i) => (v === 255 && around[i]! < 8 ? 1 : 0))
    expect(inner.reduce((count, v) => count + v, 0)).toBeGreaterThan(100)
  })
  it('is three of them as red, green and blue of one picture, each as it is alone, in 8 bits and in 16', () => {
    const names = all
      .filter((one) => one.what === 'part')
      .slice(0, 3)
      .map(({ name }) => name)
    const of = whoseOf(records, shot, names.join(' + '))
    const [width, height] = [320, 180]
    const size = { width, height }
    const picture = { words: new Uint32Array(width * height), light: new Float32Array(4 * width * height), ...size }
    const order = { frame, content: 'matte' as const, of, alpha: true }
    drawContent(scene, order, 0.25, picture, new Scratch(), () => null)
    const [eight, sixteen] = (['png', 'png16'] as const).map((coding) =>
      decode(pictureFile(picture, coding, { channels: 'mattes' })),
    ) as [DecodedPng, DecodedPng]
    for (const [c, name] of names.entries()) {
      const alone = matte(name)
      expect(eight.data.filter((_, i) => i % 3 === c)).toEqual(alone)
      expect(sixteen.data.filter((_, i) => i % 3 === c).every((v, i) => Math.abs(v / 257 - alone[i]!) < 0.51)).toBe(
        true,
      )
    }
  })
  it('is nobody where nothing is called so', () => {
    expect(isNobody(whoseOf(records, shot, 'Nobody'))).toBe(true)
    expect(isNobody(whoseOf(records, shot, ''))).toBe(false)
  })
})
