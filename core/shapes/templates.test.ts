import { describe, expect, it } from 'vitest'
import { anchors } from './kind.ts'
import { pin } from './kinds/pin.ts'
import { partKinds } from './registry.ts'
import { templates } from './templates.ts'
import { tween } from './tween.ts'

describe('starting points of the cast', () => {
  it('are told apart by their label, and no two parts of one share a name', () => {
    expect(new Set(templates.map((one) => one.label)).size).toBe(templates.length)
    for (const { parts } of templates) {
      expect(parts.length).toBeGreaterThan(0)
      expect(new Set(parts.map((part) => part.name)).size).toBe(parts.length)
      for (const part of parts) expect(part.kind in partKinds).toBe(true)
    }
  })
})

describe('a pin', () => {
  const corners = pin.fromClicks([0, 0, 100, 10, 90, 80, -10, 70])
  it('has four corners that are dragged one by one, and an edge through them', () => {
    expect(anchors(pin, corners)).toEqual([0, 1, 2, 3])
    expect(pin.moved(corners, 2, 95, 99)).toEqual([0, 0, 100, 10, 95, 99, -10, 70])
    expect(pin.path(corners, {}).filter((_, i) => i % 6 < 2)).toEqual([...corners, 0, 0])
  })
  it('turns as a whole in its in-betweens', () => {
    const quarter = corners.map((_, i) => (i % 2 ? corners[i - 1]! : -corners[i + 1]!))
    const side = (p: readonly number[]) => Math.hypot(p[2]! - p[0]!, p[3]! - p[1]!)
    expect(side(tween(corners, quarter, 0.5, 'arc'))).toBeCloseTo(side(corners), 6)
  })
})
