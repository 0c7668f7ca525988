import { borderModes } from '../buffers/border.ts'
import { clipped, clippedLinear, clippedWorking, packedTables, placement, toVideo, type Yuv, yuvToReducedRgba } from '../buffers/yuv.ts'
import { encode8BitTable } from '../colour/transfer.ts'
import type { KernelEngine, Kernels, Span } from './interface.ts'
import { pairsOf } from './plain.ts'
import { bends, bendsFrom } from './station.ts'

/** The compiled functions: byte addresses and counts. */
export type Compiled = Record<
  | 'mixLines'
  | 'enlargeLine'
  | 'addEnlargedLine'
  | 'addNumbers'
  | 'moveNumbers'
  | 'hideLine'
  | 'addLine'
  | 'screenLine'
  | 'nearRow'
  | 'farRow'
  | 'weighRow'
  | 'foldRows'
  | 'foldPixels'
  | 'spreadPixels'
  | 'sampleLine'
  | 'sampleMesh'
  | 'mixInto'
  | 'addTinted'
  | 'layRow'
  | 'litRow'
  | 'screenRow'
  | 'relaxPixels'
  | 'addStretched'
  | 'addScaled'
  | 'addZoomed'
  | 'addStreaming'
  | 'changeOver'
  | 'changeRow'
  | 'sumPixels'
  | 'addSpans'
  | 'sortColumns'
  | 'maxNumbers'
  | 'relightPixels'
  | 'mixChannels'
  | 'layRound'
  | 'stepNumbers'
  | 'burnPixels'
  | 'layBehind'
  | 'yuvRowToRgba'
  | 'yuvRowsToReduced'
  | 'yuvRowToFloats'
  | 'floatRowsToI420'
  | 'wordsToFloats'
  | 'floatsToWords',
  (...numbers: number[]) => void
> & Record<'stationSays' | 'alikeSays' | 'knownPixels', (...numbers: number[]) => number>
export const page = 65536
/** Room for what is read of one station: three numbers of each of 68 pixels. */
const samples = new Float32Array(3 * 68)

type Numbers = Float32Array | Int32Array | Uint32Array | Uint16Array | Uint8Array

