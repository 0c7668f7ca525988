import { Slot } from '../../../pixels/buffers/scratch.ts'
import { rendererOf } from '../../effect.ts'
import { mosaic } from './mosaic.ts'

const slots = { mosaicTiles: new Slot(), mosaicSums: new Slot(), mosaicCounts: new Slot() }

export const renderMosaic = rendererOf(mosaic, {
  sampleRadius: ({ settings, scale }) => 2 * settings.size * scale + 2,
  draw({ settings, scale, size, scratch }, { data, region }) {
    const side = settings.size * scale
    const form = settings.form
    const columns = Math.ceil(size.width / side) + 3
    const tileOf = (x: number, y: number): number => {
      if (form === 'hexagon') return hexagon(x / side, y / side, columns)
      const row = Math.floor(y / (form === 'brick' ? side / 2 : side))
      const shift = form === 'brick' && row & 1 ? 0.5 : 0
      return (row + 1) * columns + Math.floor(x / side + shift) + 1
    }
    // On the plate's own grid: every scale lays the same tiles.
    const words = scratch.words(slots.mosaicTiles, region.width * region.height)
    const tiles = new Int32Array(words.buffer, words.byteOffset, words.length)
    let most = 0
    for (let y = 0, i = 0; y < region.height; y++) {
      // Rows within a row of tiles are alike.
      const alike =
        y > 0 && form !== 'hexagon' && tileOf(region.x + 0.5, region.y + y + 0.5) === tiles[i - region.width]
      if (alike) {
        tiles.copyWithin(i, i - region.width, i)
        i += region.width
        continue
      }
      for (let x = 0; x < region.width; x++, i++) {
        const tile = tileOf(region.x + x + 0.5, region.y + y + 0.5)
        tiles[i] = tile
        if (tile > most) most = tile
      }
    }
    const sums = scratch.floats(slots.mosaicSums, 4 * (most + 1), true)
    const counts = scratch.floats(slots.mosaicCounts, most + 1, true)
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
  },
})

/** Number of the hexagon (flat distance 1 between parallel sides) that holds a place: the nearest of two lattices' centres. */
function hexagon(x: number, y: number, columns: number): number {
  const tall = Math.sqrt(3)
  const one = { i: Math.round(x), j: Math.round(y / tall) }
  const other = { i: Math.floor(x), j: Math.floor(y / tall) }
  const d1 = (x - one.i) ** 2 + (y - one.j * tall) ** 2
  const d2 = (x - other.i - 0.5) ** 2 + (y - (other.j + 0.5) * tall) ** 2
  return d1 <= d2 ? 2 * ((one.j + 1) * columns + one.i + 1) : 2 * ((other.j + 1) * columns + other.i + 1) + 1
}
