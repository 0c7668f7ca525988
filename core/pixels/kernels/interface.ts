import type { Rect } from '../../geometry/rect.ts'
import type { BorderMode } from '../buffers/border.ts'
import type { Plane, Rgba, RgbaArea } from '../buffers/picture.ts'
import type { I420, Yuv } from '../buffers/yuv.ts'
import type { ByteView, Station } from './station.ts'

/**
 * The inner loops of the pixel work. There are two of a kind: plain TypeScript, which runs everywhere and says what
 * is meant, and WebAssembly with SIMD (kernels/index.ts), several times as fast, for arrays of one shared memory.
 * Lines of light are RGB, pictures RGBA; places and counts are in numbers, widths in pixels.
 */
export interface Kernels {
  /** Numbers start..end of the lines that begin at `rows` of `data`, mixed by `weight` of the second, into `out`. */
  mixLines(
    data: Float32Array,
    rows: readonly [number, number],
    weight: number,
    out: Float32Array,
    start: number,
    end: number,
  ): void
  /**
   * Enlarges RGB `cells` by 2. The first written pair lies between the first cell and the next one. Left pixels are 3/4 the
   * left cell, right ones 3/4 the right. `out` has room for 12 numbers more than `width` pixels.
   */
  enlargeLine(line: Span, cells: number, out: Span, width: number): void
  /** The same from an even cell on, added to `pairs` pairs of pixels. */
  addEnlargedLine(line: Span, out: Span, pairs: number): void
  /** to += from. */
  addNumbers(from: Span, to: Span, count: number): void
  /** to += from, and from = 0. */
  moveNumbers(from: Span, to: Span, count: number): void
  /** out[i] = sum of weights[|k|] * from[i + k * step] for k from -reach to reach, where weights has reach + 1 numbers. */
  weighRow(from: Span, step: number, weights: Float32Array, out: Span, count: number): void
  /** A line of light times 1 - hidden * share. */
  hideLine(line: Span, hidden: Span, share: number, width: number): void
  /** A line of light onto a picture: Add, or Screen (light cut at 1, a picture beyond 1 left alone). */
  addLine(line: Span, picture: Span, width: number): void
  screenLine(line: Span, picture: Span, width: number): void
  /** Core and narrow halos of a rod along a row; `x`, `y` of the first pixel from the heel. See {@link NearLight}. */
  nearRow(near: Span, width: number, x: number, y: number, light: NearLight): void
  /** A wide halo along a row of cells, from its two tables read along the line. */
  farRow(out: Span, width: number, line: TableLine, far: FarLight): void
  /** RGBA cells from four rows: (a + d) / 8 + 3 (b + c) / 8, `count` numbers (a multiple of 4). */
  foldRows(data: Float32Array, rows: readonly [number, number, number, number], out: Span, count: number): void
  /** The same along a row: cell i from the four pixels from number 8 i on. */
  foldPixels(line: Span, out: Span, count: number): void
  /** Pairs of RGBA pixels between neighbouring cells: 3/4 of the one and 1/4 of the other, and the other way round. */
  spreadPixels(line: Span, out: Span, pairs: number): void
  /** Bilinear samples of an RGBA picture at `count` places on a line (pixel centres at +0.5). */
  sampleLine(source: Rgba, line: Line, border: BorderMode, out: Span, count: number): void
  /** The same at places between the nodes of a mesh. */
  sampleMesh(source: Rgba, mesh: MeshLine, border: BorderMode, out: Span, count: number): void
  /** to += (from - to) * share; `count` a multiple of 4. */
  mixInto(from: Span, to: Span, count: number, share: number): void
  /** to += from * tint, per RGBA pixel. */
  addTinted(from: Span, to: Span, count: number, tint: readonly [number, number, number, number]): void
  /** RGBA pixels laid on with Normal (`over`) or Add, each at `share` times its mask. */
  layRow(over: boolean, from: Span, to: Span, count: number, share: number, mask: Span | null): void
  /** Light that falls on a row of a picture. See {@link FallenLight}. */
  litRow(picture: Span, count: number, light: FallenLight): void
  /** RGBA pixels laid on with Screen, each at `share` times its mask: light cut at 1, a picture beyond 1 left alone. */
  screenRow(from: Span, to: Span, count: number, share: number, mask: Span | null): void
  /**
   * Draws pixels of a picture towards the mean of their four neighbours, one after the other, from the first to the last or
   * `back`. `unknown`: the first of their numbers, 1 more for those at the rim, which stand in for what they lack.
   */
  relaxPixels(picture: Rgba, unknown: Uint32Array, back: boolean): void
  /** Adds a line of RGBA cells, straight between their middles, times `gain`: from place `x` on by `dx`. Nothing lies beyond it. */
  addStretched(line: Span, cells: number, places: { x: number; dx: number }, out: Span, count: number, gain: number): void
  /** to += from * share. */
  addScaled(from: Span, to: Span, count: number, share: number): void
  /**
   * out += gain times what a plane is at places along a row (numbers lie at whole places), straight between its numbers; past its
   * sides its outermost numbers go on. `y` from 0 on, before its last row.
   */
  addZoomed(plane: Plane, place: { x: number; dx: number; y: number }, out: Span, count: number, gain: number): void
  /**
   * Light that streams from a point, onto the colours of RGBA pixels: `amounts` of it (less than 1e-4 is none) times what `table` says of
   * the direction, in equal steps from -0.5 to 0.5 turns, both ends in it. `from`: the first pixel from the point.
   */
  addStreaming(amounts: Span, from: { x: number; y: number }, table: Float32Array, light: Rgb, out: Span, count: number): void
  /**
   * Adds to RGBA pixels what it changes in others, `under` (which may be the same), that a layer is laid on those with Normal: each at
   * its mask's share of `opacity`. Alpha stays within 1.
   */
  changeRow(layer: Span, under: Span, to: Span, count: number, opacity: number, mask: Span | null): void
  /**
   * RGBA pixels of a frame where an effect reaches over those in front: there less of them is left than their matte `cover` says.
   * `behind`: without them; `change`: what the effect changes in that, where `wide` says (null for everywhere).
   */
  changeOver(front: Span, behind: Span, change: Span, wide: Span | null, cover: Span, count: number): void
  /** Running sums of RGBA pixels: out[i + 1] = out[i] + line[i] from 0 on. */
  sumPixels(line: Span, out: Span, count: number): void
  /** out[i] += (sums[i + length] - sums[i]) * share, per RGBA pixel. */
  addSpans(sums: Span, length: number, out: Span, count: number, share: number): void
  /** Puts the words of every column of so many rows in order, the least first. `width`: a multiple of 8. */
  sortColumns(data: Uint16Array, rows: number, width: number): void
  /** to = the larger one of from and to. */
  maxNumbers(from: Span, to: Span, count: number): void
  /** RGB of RGBA pixels times a matrix, row by row; nothing of it less than 0. */
  mixChannels(data: Span, count: number, matrix: Nine): void
  /** Premultiplied RGBA pixels in another light: each colour times its gain, plus its offset. */
  relightPixels(data: Span, count: number, gain: Rgb, offset: Rgb): void
  /**
   * What RGBA pixels know of what stands behind somebody, into `out`: themselves, less `behind` where it is given, with alpha 1;
   * nothing where they are `hidden` by more than `seen`, further off from what is behind than `far`, or that does not know the
   * place (alpha up to 0.99). Returns 1 where any are hidden, plus 2 where any are known, plus 4 where something hidden is clear.
   */
  knownPixels(
    data: Span,
    behind: Span | null,
    hidden: Span,
    seen: number,
    far: Rgb,
    out: Span,
    count: number,
  ): number
  /**
   * Lays what hangs on the distance from a point alone over a row of RGBA pixels: `table` has it, premultiplied, at `steps` + 1
   * distances that lie 1 / `per` pixels apart, straight between them, and room for one more; its last holds on. `from`: the
   * first pixel from the point.
   */
  layRound(
    table: Float32Array,
    steps: number,
    per: number,
    from: { x: number; y: number },
    to: Span,
    count: number,
  ): void
  /** Numbers made smooth steps, in place. See {@link SmoothStep}. */
  stepNumbers(numbers: Span, count: number, step: SmoothStep): void
  /** RGBA pixels towards one colour by how much of them is left, with the rim's light where some is: 4 left (1 - left). */
  burnPixels(left: Span, to: Span, count: number, colour: readonly [...Rgb, alpha: number], rim: Rgb): void
  /** How well a rod at a place explains what is seen there. See {@link Station}. */
  stationSays(view: ByteView, station: Station): number
  /**
   * How much places of a view look like what is told of them, 0 to 1: the mean of 1 / (1 + difference^2), by what each tells; -1
   * where hardly any can be seen. `at`: where their (0, 0) lies, and the way that `along` goes there.
   */
  alikeSays(view: ByteView, places: PlacesLook, at: Line, light: { gain: number; offset: number }): number
  /**
   * Lays what stands behind beside what is seen along a row of `count` pixels of a view's bytes from `at` on (see {@link ByteView}):
   * colours, brightness in the light of the view, deviation. `behind`: y, u, v and deviation (in parts) a pixel, that below 0 where
   * nothing is known; read straight between pixels, whose upper left corners lie at whole places of the line.
   */
  layBehind(
    behind: Rgba,
    line: Line,
    light: { gain: number; offset: number },
    view: Uint8Array,
    at: number,
    count: number,
  ): void
  yuvToRgba(yuv: Yuv, out: Uint32Array): void
  yuvToReducedRgba(yuv: Yuv, factor: 2 | 4, out: Uint32Array): void
  yuvToFloats(yuv: Yuv, region: Rect, working: Float32Array, data: Float32Array): void
  floatsToI420(area: RgbaArea, table: Uint8Array, out: I420): void
  /** Opaque encoded words to RGBA floats through 256 working values, and back through a table of the encoder. */
  wordsToFloats(
    words: Uint32Array,
    from: number,
    count: number,
    working: Float32Array,
    data: Float32Array,
    to: number,
  ): void
  floatsToWords(
    data: Float32Array,
    from: number,
    count: number,
    table: Uint8Array,
    words: Uint32Array,
    to: number,
  ): void
}

