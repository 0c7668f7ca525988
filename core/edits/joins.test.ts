import { describe, expect, it } from 'vitest'
import { Records } from '../records/records.ts'
import type { Shot } from '../records/types.ts'
import { joinOver, takeOverIn } from './joins.ts'

const shot = (id: string, order: number, length: number): Shot => ({
  ...{ type: 'shot', id, media: 'm', name: id, order, in: 0, out: length, join: 0 },
})
/** A shot of 48 frames and one of 20 after it. */
const records = () => new Records([shot('a', 1, 48), shot('b', 2, 20)])
let made = 0
const newId = () => `new ${++made}`

describe('joins', () => {
  const first = (all: Records) => all.get('shot', 'a')!
  it('bring a card that takes over, once, and are no longer than either shot', () => {
    const all = records()
    const { put } = joinOver(all, first(all), 30, newId)
    expect(put[0]).toMatchObject({ id: 'a', join: 20 })
    expect(put[1]).toMatchObject({ kind: 'takeOver', settings: { amount: { signal: 'join', from: [0, 1] } } })
    all.apply({ put, remove: [] })
    expect(joinOver(all, first(all), 7.6, newId).put).toEqual([{ ...first(all), join: 8 }])
    expect(joinOver(all, first(all), -3, newId).put).toEqual([{ ...first(all), join: 0 }])
  })
  it('of the last shot have nobody to join', () => {
    const all = records()
    expect(joinOver(all, all.get('shot', 'b')!, 12, newId).put).toEqual([{ ...all.get('shot', 'b')!, join: 0 }])
  })
  it('are made by a card that takes over where the shot is cut, and a second card is another one', () => {
    const all = records()
    const { put } = takeOverIn(all, first(all), newId)
    expect(put[0]).toMatchObject({ join: 12 })
    expect(put).toHaveLength(2)
    all.apply({ put, remove: [] })
    const again = takeOverIn(all, first(all), newId).put
    expect(again[0]).toMatchObject({ join: 12 })
    expect(again[1]).toMatchObject({ kind: 'takeOver', order: 2 })
  })
})
