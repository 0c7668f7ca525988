import { describe, expect, it } from 'vitest'
import { bareContext } from '#lab/support/bareContext.ts'
import type { Rect } from '../../geometry/rect.ts'
import { Scratch, Slot } from '../../pixels/buffers/scratch.ts'
import { shadow } from '../light/shadow/shadow.ts'
import { type Fall, fallen, fallenBounds, whoStands } from './ground.ts'

const slots = { standing: new Slot(), fallen: new Slot() }

const size = { width: 320, height: 180 }
const rect = { x: 100, y: 50, width: 60, height: 80 }
const plain = { ground: 'feet' as const, line: 0.9, lower: 0, soften: 0, fade: 0 }

/** Somebody who is a box of full cover, or what `cover` says of each of its pixels. */
function standing(settings: Partial<Omit<typeof plain, 'ground'>> & { ground?: 'feet' | 'line' } = {}, scale = 1) {
  const scratch = new Scratch()
  const box: Rect = { x: rect.x * scale, y: rect.y * scale, width: rect.width * scale, height: rect.height * scale }
  const context = bareContext(shadow, {
    ...{ settings: { ...plain, ...settings }, scale, scratch, everywhere: false, regionBounds: () => box },
    size: { width: size.width * scale, height: size.height * scale },
    region: () => new Float32Array(box.width * box.height).fill(1),
  })
  const data = scratch.floats(slots.standing, 4 * box.width * box.height, true)
  for (let i = 3; i < data.length; i += 4) data[i] = 1
  return { context, source: { data, region: box } }
}

function laid(fall: Fall, settings: Parameters<typeof standing>[0] = {}, ground = 130) {
  const { context, source } = standing(settings)
  const out = fallen(context, source, ground, fall, fallenBounds(context, fall), slots.fallen)!
  let [sum, mx, my, top, bottom] = [0, 0, 0, Infinity, -Infinity]
  for (let y = 0; y < out.region.height; y++)
    for (let x = 0; x < out.region.width; x++) {
      const v = out.data[4 * (y * out.region.width + x) + 3]!
      sum += v
      mx += v * (out.region.x + x + 0.5)
      my += v * (out.region.y + y + 0.5)
      if (v > 0.5) [top, bottom] = [Math.min(top, out.region.y + y), Math.max(bottom, out.region.y + y + 1)]
    }
  return { sum, middle: [mx / sum, my / sum] as const, top, bottom }
}

describe('What falls onto the ground', () => {
  it('is as long as it is told and leans as far, away from the viewer or towards', () => {
    const area = rect.width * rect.height
    for (const [length, lean] of [
      [-0.4, 0.7],
      [0.5, 0],
      [0.5, -1.2],
      [-0.25, 0],
    ] as const) {
      const { sum, middle, top, bottom } = laid({ length, lean })
      expect(sum / area / Math.abs(length)).toBeCloseTo(1, 1)
      // The middle of the box stands 40 pixels above its feet.
      expect(middle[0]).toBeCloseTo(130 + lean * Math.abs(length) * 40, 0)
      expect(middle[1]).toBeCloseTo(130 + length * 40, 0)
      expect(length < 0 ? bottom : top).toBe(130)
    }
  })

  it('is sharp at the feet, soft and faint at its end, and loses nothing to its softness', () => {
    const sharp = laid({ length: 0.5, lean: 0 })
    const soft = laid({ length: 0.5, lean: 0 }, { soften: 12 })
    expect(soft.sum / sharp.sum).toBeCloseTo(1, 1)
    // Half of it stays where all of it is lost at its end.
    expect(laid({ length: 0.5, lean: 0 }, { fade: 1 }).sum / sharp.sum).toBeCloseTo(0.5, 1)
  })

  it('lies under their lowest place, or where the ground is while they jump', () => {
    expect(whoStands(standing().context)!.ground).toBe(130)
    expect(whoStands(standing({ lower: 8 }).context)!.ground).toBe(138)
    expect(whoStands(standing({ ground: 'line' }).context)!.ground).toBeCloseTo(162)
    expect(whoStands(standing({}, 0.5).context)!.ground).toBe(65)
    // 32 pixels lie between their feet and the ground: their shadow begins half as far from it.
    const { top } = laid({ length: 0.1, lean: 0 }, { ground: 'line' }, 162)
    expect(top).toBeCloseTo(162 + 3.2, -1)
  })

  it('is nothing where the whole picture, or nobody, is meant', () => {
    const { context } = standing()
    expect(whoStands({ ...context, everywhere: true })).toBeNull()
    expect(whoStands({ ...context, regionBounds: () => ({ x: 0, y: 0, width: 0, height: 0 }) })).toBeNull()
    expect(whoStands({ ...context, region: (r: Rect) => new Float32Array(r.width * r.height).fill(0.3) })).toBeNull()
    expect(fallenBounds(context, { length: 0, lean: 0 }).width).toBe(0)
  })
})
