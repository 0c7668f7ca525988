import { describe, expect, it } from 'vitest'
import { bareContext } from '#lab/support/bareContext.ts'
import type { Settings } from '../../../parameters/parameters.ts'
import type { TracedPart } from '../../../shapes/traced.ts'
import { blade } from './blade.ts'
import { renderBlade } from './render.ts'

const rod = (at: TracedPart['at'], reach = 0): TracedPart => ({
  id: 'p',
  kind: 'rod',
  role: 'add',
  settings: { widthHeel: 8, widthTip: 8, reach },
  at,
})

const contextOf = (settings: Settings, part: TracedPart, frame = 0) =>
  bareContext(blade, { settings: { flicker: 0, spill: 0, ...settings }, parts: [part], frame })

function draw(
  settings: Settings,
  part: TracedPart,
  options: {
    scale?: number
    width?: number
    height?: number
    frame?: number
    blend?: 'add' | 'screen'
    hold?: number
    plate?: number
  } = {},
) {
  const { scale = 1, frame = 0, blend = 'add' } = options
  const width = (options.width ?? 320) * scale
  const height = (options.height ?? 200) * scale
  const context = { ...contextOf(settings, part, frame), blend, scale }
  const data = new Float32Array(width * height * 4).fill(options.plate ?? 0)
  const region = { x: 0, y: 0, width, height }
  const holdout = options.hold === undefined ? null : new Float32Array(width * height).fill(options.hold)
  renderBlade.draw(context, { data, region, holdout })
  return {
    at: (x: number, y: number, c = 0) => data[4 * (Math.floor(y) * width + Math.floor(x)) + c]!,
    data,
    width,
    height,
    bounds: renderBlade.bounds!(context),
  }
}

const bare = { coreWidth: 10, coreEdge: 0, brightness: 0, taper: 0, smear: 0, outside: '#ffffff' }
const long = rod(() => [-500, 100.5, 900, 100.5])

/** Independent truth: a box of width w convolved with a Gaussian, by direct summation. */
function blurredBox(v: number, w: number, sigma: number): number {
  let sum = 0
  const n = 4000
  for (let i = 0; i < n; i++) {
    const t = -w / 2 + ((i + 0.5) * w) / n
    sum += (Math.exp(-((v - t) ** 2) / (2 * sigma * sigma)) / (sigma * Math.sqrt(2 * Math.PI))) * (w / n)
  }
  return sum
}