/** Numbers of an array from the one at `at` on. */
export interface Span {
  data: Float32Array
  at: number
}
export const span = (data: Float32Array, at = 0): Span => ({ data, at })

/** A matrix of three rows. */
export type Nine = readonly [number, number, number, number, number, number, number, number, number]
export type Rgb = readonly [red: number, green: number, blue: number]

/** u^2 (3 - 2 u) for u = (order - low) / span within 0 to 1, of order = (number - from) / ramp within 0 to 1. */
export interface SmoothStep {
  from: number
  ramp: number
  low: number
  span: number
}

/** What places around a point look like: `count` (a multiple of 4) times along, across, y, u, v and how much each tells. */
export interface PlacesLook {
  count: number
  numbers: Float32Array
  /** 1 over the square of the difference that makes a place half alike. */
  scale: number
}

/** Places on a line, a step apart. */
export interface Line {
  x: number
  y: number
  dx: number
  dy: number
}

/** Nodes (x, y pairs) `step` pixels apart; the first pixel lies `offset` pixels after the first node. */
export interface MeshLine {
  nodes: Float32Array
  step: number
  offset: number
}

/** Where a row of cells reads the tables of {@link FarLight}: across at v, along at u, and a step of each a cell. */
export interface TableLine {
  v: number
  vStep: number
  u: number
  uStep: number
}

/** A rod's own light; lengths in pixels. `halos`: per halo its sigma and its light R, G, B at the peak of `across`. */
export interface NearLight {
  ux: number
  uy: number
  length: number
  half: number
  taper: number
  round: number
  edge: number
  core: readonly [number, number, number]
  halos: Float32Array
}
/**
 * Light on a row of pixels: how much of it is there at `nodes`, `step` pixels apart and straight between them, one more than the
 * row reaches; its colour. A pixel takes it by its own colour, and by `table` at its luminance (0 to 1, in equal steps of its
 * square root where `root`) beside that. Less than 0.002 is none.
 */
export interface FallenLight {
  nodes: Float32Array
  step: number
  light: readonly [number, number, number]
  table: Float32Array
  root: boolean
}
/** A wide halo: tables of `steps` spans across the rod and of `2 * steps` along it. */
export interface FarLight {
  across: Float32Array
  along: Float32Array
  steps: number
  light: readonly [number, number, number]
}

/** Where kernels find their arrays: everything they are given must lie in `buffer`. */
export interface KernelEngine {
  buffer: ArrayBuffer
  /** First byte that is free. */
  start: number
  kernels: Kernels
}
