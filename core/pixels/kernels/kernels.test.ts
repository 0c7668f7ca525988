import { describe, expect, it } from 'vitest'
import { bareContext } from '#lab/support/bareContext.ts'
import { blade } from '../../effects/light/blade/blade.ts'
import { renderBlade } from '../../effects/light/blade/render.ts'
import type { Settings } from '../../parameters/parameters.ts'
import { borderModes } from '../buffers/border.ts'
import { Scratch, Slot, withRoom } from '../buffers/scratch.ts'
import { i420Layout, type Yuv } from '../buffers/yuv.ts'
import { encode8BitTable, linearOf8Bit } from '../colour/transfer.ts'
import { blurDirect } from '../filters/gaussian.ts'
import { hashed } from '../filters/noise.ts'
import { startKernels } from './engine.ts'
import { span } from './interface.ts'
import { plainKernels } from './plain.ts'
import { viewNumbers } from './station.ts'

const slots = { filled: new Slot(), yuv: new Slot(), out: new Slot(), data: new Slot(), i420: new Slot(), words: new Slot(), line: new Slot(), picture: new Slot(), cover: new Slot(), small: new Slot(), large: new Slot(), places: new Slot(), mask: new Slot(), sums: new Slot(), streams: new Slot() }

/** A scratch of each kind with the same contents. */
function both() {
  const engine = startKernels(64 * 1024 ** 2)
  expect(engine).not.toBeNull()
  return { plain: new Scratch(), fast: new Scratch(engine) }
}
const yuvIn = (scratch: Scratch, width: number, height: number, more: Partial<Yuv> = {}): Yuv => {
  const { bytes, planes } = i420Layout(width, height)
  const data = scratch.bytes(slots.yuv, bytes)
  for (let i = 0; i < bytes; i++) data[i] = 255 * hashed(i, 3)
  return { data, width, height, planes, matrix: 'bt709', range: 'limited', rotation: 0, ...more }
}