describe('blade', () => {
  it.each([3, 10, 20, 30, 60, 120])(
    'a halo of feather %i has the profile of a blurred rod, its strength in the middle',
    (feather) => {
      const picture = draw({ ...bare, halos: [{ feather, strength: 0.5, colour: '' }] }, long)
      const sigma = feather / 2
      const peak = blurredBox(0, 10, sigma)
      for (const v of [0, 0.5, 1, 1.5, 2].map((k) => Math.round(k * sigma))) {
        if (v > 95) continue
        expect(picture.at(160, 100 + v)).toBeCloseTo((0.5 * blurredBox(v, 10, sigma)) / peak, 2)
      }
    },
  )

  it.each([0, 1, 7])('lies where the rod is, to a hundredth of a pixel, in a region that starts at %i', (start) => {
    const context = {
      ...contextOf(
        { ...bare, halos: [{ feather: 40, strength: 1, colour: '' }] },
        rod(() => [160.25, -900, 160.25, 900]),
      ),
      scale: 1,
    }
    const data = new Float32Array(300 * 4 * 4)
    renderBlade.draw(context, { data, region: { x: start, y: start, width: 300, height: 4 }, holdout: null })
    let [sum, moment] = [0, 0]
    for (let x = 0; x < 300; x++) {
      sum += data[4 * (600 + x)]!
      moment += data[4 * (600 + x)]! * (x + start + 0.5)
    }
    expect(Math.abs(moment / sum - 160.25)).toBeLessThan(0.01)
  })

  it('looks at half size like the full picture made smaller', () => {
    const moving = rod((t) => [60 + 20 * t, 150, 200 + 60 * t, 40 + 10 * t])
    const full = draw({}, moving)
    const half = draw({}, moving, { scale: 0.5 })
    let worst = 0
    for (let y = 0; y < half.height; y++) {
      for (let x = 0; x < half.width; x++) {
        const mean =
          (full.at(2 * x, 2 * y) +
            full.at(2 * x + 1, 2 * y) +
            full.at(2 * x, 2 * y + 1) +
            full.at(2 * x + 1, 2 * y + 1)) /
          4
        worst = Math.max(worst, Math.abs(Math.min(1, mean) - Math.min(1, half.at(x, y))))
      }
    }
    expect(worst).toBeLessThan(0.08)
  })

  it('light from a blade beyond the edge of the frame falls into it', () => {
    const picture = draw(
      { ...bare, halos: [{ feather: 60, strength: 1, colour: '' }] },
      rod(() => [0, -20, 320, -20]),
    )
    expect(picture.at(160, 0)).toBeGreaterThan(0.5)
    expect(picture.at(160, 0)).toBeGreaterThan(picture.at(160, 20))
  })

  it('burns the core along the rod, with reach past the tip and not behind the heel', () => {
    const settings = { brightness: 2, coreWidth: 10, coreEdge: 1, halos: [] }
    const short = draw(
      settings,
      rod(() => [100, 100, 200, 100]),
    )
    const reaching = draw(
      settings,
      rod(() => [100, 100, 200, 100], 60),
    )
    expect(short.at(150, 100)).toBeCloseTo(2, 3)
    expect(short.at(240, 100)).toBe(0)
    expect(reaching.at(240, 100)).toBeCloseTo(2, 3)
    expect(reaching.at(80, 100)).toBe(0)
  })

  it('is put out by length, and dark at strength zero', () => {
    const half = draw(
      {
        lit: {
          keys: [
            { frame: 0, value: 0, ease: 'straight' },
            { frame: 10, value: 1, ease: 'straight' },
          ],
        },
        halos: [],
      },
      rod(() => [100, 100, 200, 100]),
      { frame: 5 },
    )
    expect(half.at(130, 100)).toBeGreaterThan(1)
    expect(half.at(170, 100)).toBe(0)
    const dark = draw({ strength: 0 }, long)
    expect(dark.data.some((v) => v !== 0)).toBe(false)
    expect(dark.bounds.width).toBe(0)
  })

  it('smears over the open shutter: the light is spread, not multiplied', () => {
    const settings = { coreWidth: 8, coreEdge: 1, halos: [], brightness: 1, taper: 0 }
    const still = draw(
      { ...settings, smear: 0 },
      rod(() => [160, 20, 160, 180]),
    )
    const moving = draw(
      { ...settings, smear: 180 },
      rod((t) => [160 + 80 * t, 20, 160 + 80 * t, 180]),
    )
    const row = (p: typeof still) => Array.from({ length: 320 }, (_, x) => p.at(x, 100))
    const sum = (list: number[]) => list.reduce((a, b) => a + b, 0)
    expect(sum(row(moving)) / sum(row(still))).toBeCloseTo(1, 2)
    // 180 degrees of 80 px a frame are 40 px of travel: an 8 px core over 40 px has a fifth of its light, and half
    // of that is passed exactly 20 px to either side of the middle.
    const lit = row(moving)
      .map((v, x) => (v > 0.1 ? x : -1))
      .filter((x) => x >= 0)
    expect(Math.abs(lit[0]! - 140)).toBeLessThanOrEqual(2)
    expect(Math.abs(lit.at(-1)! - 179)).toBeLessThanOrEqual(2)
    // Flat in the middle: no separate images of the rod.
    const middle = row(moving).slice(148, 172)
    expect(Math.max(...middle) - Math.min(...middle)).toBeLessThan(0.02)
  })

  it('a holdout hides it; spill lets some of the wide halos through', () => {
    expect(draw({}, long, { hold: 1 }).data.some((v) => v !== 0)).toBe(false)
    const spilled = draw(
      { spill: 0.5, brightness: 0, halos: [{ feather: 60, strength: 0.4, colour: '' }], outside: '#ffffff' },
      long,
      { hold: 1 },
    )
    expect(spilled.at(160, 100)).toBeCloseTo(0.2, 2)
  })

  it('Add sums, Screen never passes full', () => {
    const settings = { ...bare, brightness: 0.5, inside: '#ffffff', halos: [] }
    expect(draw(settings, long, { plate: 0.4 }).at(160, 100)).toBeCloseTo(0.9, 3)
    // W3C Compositing 1: Screen = Cb + Cs - Cb Cs.
    expect(draw(settings, long, { plate: 0.4, blend: 'screen' }).at(160, 100)).toBeCloseTo(0.4 + 0.5 - 0.2, 3)
    expect(draw({ ...settings, brightness: 9 }, long, { plate: 0.4, blend: 'screen' }).at(160, 100)).toBeCloseTo(1, 5)
  })

  it('flickers the same way for the same seed and otherwise for another', () => {
    const at = (frame: number, seed: number) => draw({ flicker: 0.5, seed }, long, { frame }).at(160, 100)
    expect(at(3, 1)).toBe(at(3, 1))
    expect(new Set([at(3, 1), at(4, 1), at(3, 2)]).size).toBe(3)
  })

  it('turns its colour towards the tip, and laid in pieces is as bright as in one', () => {
    const part = rod(() => [40, 100.5, 280, 100.5])
    const plain = {
      ...bare,
      outside: '#ff0000',
      halos: [
        { feather: 6, strength: 0.7, colour: '' },
        { feather: 40, strength: 0.4, colour: '' },
      ],
    }
    const [whole, turned] = [draw(plain, part), draw({ ...plain, turns: 1, second: '#ff00ff' }, part)]
    for (let x = 20; x < 300; x += 7)
      for (const y of [97, 100, 110, 125]) expect(Math.abs(turned.at(x, y) - whole.at(x, y))).toBeLessThan(2e-3)
    const blue = (x: number) => turned.at(x, 110, 2) / turned.at(x, 110)
    expect(blue(60)).toBeLessThan(0.2)
    expect(blue(160)).toBeCloseTo(0.5, 1)
    expect(blue(260)).toBeGreaterThan(0.8)
  })

  it('takes on any number of colours on its way', () => {
    const way = { outside: '#ff0000', between: [{ at: 0.5, colour: '#00ff00' }], second: '#0000ff' }
    const made = draw(
      { ...bare, ...way, halos: [{ feather: 12, strength: 0.7, colour: '' }] },
      rod(() => [40, 100.5, 280, 100.5]),
    )
    const share = (x: number, c: number) =>
      made.at(x, 104, c) / (made.at(x, 104) + made.at(x, 104, 1) + made.at(x, 104, 2))
    expect(share(50, 0)).toBeGreaterThan(0.8)
    expect(share(160, 1)).toBeGreaterThan(0.8)
    expect(share(270, 2)).toBeGreaterThan(0.8)
  })

  it('has a line of its own colour around the core where it is told to', () => {
    const settings = { ...bare, brightness: 1, inside: '#ffffff', outside: '#0000ff', halos: [] }
    const lined = draw({ ...settings, line: 4 }, long)
    // The core is 10 px thick about y 100.5, the line 4 px more on either side.
    expect(lined.at(160, 107)).toBeLessThan(0.01)
    expect(lined.at(160, 107, 2)).toBeGreaterThan(0.95)
    expect(lined.at(160, 112, 2)).toBeLessThan(0.01)
    expect(draw(settings, long).at(160, 107, 2)).toBeLessThan(0.01)
  })

  it('burns unevenly about the same light, in flames that flow to the tip, the same for the same seed', () => {
    const row = (settings: Settings, frame = 0) => {
      const picture = draw({ ...bare, brightness: 1, halos: [], ...settings }, long, { frame, width: 1200 })
      return Array.from({ length: 1000 }, (_, x) => picture.at(x, 100))
    }
    const mean = (list: number[]) => list.reduce((a, b) => a + b, 0) / list.length
    const burning = row({ burning: 0.8, flow: 0 })
    const many = Array.from({ length: 12 }, (_, seed) => mean(row({ burning: 0.8, flow: 0, seed })))
    expect(Math.abs(mean(many) - 1), many.join()).toBeLessThan(0.15)
    expect(Math.max(...burning) - Math.min(...burning)).toBeGreaterThan(0.8)
    expect(row({ burning: 0.8, flow: 0 })).toEqual(burning)
    const crackling = [0, 1].map((frame) => row({ crackle: 1 }, frame))
    expect(Math.max(...crackling[0]!)).toBeGreaterThan(3)
    expect(crackling[0]).not.toEqual(crackling[1])
  })

  it('reaches as far as its light is visible, and no farther than told', () => {
    const part = rod(() => [600, 500, 700, 400])
    const picture = draw({}, part, { width: 1280, height: 800 })
    const { x, y, width, height } = picture.bounds
    let outside = 0
    for (let py = 0; py < 800; py += 3)
      for (let px = 0; px < 1280; px += 3)
        if (px < x || py < y || px >= x + width || py >= y + height) outside = Math.max(outside, picture.at(px, py, 2))
    // A tenth of the darkest sRGB step, which is 1 / 255 / 12.92.
    expect(outside).toBeLessThan(0.1 / 255 / 12.92)
  })
})
