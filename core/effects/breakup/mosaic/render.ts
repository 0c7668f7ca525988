import type { Rect } from '../../../geometry/rect.ts'
import { Slot } from '../../../pixels/buffers/scratch.ts'
import { span } from '../../../pixels/kernels/interface.ts'
import { type ContextOf, rendererOf } from '../../effect.ts'
import { mosaic } from './mosaic.ts'

const slots = { tiles: new Slot(), sums: new Slot(), counts: new Slot(), line: new Slot() }

/** On the plate's own grid: every scale lays the same tiles. */
export const renderMosaic = rendererOf(mosaic, {
  sampleRadius: ({ settings, scale }) => 2 * settings.size * scale + 2,
  draw(context, { data, region }) {
    if (context.settings.form === 'hexagon') layHexagons(context, data, region)
    else layRows(context, data, region)
  },
})

/** Squares and bricks: rows of them are summed as whole lines first. */
function layRows({ settings, scale, scratch }: ContextOf<typeof mosaic>, data: Float32Array, region: Rect): void {
  const { width, height } = region
  const side = settings.size * scale
  const bricks = settings.form === 'brick'
  const tall = bricks ? side / 2 : side
  const numbers = 4 * width
  const line = scratch.floats(slots.line, numbers)
  for (let y = 0; y < height;) {
    const row = Math.floor((region.y + y + 0.5) / tall)
    let below = y + 1
    while (below < height && Math.floor((region.y + below + 0.5) / tall) === row) below++
    line.fill(0)
    for (let j = y; j < below; j++) scratch.kernels.addNumbers(span(data, j * numbers), span(line), numbers)
    const shift = bricks && row & 1 ? 0.5 : 0
    for (let x = 0; x < width;) {
      const column = Math.floor((region.x + x + 0.5) / side + shift)
      let beyond = x + 1
      while (beyond < width && Math.floor((region.x + beyond + 0.5) / side + shift) === column) beyond++
      for (let c = 0; c < 4; c++) {
        let sum = 0
        for (let at = 4 * x + c; at < 4 * beyond; at += 4) sum += line[at]!
        const mean = sum / ((beyond - x) * (below - y))
        for (let at = 4 * x + c; at < 4 * beyond; at += 4) line[at] = mean
      }
      x = beyond
    }
    for (; y < below; y++) data.set(line, y * numbers)
  }
}

function layHexagons(
  { settings, scale, size, scratch }: ContextOf<typeof mosaic>,
  data: Float32Array,
  region: Rect,
): void {
  const side = settings.size * scale
  const columns = Math.ceil(size.width / side) + 3
  const words = scratch.words(slots.tiles, region.width * region.height)
  const tiles = new Int32Array(words.buffer, words.byteOffset, words.length)
  let most = 0
  for (let y = 0, i = 0; y < region.height; y++)
    for (let x = 0; x < region.width; x++, i++) {
      const tile = hexagon((region.x + x + 0.5) / side, (region.y + y + 0.5) / side, columns)
      tiles[i] = tile
      if (tile > most) most = tile
    }
  const sums = scratch.floats(slots.sums, 4 * (most + 1), true)
  const counts = scratch.floats(slots.counts, most + 1, true)
  // Run by run of one tile: its sums are written once a run.
  for (let i = 0, at = 0; i < tiles.length;) {
    const tile = tiles[i]!
    const start = i
    let [red, green, blue, alpha] = [0, 0, 0, 0]
    for (; i < tiles.length && tiles[i] === tile; i++, at += 4) {
      red += data[at]!
      green += data[at + 1]!
      blue += data[at + 2]!
      alpha += data[at + 3]!
    }
    sums[4 * tile]! += red
    sums[4 * tile + 1]! += green
    sums[4 * tile + 2]! += blue
    sums[4 * tile + 3]! += alpha
    counts[tile]! += i - start
  }
  for (let tile = 0; tile <= most; tile++)
    if (counts[tile]) for (let c = 0; c < 4; c++) sums[4 * tile + c]! /= counts[tile]!
  for (let i = 0, at = 0; i < tiles.length;) {
    const tile = tiles[i]!
    const red = sums[4 * tile]!
    const green = sums[4 * tile + 1]!
    const blue = sums[4 * tile + 2]!
    const alpha = sums[4 * tile + 3]!
    for (; i < tiles.length && tiles[i] === tile; i++, at += 4) {
      data[at] = red
      data[at + 1] = green
      data[at + 2] = blue
      data[at + 3] = alpha
    }
  }
}

/** Number of the hexagon (flat distance 1 between parallel sides) that holds a place: the nearest of two lattices' centres. */
function hexagon(x: number, y: number, columns: number): number {
  const tall = Math.sqrt(3)
  const one = { i: Math.round(x), j: Math.round(y / tall) }
  const other = { i: Math.floor(x), j: Math.floor(y / tall) }
  const d1 = (x - one.i) ** 2 + (y - one.j * tall) ** 2
  const d2 = (x - other.i - 0.5) ** 2 + (y - (other.j + 0.5) * tall) ** 2
  return d1 <= d2 ? 2 * ((one.j + 1) * columns + one.i + 1) : 2 * ((other.j + 1) * columns + other.i + 1) + 1
}