describe('the compiled kernels do what the plain ones do', () => {
  it.each([
    [64, 36, {}],
    [33, 18, {}],
    [64, 36, { rotation: 90 }],
    [64, 36, { rotation: 180, matrix: 'bt601', range: 'full' }],
    [64, 36, { rotation: 270 }],
  ] as const)('YUV of %i x %i to RGBA, whole and reduced: %j', (width, height, more) => {
    const { plain, fast } = both()
    for (const factor of [1, 2, 4] as const) {
      const words = [plain, fast].map((scratch) => {
        const out = scratch.words(slots.out, Math.ceil(width / factor) * Math.ceil(height / factor))
        const yuv = yuvIn(scratch, width, height, more)
        if (factor === 1) scratch.kernels.yuvToRgba(yuv, out)
        else scratch.kernels.yuvToReducedRgba(yuv, factor, out)
        return [...out]
      })
      words[1]!.forEach((word, i) => {
        for (const shift of [0, 8, 16, 24])
          expect(Math.abs(((word >>> shift) & 255) - ((words[0]![i]! >>> shift) & 255))).toBeLessThanOrEqual(
            factor === 1 ? 0 : 1,
          )
      })
    }
  })

  it('YUV to floats and back to I420, words to floats and back', () => {
    const { plain, fast } = both()
    const region = { x: 6, y: 4, width: 38, height: 20 }
    const [a, b] = [plain, fast].map((scratch) => {
      const { kernels } = scratch
      const yuv = yuvIn(scratch, 64, 36)
      const data = scratch.floats(slots.data, 4 * region.width * region.height)
      kernels.yuvToFloats(yuv, region, linearOf8Bit, data)
      const floats = [...data]
      const out = scratch.bytes(slots.i420, yuv.data.length).fill(7)
      for (let i = 0; i < data.length; i += 9) data[i] = 1.7
      kernels.floatsToI420({ data, region }, encode8BitTable, { data: out, width: 64, height: 36 })
      const words = scratch.words(slots.words, 100)
      words.forEach((_, i) => (words[i] = 0xff000000 | (hashed(i, 5) * 0xffffff)))
      const line = scratch.floats(slots.line, 400)
      kernels.wordsToFloats(words, 10, 90, linearOf8Bit, line, 40)
      line[44] = -3
      line[49] = 9
      kernels.floatsToWords(line, 40, 90, encode8BitTable, words, 10)
      return [floats, [...out], [...words]]
    })
    expect(b![0]).toEqual(a![0])
    expect(b![1]).toEqual(a![1])
    expect(b![2]).toEqual(a![2])
  })

  it('lines of light: mixed, enlarged, hidden, moved, laid on by Add and Screen', () => {
    const { plain, fast } = both()
    const results = [plain, fast].map((scratch) => {
      const { kernels } = scratch
      const fill = (name: string, length: number, seed: number) => {
        const out = scratch.floats(slots.filled.part(name), length)
        for (let i = 0; i < length; i++) out[i] = 1.6 * hashed(i, seed)
        return out
      }
      const [data, line, out, near, hidden, picture] = [
        fill('a', 300, 1),
        fill('b', 200, 2),
        fill('c', 250, 3),
        fill('d', 200, 4),
        fill('e', 90, 5),
        fill('f', 400, 6),
      ]
      for (let i = 0; i < 90; i++) hidden[i] = i % 3 ? Math.min(1, hidden[i]!) : 0
      kernels.mixLines(data, [3, 120], 0.25, line, 6, 107)
      kernels.enlargeLine(span(line, 6), (108 - 6) / 3, span(out, 3), 61)
      kernels.hideLine(span(out, 3), span(hidden, 5), 0.85, 61)
      kernels.addEnlargedLine(span(line, 9), span(out), 20)
      kernels.addNumbers(span(near, 7), span(out, 5), 33)
      kernels.moveNumbers(span(near, 50), span(out, 20), 41)
      kernels.addLine(span(out, 3), span(picture, 8), 40)
      kernels.screenLine(span(out, 30), span(picture, 200), 40)
      return [...line.subarray(6, 107), ...out.subarray(3, 180), ...near, ...picture]
    })
    results[1]!.forEach((value, i) => expect(value).toBeCloseTo(results[0]![i]!, 4))
  })

  it.each<[string, Settings]>([
    ['as it comes', {}],
    ['with a hard cut core and no halo', { coreEdge: 0, round: 0, halos: [] }],
    [
      'with narrow halos over a wide smear',
      {
        smear: 720,
        halos: [
          { feather: 3, strength: 1, colour: '' },
          { feather: 8, strength: 1, colour: '#ff0000' },
        ],
      },
    ],
  ])('a whole blade %s', (_, settings) => {
    const { plain, fast } = both()
    const [width, height] = [200, 120]
    const pictures = [plain, fast].map((scratch) => {
      const data = scratch.floats(slots.picture, width * height * 4, true)
      const holdout = scratch.floats(slots.cover, width * height)
      for (let i = 0; i < holdout.length; i++) holdout[i] = i % width < 60 ? 0.5 : 0
      renderBlade.draw(
        bareContext(blade, {
          ...{ settings, frame: 3, size: { width, height }, scratch },
          parts: [{ id: 'p', kind: 'rod', role: 'add', settings: {}, at: (t) => [40, 100, 150 + 3 * t, 30 + 6 * t] }],
        }),
        { data, region: { x: 7, y: -3, width, height }, holdout },
      )
      return Float32Array.from(data)
    })
    let worst = 0
    pictures[0]!.forEach((value, i) => (worst = Math.max(worst, Math.abs(value - pictures[1]![i]!))))
    // Less than the darkest 8-bit step (1 / 255 / 12.92): the plain kernels' table of the Gaussian is good to 5e-5,
    // and the core burns at 2.
    expect(worst).toBeLessThan(1 / 255 / 12.92)
    expect(Math.max(...pictures[0]!)).toBeGreaterThan(0.5)
  })

  it('and where their memory is full everything goes on with the plain ones', () => {
    const scratch = new Scratch(startKernels(2 * 1024 ** 2))
    expect(scratch.kernels).not.toBe(plainKernels)
    let tries = 0
    const large = withRoom(() => {
      tries++
      // An array of before and a kernel of now never meet: what was begun begins anew.
      const { kernels } = scratch
      const small = scratch.floats(slots.small, 64)
      const made = scratch.floats(slots.large, 4e6, true)
      kernels.addScaled(span(small), span(made), 64, 1)
      return made
    })
    expect(large.length).toBe(4e6)
    expect(tries).toBe(2)
    expect(scratch.kernels).toBe(plainKernels)
    expect(() =>
      withRoom(() => {
        throw new Error('something else')
      }),
    ).toThrow('something else')
  })

  it('fold, spread, sample, mix, tint and sum pictures', () => {
    const { plain, fast } = both()
    const [w, h] = [23, 17]
    const results = [plain, fast].map((scratch) => {
      const { kernels } = scratch
      const data = scratch.floats(slots.data, 4 * w * h)
      for (let i = 0; i < data.length; i++) data[i] = hashed(i, 7)
      const outs: number[] = []
      const out = scratch.floats(slots.out, 8 * w + 16)
      const keep = (count: number) => void outs.push(...out.subarray(0, count))
      kernels.foldRows(data, [0, 4 * w, 8 * w, 12 * w], span(out), 4 * w)
      keep(4 * w)
      kernels.foldPixels(span(data), span(out), 9)
      keep(36)
      kernels.spreadPixels(span(data), span(out), 11)
      keep(88)
      const places = scratch.floats(slots.places, 2 * w)
      for (let x = 0; x < w; x++) places.set([3 * x - 20.3, 2 * x - 13.7], 2 * x)
      for (const edge of borderModes) {
        kernels.sampleLine({ data, width: w, height: h }, { x: -5.2, y: 3.3, dx: 1.7, dy: 0.6 }, edge, span(out), w)
        keep(4 * w)
        // Shifted as a whole: beyond both sides, between two rows and on one, by whole pixels.
        for (const [x, y] of [
          [-1.3 * w, 2.8],
          [0.6 * w, 3.5],
          [-4.5, 1.5],
          [2.7, -0.2],
          [1.25, h - 0.3],
        ] as const) {
          kernels.sampleLine({ data, width: w, height: h }, { x, y, dx: 1, dy: 0 }, edge, span(out), 2 * w)
          keep(8 * w)
        }
        kernels.sampleMesh({ data, width: w, height: h }, { nodes: places, step: 4, offset: 2 }, edge, span(out), w)
        keep(4 * w)
      }
      out.fill(0.25)
      const mask = scratch.floats(slots.mask, w)
      for (let x = 0; x < w; x++) mask[x] = x % 3 ? hashed(x, 9) : 0
      kernels.layRow(true, span(data), span(out), w, 0.8, span(mask))
      kernels.layRow(false, span(data, 4 * w), span(out), w, 0.7, null)
      kernels.mixInto(span(data, 8 * w), span(out), 4 * w, 0.3)
      kernels.addTinted(span(data), span(out), w, [0.1, 0.9, -0.4, 0])
      kernels.addScaled(span(data, 4), span(out), 4 * w - 6, -0.5)
      kernels.addZoomed({ data, width: w, height: h }, { x: -2.4, dx: 0.7, y: 2.25 }, span(out, 4), 2 * w - 3, 0.6)
      kernels.addZoomed({ data, width: w, height: h }, { x: w - 5, dx: 0.9, y: h - 1.5 }, span(out), 14, -0.2)
      keep(4 * w)
      const streams = scratch.floats(slots.streams, 9)
      streams.set([0.2, 0.4, 1, 0.3, 0, 0.9, 0.1, 0.7, 0.5])
      for (const y of [-3.5, 0, 12.25])
        kernels.addStreaming(span(data, 3), { x: 0.5 - w / 2, y }, streams, [1, 0.5, 0.2], span(out), w - 1)
      keep(4 * w)
      const [front, behind] = [span(data, 4), span(data, 8 * w)]
      for (const wide of [null, span(mask)]) {
        kernels.mixChannels(span(out, 4), w - 1, [0.9, -0.3, 0.2, 0.1, 1.2, -0.4, -0.5, 0.3, 0.8])
        kernels.changeRow(front, behind, span(out), w, 0.8, wide)
        kernels.changeRow(behind, span(out), span(out), w - 5, 0.4, wide)
        keep(4 * w)
        kernels.changeOver(span(out), behind, front, wide, span(data, 12 * w), w)
        keep(4 * w)
      }
      for (const part of [null, span(mask)]) {
        kernels.screenRow(span(data, 16), span(out), w - 4, 1.4, part)
        keep(4 * w)
      }
      // Every other pixel, those at the rim named so.
      const unknown = scratch.words(slots.words, (w * h) >> 1)
      unknown.forEach((_, k) => {
        const [x, y] = [(2 * k) % w, Math.floor((2 * k) / w)]
        unknown[k] = 8 * k + (x && y && x < w - 1 && y < h - 1 ? 0 : 1)
      })
      for (const back of [false, true]) kernels.relaxPixels({ data, width: w, height: h }, unknown, back)
      outs.push(...data)
      kernels.addStretched(span(data, 8), 6, { x: -1.6, dx: 0.37 }, span(out), w, 1.3)
      keep(4 * w)
      const sums = scratch.floats(slots.sums, 4 * (w + 1))
      kernels.sumPixels(span(data), span(sums), w)
      kernels.addSpans(span(sums), 5, span(out), w - 5, 0.2)
      keep(4 * w)
      return outs
    })
    results[0]!.forEach((value, i) => expect(Math.abs(value - results[1]![i]!), `number ${i}`).toBeLessThan(2e-5))
  })

  it('let light fall on a row, by what each pixel is', () => {
    const { plain, fast } = both()
    const count = 37
    for (const root of [true, false]) {
      const [mine, its] = [plain, fast].map((scratch) => {
        const data = scratch.floats(slots.data, 4 * count)
        for (let i = 0; i < data.length; i++) data[i] = i % 4 === 3 ? 1 : 1.3 * hashed(i, 4) - 0.1
        const nodes = scratch.floats(slots.places, 12)
        for (let i = 0; i < nodes.length; i++) nodes[i] = i === 5 || i === 6 ? 0 : hashed(i, 6)
        const table = scratch.floats(slots.sums, 65)
        for (let i = 0; i < table.length; i++) table[i] = i / 640
        scratch.kernels.litRow(span(data), count, { nodes, step: 4, light: [0.9, 0.2, 0.4], table, root })
        return [...data]
      })
      mine!.forEach((value, i) => expect(Math.abs(value - its![i]!), `number ${i}`).toBeLessThan(2e-3))
      const far = mine!.filter((value, i) => Math.abs(value - its![i]!) > 2e-6).length
      // A luminance that falls on the border of two tones may be counted to either.
      expect(far).toBeLessThan(6)
    }
  })

  it('put the words of columns in order, up to the largest, any number of rows', () => {
    const width = 24
    for (const rows of [1, 2, 13, 25]) {
      const fast = startKernels(2 ** 20)
      expect(fast).not.toBeNull()
      const sorted = [null, fast].map((engine) => {
        const { buffer, start } = engine ?? { buffer: new ArrayBuffer(2 * rows * width), start: 0 }
        const data = new Uint16Array(buffer, start, rows * width)
        for (let i = 0; i < data.length; i++) data[i] = hashed(i, 7) > 0.9 ? 65535 : 65535 * hashed(i, 8)
        const given = [...data]
        ;(engine?.kernels ?? plainKernels).sortColumns(data, rows, width)
        for (let x = 0; x < width; x++) {
          const column = (of: ArrayLike<number>) => Array.from({ length: rows }, (_, k) => of[k * width + x]!)
          expect(column(data)).toEqual(column(given).sort((a, b) => a - b))
        }
        return [...data]
      })
      expect(sorted[1]).toEqual(sorted[0])
    }
  })

  it('weigh rows and columns', () => {
    const { plain, fast } = both()
    const [mine, its] = [plain, fast].map((scratch) => {
      const data = scratch.floats(slots.data, 61 * 37)
      for (let i = 0; i < data.length; i++) data[i] = hashed(i, 5) > 0.6 ? 1 : 0
      blurDirect({ data, width: 61, height: 37 }, 2.3, scratch)
      return data
    })
    for (let i = 0; i < mine!.length; i++) expect(Math.abs(mine![i]! - its![i]!)).toBeLessThan(1e-6)
  })

  it('say what a place along a rod says, in the middle of a view and across its edges', () => {
    const fast = startKernels(2 ** 20)!
    const [width, height] = [90, 70]
    const size = width * height * viewNumbers
    const [mine, its] = [new Uint8Array(size), new Uint8Array(fast.buffer, fast.start, size)]
    for (let i = 0; i < size; i++) mine[i] = i % viewNumbers === 7 ? 2.2 * hashed(i, 3) : 60 + 90 * hashed(i >> 5, i & 7)
    its.set(mine)
    const view = { x: 40, y: -12, width, height }
    let told = 0
    for (let k = 0; k < 600; k++) {
      const random = (salt: number, from: number, to: number) => from + (to - from) * hashed(k, salt)
      const turn = random(1, 0, 2 * Math.PI)
      const station = {
        ...{ cx: random(2, 30, 140), cy: random(3, -22, 68), nx: Math.cos(turn), ny: Math.sin(turn) },
        ...{ wide: random(4, 1, 14), sweep: random(5, 1.5, 22), rough: random(9, 0, 20), quick: k % 3 === 0 },
        ...{ y: random(6, -20, 270), u: random(7, 60, 200), v: random(8, 60, 200) },
      }
      const plain = plainKernels.stationSays({ ...view, data: mine }, station)
      const compiled = fast.kernels.stationSays({ ...view, data: its }, station)
      if (Number.isNaN(plain)) expect(compiled).toBeNaN()
      else expect(Math.abs(compiled - plain), `station ${k}`).toBeLessThan(1e-4)
      if (!Number.isNaN(plain)) told++
    }
    expect(told).toBeGreaterThan(300)
  })

  it('lay what stands behind beside a view, and say how much places of it look as told', () => {
    const fast = startKernels(2 ** 20)!
    const [width, height, count] = [70, 50, 36]
    const size = width * height
    const made = [null, fast].map((engine) => {
      const buffer = engine?.buffer ?? new ArrayBuffer(2 ** 18)
      const start = engine?.start ?? 0
      const kernels = engine?.kernels ?? plainKernels
      const behind = new Float32Array(buffer, start, 4 * size)
      for (let i = 0; i < behind.length; i++) behind[i] = 280 * hashed(i >> 3, i & 3) - (i % 4 === 3 ? 40 : 10)
      const data = new Uint8Array(buffer, start + 16 * size, viewNumbers * size)
      for (let i = 0; i < data.length; i++) data[i] = i % viewNumbers > 2 ? 0 : 255 * hashed(i, 4)
      for (let y = 0; y < height; y++) {
        const line = { x: 1.37 - 0.05 * y, y: y - 3.2, dx: 1.02, dy: 0.05 }
        kernels.layBehind({ data: behind, width, height }, line, { gain: 1.1, offset: -4 }, data, y * width * viewNumbers, width)
      }
      const numbers = new Float32Array(buffer, start + 24 * size, 6 * count)
      for (let i = 0; i < numbers.length; i++) {
        const [what, random] = [Math.floor(i / count), hashed(i, 6)]
        numbers[i] = what < 2 ? 40 * random - 20 : what < 5 ? 255 * random : random
      }
      const view = { data, x: 12, y: 7, width, height }
      const said = Array.from({ length: 60 }, (_, k) => {
        const at = { x: k + 5, y: 12 + 0.7 * k, dx: Math.cos(k), dy: Math.sin(k) }
        return kernels.alikeSays(view, { count, numbers, scale: 1e-3 }, at, { gain: 0.9, offset: 6 })
      })
      return { data, said }
    })
    const [mine, its] = made
    const known = Array.from({ length: size }, (_, i) => its!.data[i * viewNumbers + 7]!)
    expect(known).toEqual(Array.from({ length: size }, (_, i) => mine!.data[i * viewNumbers + 7]!))
    expect(known.filter((one) => one).length).toBeGreaterThan(size / 2)
    // What lies between two levels may be rounded to either.
    mine!.data.forEach((value, i) => expect(Math.abs(value - its!.data[i]!), `number ${i}`).toBeLessThanOrEqual(1))
    mine!.said.forEach((value, k) => expect(Math.abs(value - its!.said[k]!)).toBeLessThan(k && value < 0 ? 1e-9 : 1e-2))
    expect(new Set(mine!.said).size).toBeGreaterThan(40)
  })

  it('lay what is round, make steps and burn pixels away', () => {
    const { plain, fast } = both()
    const [mine, its] = [plain, fast].map((scratch) => {
      const { kernels } = scratch
      const [steps, count] = [40, 150]
      const table = scratch.floats(slots.small, 4 * (steps + 2))
      for (let i = 0; i < table.length; i++) table[i] = hashed(i >> 4, i & 3)
      const data = scratch.floats(slots.data, 4 * count)
      for (let i = 0; i < data.length; i++) data[i] = 1.5 * hashed(i, 3)
      for (const y of [-30, -0.5, 12.25]) kernels.layRound(table, steps, 0.6, { x: -61.5, y }, span(data), count)
      const left = scratch.floats(slots.line, count)
      for (let i = 0; i < count; i++) left[i] = hashed(i, 9)
      kernels.stepNumbers(span(left), count - 3, { from: 0.2, ramp: 0.6, low: 0.25, span: 0.5 })
      // An upright step, and one number that lies right on it.
      left[149] = 0.5
      kernels.stepNumbers(span(left, 120), 30, { from: 0, ramp: 1, low: 0.5, span: 0 })
      kernels.burnPixels(span(left), span(data), count, [0.1, 0.5, 0.2, 0.9], [3, 1, 0.5])
      return [...data, ...left]
    })
    mine!.forEach((value, i) => expect(Math.abs(value - its![i]!), `number ${i}`).toBeLessThan(2e-5))
    expect(mine!.slice(600 + 120).filter((v) => v !== 0 && v !== 1)).toEqual([])
  })

  it('take the larger number, change the light of pixels and tell what pixels know of what is behind', () => {
    const { plain, fast } = both()
    const [mine, its] = [plain, fast].map((scratch) => {
      const { kernels } = scratch
      const count = 331
      const filled = (slot: Slot, length: number, salt: number) => {
        const out = scratch.floats(slot, length)
        for (let i = 0; i < length; i++) out[i] = hashed(i, salt)
        return out
      }
      const data = filled(slots.data, 4 * count, 3)
      const behind = filled(slots.picture, 4 * count, 4)
      const hidden = filled(slots.mask, count, 5)
      for (let i = 0; i < count; i++) {
        data[4 * i + 3] = i % 3 ? 1 : hashed(i, 9)
        behind[4 * i + 3] = i % 5 ? 1 : 0.98
        hidden[i] = i % 7 ? 0 : hidden[i]!
      }
      kernels.maxNumbers(span(filled(slots.line, count, 6), 2), span(hidden, 300), 29)
      kernels.relightPixels(span(behind), count, [1.2, 0.9, 1], [-0.1, 0.05, 0.2])
      const out = scratch.floats(slots.out, 4 * count)
      const far = [0.5, 0.4, 0.6] as const
      const said = [behind, null].map((of) => {
        const there = of && span(of)
        return kernels.knownPixels(span(data), there, span(hidden), 0.02, far, span(out), count)
      })
      const opaque = kernels.knownPixels(span(data, 4), null, span(hidden, 1), 2, far, span(out, 4), 1)
      const first = [...out]
      kernels.knownPixels(span(data), span(behind), span(hidden), 0.02, far, span(out), count)
      return [...first, ...out, ...hidden, ...behind, ...said, opaque]
    })
    mine!.forEach((value, i) => expect(Math.abs(value - its![i]!), `number ${i}`).toBeLessThan(1e-6))
    expect(mine!.slice(-3)).toEqual([7, 7, 2])
  })
})
