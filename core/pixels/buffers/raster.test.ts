import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { rasterMatte, shapeMatte } from '../../matte/partMatte.ts'
import { oval } from '../../shapes/kinds/oval.ts'
import { ovalOf, packed, type Raster, rasterFrom, rasterOf } from './raster.ts'
import { Scratch } from './scratch.ts'

const within = { x: 0, y: 0, width: 200, height: 160 }
/** A shape's matte as pixels of a record. */
const asRaster = (points: number[]): Raster =>
  rasterOf(
    Uint8Array.from(shapeMatteOver(points, {}), (v) => Math.round(255 * v)),
    within,
  )!
function shapeMatteOver(points: number[], settings: Record<string, number>, scale = 1): Float32Array {
  const room = { x: 0, y: 0, width: 200 * scale, height: 160 * scale }
  const matte = shapeMatte('oval', points, { feather: 0, ...settings }, scale, room)
  return spread(matte, room)
}
function spread(
  matte: { x: number; y: number; width: number; height: number; data: Float32Array },
  room: typeof within,
) {
  const out = new Float32Array(room.width * room.height)
  for (let y = 0; y < matte.height; y++)
    for (let x = 0; x < matte.width; x++) {
      const [px, py] = [matte.x + x, matte.y + y]
      if (px >= 0 && py >= 0 && px < room.width && py < room.height)
        out[py * room.width + px] = matte.data[y * matte.width + x]!
    }
  return out
}
const turned = [100, 80, 150, 100, 88, 110]

describe('A matte of pixels', () => {
  it('is kept and read back to the bit, whatever is in it', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 40 }),
        fc.integer({ min: 1, max: 40 }),
        fc.infiniteStream(fc.nat(255)),
        (width, height, stream) => {
          const data = Uint8Array.from({ length: width * height }, () => stream.next().value as number)
          const raster = { x: 3, y: 4, width, height, data }
          expect(rasterFrom(packed(raster))).toEqual(raster)
        },
      ),
      { numRuns: 60 },
    )
  })

  it('that can not be read says so', () => {
    const good = packed(asRaster(turned))
    expect(() => rasterFrom({ ...good, data: good.data.slice(0, 40) })).toThrow(/paint its frame again/)
    expect(() => rasterFrom({ ...good, width: good.width + 1 })).toThrow(/matte/)
  })

  it('is cut to what is there, and nothing is null', () => {
    const raster = asRaster(turned)
    expect(raster.width).toBeLessThan(120)
    expect(rasterOf(new Uint8Array(12), { x: 0, y: 0, width: 4, height: 3 })).toBeNull()
  })

  it('of an ellipse stands for that ellipse, to a twentieth of a pixel', () => {
    const [cx, cy, ax, ay, bx, by] = ovalOf(asRaster([100, 80, 150, 80, 100, 110])) as [
      number,
      number,
      number,
      number,
      number,
      number,
    ]
    expect(Math.hypot(cx - 100, cy - 80)).toBeLessThan(0.05)
    expect(Math.hypot(ax - cx, ay - cy)).toBeCloseTo(50, 1)
    expect(Math.hypot(bx - cx, by - cy)).toBeCloseTo(30, 1)
    expect(oval.path([cx, cy, ax, ay, bx, by], {})).toHaveLength(26)
  })

  it.each([
    [1, {}],
    [0.5, {}],
    [0.25, {}],
    [1, { grow: 6 }],
    [1, { grow: -5 }],
    [1, { feather: 9 }],
    [0.5, { feather: 9, grow: 4 }],
  ] as const)('counts like the shape it was made from, at scale %s with %o', (scale, settings) => {
    const room = { x: 0, y: 0, width: 200 * scale, height: 160 * scale }
    const own = spread(rasterMatte(asRaster(turned), settings, scale, room, new Scratch()), room)
    const shape = shapeMatteOver(turned, settings, scale)
    let worst = 0
    for (let i = 0; i < own.length; i++) worst = Math.max(worst, Math.abs(own[i]! - shape[i]!))
    expect(worst).toBeLessThan('grow' in settings ? 0.2 : 0.06)
  })
})