export function compiledKernels(buffer: ArrayBuffer, compiled: Compiled): KernelEngine {
  // The first page is the compiler's own; tables that never change follow, then everything else.
  let next = page
  const tables = new Map<Numbers, number>()
  /** Address of a table's copy in the memory. */
  const table = (source: Numbers): number => {
    let address = tables.get(source)
    if (address === undefined) {
      address = next
      new Uint8Array(buffer, address, source.byteLength).set(
        new Uint8Array(source.buffer, source.byteOffset, source.byteLength),
      )
      next = Math.ceil((next + source.byteLength) / 16) * 16
      tables.set(source, address)
    }
    return address
  }
  const constantBytes = 4 * page
  const place = (array: Numbers, index: number) => array.byteOffset + index * array.BYTES_PER_ELEMENT
  const start = ({ data, at }: Span) => data.byteOffset + 4 * at
  const planeAt = (yuv: Yuv, plane: number, row: number) =>
    place(yuv.data, yuv.planes[plane]!.offset + row * yuv.planes[plane]!.stride)
  const encodeAddress = table(encode8BitTable)
  const clippedAddress = table(clipped)
  const linearAddress = table(clippedLinear)
  const bendsAddress = table(bends)
  const samplesAddress = table(samples)

  const kernels: Kernels = {
    mixLines: (data, [a, b], weight, out, start, end) =>
      compiled.mixLines(place(data, a + start), place(data, b + start), weight, place(out, start), end - start),
    enlargeLine: (line, cells, out, width) => compiled.enlargeLine(start(line), start(out), pairsOf(cells, width)),
    addEnlargedLine: (line, out, pairs) => compiled.addEnlargedLine(start(line), start(out), pairs),
    addNumbers: (from, to, count) => compiled.addNumbers(start(from), start(to), count),
    weighRow: (from, step, weights, out, count) =>
      compiled.weighRow(start(from), 4 * step, place(weights, 0), weights.length - 1, start(out), count),
    moveNumbers: (from, to, count) => compiled.moveNumbers(start(from), start(to), count),
    hideLine: (line, hidden, share, width) => compiled.hideLine(start(line), start(hidden), share, width),
    addLine: (line, picture, width) => compiled.addLine(start(line), start(picture), width),
    screenLine: (line, picture, width) => compiled.screenLine(start(line), start(picture), width),
    // Written out: thousands of calls a frame, and a spread costs more than the row.
    nearRow(near, width, x, y, { ux, uy, length, half, taper, round, edge, core, halos }) {
      const [r, g, b] = core
      const rows = place(halos, 0)
      compiled.nearRow(
        start(near),
        width,
        x,
        y,
        ux,
        uy,
        length,
        half,
        taper,
        round,
        edge,
        r,
        g,
        b,
        rows,
        halos.length / 4,
      )
    },
    farRow(out, width, { v, vStep, u, uStep }, { across, along, steps, light }) {
      const [r, g, b] = light
      compiled.farRow(start(out), width, v, vStep, u, uStep, place(across, 0), place(along, 0), steps, r, g, b)
    },
    foldRows: (data, [a, b, c, d], out, count) =>
      compiled.foldRows(place(data, a), place(data, b), place(data, c), place(data, d), start(out), count),
    foldPixels: (line, out, count) => compiled.foldPixels(start(line), start(out), count),
    spreadPixels: (line, out, pairs) => compiled.spreadPixels(start(line), start(out), pairs),
    sampleLine: ({ data, width, height }, { x, y, dx, dy }, border, out, count) =>
      compiled.sampleLine(place(data, 0), width, height, x, y, dx, dy, borderModes.indexOf(border), start(out), count),
    sampleMesh({ data, width, height }, { nodes, step, offset }, border, out, count) {
      const mesh = place(nodes, 2 * Math.floor(offset / step))
      const mode = borderModes.indexOf(border)
      compiled.sampleMesh(place(data, 0), width, height, mesh, step, offset % step, mode, start(out), count)
    },
    mixInto: (from, to, count, share) => compiled.mixInto(start(from), start(to), count, share),
    addTinted: (from, to, count, [r, g, b, a]) => compiled.addTinted(start(from), start(to), count, r, g, b, a),
    layRow: (over, from, to, count, share, mask) =>
      compiled.layRow(start(from), start(to), count, share, mask ? start(mask) : 0, over ? 1 : 0),
    litRow(picture, count, { nodes, step, light, table: own, root }) {
      const [r, g, b] = light
      const tones = own.length - 1
      compiled.litRow(place(nodes, 0), step, start(picture), count, r, g, b, place(own, 0), tones, root ? 1 : 0)
    },
    screenRow: (from, to, count, share, mask) =>
      compiled.screenRow(start(from), start(to), count, share, mask ? start(mask) : 0),
    relaxPixels: ({ data, width, height }, unknown, back) =>
      compiled.relaxPixels(place(data, 0), width, height, place(unknown, 0), unknown.length, back ? 1 : 0),
    addStretched: (line, cells, { x, dx }, out, count, gain) =>
      compiled.addStretched(start(line), cells, x, dx, start(out), count, gain),
    addScaled: (from, to, count, share) => compiled.addScaled(start(from), start(to), count, share),
    addZoomed({ data, width }, { x, dx, y }, out, count, gain) {
      const row = Math.floor(y)
      compiled.addZoomed(place(data, row * width), width, y - row, x, dx, start(out), count, gain)
    },
    addStreaming: (amounts, { x, y }, table, [r, g, b], out, count) =>
      compiled.addStreaming(start(amounts), x, y, place(table, 0), table.length - 1, r, g, b, start(out), count),
    changeRow: (layer, under, to, count, opacity, mask) =>
      compiled.changeRow(start(layer), start(under), start(to), count, opacity, mask ? start(mask) : 0),
    changeOver: (front, behind, change, wide, cover, count) =>
      compiled.changeOver(start(front), start(behind), start(change), wide ? start(wide) : 0, start(cover), count),
    sumPixels: (line, out, count) => compiled.sumPixels(start(line), start(out), count),
    addSpans: (sums, length, out, count, share) => compiled.addSpans(start(sums), length, start(out), count, share),
    sortColumns: (data, rows, width) => compiled.sortColumns(place(data, 0), rows, width),
    maxNumbers: (from, to, count) => compiled.maxNumbers(start(from), start(to), count),
    mixChannels: (data, count, [rr, rg, rb, gr, gg, gb, br, bg, bb]) =>
      compiled.mixChannels(start(data), count, rr, gr, br, rg, gg, bg, rb, gb, bb),
    relightPixels: (data, count, [r, g, b], [offR, offG, offB]) =>
      compiled.relightPixels(start(data), count, r, g, b, offR, offG, offB),
    knownPixels(data, behind, hidden, seen, [r, g, b], out, count) {
      const there = behind ? start(behind) : 0
      return compiled.knownPixels(start(data), there, start(hidden), seen, r, g, b, start(out), count)
    },
    layRound: (table, steps, per, { x, y }, to, count) =>
      compiled.layRound(place(table, 0), steps, per, x, y, start(to), count),
    stepNumbers: (numbers, count, { from, ramp, low, span }) =>
      compiled.stepNumbers(start(numbers), count, from, ramp, low, span),
    burnPixels: (left, to, count, [r, g, b, a], [rimR, rimG, rimB]) =>
      compiled.burnPixels(start(left), start(to), count, r, g, b, a, rimR, rimG, rimB),
    stationSays({ data, x, y, width, height }, at) {
      const { cx, cy, nx, ny, wide, sweep, rough } = at
      const quick = at.quick ? 1 : 0
      const bent = bendsAddress + 4 * bendsFrom(at.y)
      const from = data.byteOffset
      const room = samplesAddress
      // Written out as above.
      // prettier-ignore
      return compiled.stationSays(
        from, width, height, cx - x, cy - y, nx, ny, wide, sweep, at.y, at.u, at.v, rough, quick, bent, room,
      )
    },
    alikeSays({ data, x, y, width, height }, { count, numbers, scale }, at, { gain, offset }) {
      const from = data.byteOffset
      const places = numbers.byteOffset
      const [left, top, dx, dy] = [at.x - x, at.y - y, at.dx, at.dy]
      return compiled.alikeSays(from, width, height, places, count, left, top, dx, dy, gain, offset, scale)
    },
    layBehind({ data, width, height }, { x, y, dx, dy }, { gain, offset }, view, at, count) {
      const from = place(data, 0)
      compiled.layBehind(from, width, height, x, y, dx, dy, gain, offset, place(view, at), count)
    },
    yuvToRgba(yuv, out) {
      const { start: first, across, down } = placement(yuv, yuv.width, yuv.height)
      const codes = table(packedTables(yuv.matrix, yuv.range))
      for (let row = 0; row < yuv.height; row++) {
        const [y, u, v] = [planeAt(yuv, 0, row), planeAt(yuv, 1, row >> 1), planeAt(yuv, 2, row >> 1)]
        const to = place(out, first + row * down)
        compiled.yuvRowToRgba(y, u, v, yuv.width, codes, clippedAddress, to, across)
      }
    },
    yuvToReducedRgba(yuv, factor, out) {
      // Edges that repeat are for the plain one.
      if (yuv.width % factor || yuv.height % factor) return yuvToReducedRgba(yuv, factor, out)
      const [w, h] = [yuv.width / factor, yuv.height / factor]
      const { start: first, across, down } = placement(yuv, w, h)
      const codes = table(packedTables(yuv.matrix, yuv.range))
      const cells = factor / 2
      const [yStride, chromaStride] = [yuv.planes[0]!.stride, yuv.planes[1]!.stride]
      for (let row = 0; row < h; row++) {
        const [y, u, v] = [planeAt(yuv, 0, row * factor), planeAt(yuv, 1, row * cells), planeAt(yuv, 2, row * cells)]
        const to = place(out, first + row * down)
        const from = [y, yStride, u, v, chromaStride] as const
        compiled.yuvRowsToReduced(...from, w, cells, codes, linearAddress, encodeAddress, to, across)
      }
    },
    yuvToFloats(yuv, region, working, data) {
      const codes = table(packedTables(yuv.matrix, yuv.range))
      const levels = table(clippedWorking(working))
      for (let row = 0; row < region.height; row++) {
        const py = region.y + row
        const [y, u, v] = [planeAt(yuv, 0, py), planeAt(yuv, 1, py >> 1), planeAt(yuv, 2, py >> 1)]
        const to = place(data, 4 * row * region.width)
        compiled.yuvRowToFloats(y, u, v, region.x, region.width, codes, levels, to)
      }
    },
    floatsToI420({ data, region }, back, { data: out, width, height }) {
      const chromaWidth = width >> 1
      const uStart = width * height
      const vStart = uStart + chromaWidth * (height >> 1)
      const weights = [...toVideo.y, ...toVideo.u, ...toVideo.v]
      for (let row = 0; row < region.height; row += 2) {
        const chroma = ((region.y + row) >> 1) * chromaWidth + (region.x >> 1)
        const from = place(data, 4 * row * region.width)
        const y = place(out, (region.y + row) * width + region.x)
        const [u, v] = [place(out, uStart + chroma), place(out, vStart + chroma)]
        compiled.floatRowsToI420(from, 16 * region.width, region.width, table(back), y, width, u, v, ...weights)
      }
    },
    wordsToFloats: (words, from, count, working, data, to) =>
      compiled.wordsToFloats(place(words, from), count, table(working), place(data, to)),
    floatsToWords: (data, from, count, back, words, to) =>
      compiled.floatsToWords(place(data, from), count, table(back), place(words, to)),
  }
  return { buffer, start: page + constantBytes, kernels }
}
