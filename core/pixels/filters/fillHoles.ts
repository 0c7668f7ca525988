import type { Rgba } from '../buffers/picture.ts'
import { type Scratch, Slot } from '../buffers/scratch.ts'
import { doubleColumns, doubleRows, halveColumns, halveRows } from './pyramid.ts'

const slots = { narrow: new Slot(), small: new Slot(), tall: new Slot(), behind: new Slot(), unknown: new Slot() }

/** Sweeps on every level: what is left of a wave of the level's own size is then a few hundredths. */
const sweeps = 6

/**
 * Fills what a picture does not know from what lies around it, in place: pixels of alpha 1 are known, all others are not,
 * and 0. Afterwards all are known, but in a picture that knew nothing. What is filled is as smooth as its edge allows:
 * Laplace's equation, as in Pérez, Gangnet and Blake, "Poisson Image Editing", SIGGRAPH 2003, with nothing to guide it. A
 * slope goes on through a hole, and what moves on the edge hardly moves the inside.
 *
 * Solved from coarse to fine over a pyramid ([1 3 3 1] on the way down, linear on the way up), with sweeps of
 * Gauss and Seidel over the unknown pixels of every level. The data comes from the scratch.
 */
export function fillHoles(picture: Rgba, scratch: Scratch): void {
  fillLevel(picture, scratch, 0)
}

function fillLevel(picture: Rgba, scratch: Scratch, level: number): void {
  const { data, width, height } = picture
  if (!(width > 2 || height > 2)) return fillSmallest(data)
  const narrow = halveRows(picture, 'stretched', scratch, slots.narrow.part(level))
  const small = halveColumns(narrow, 'stretched', scratch, slots.small.part(level))
  // A cell counts by what is known of it.
  for (let i = 0; i < 4 * small.width * small.height; i += 4) {
    const known = small.data[i + 3]!
    const share = known >= 0.5 ? 1 / known : 0
    for (let c = 0; c < 4; c++) small.data[i + c]! *= share
  }
  fillLevel(small, scratch, level + 1)
  const tall = { data: scratch.floats(slots.tall, 4 * small.width * height), width: small.width, height }
  doubleColumns(small, tall, 'stretched', scratch)
  const behind = { data: scratch.floats(slots.behind, 4 * width * height), width, height }
  doubleRows(tall, behind, 'stretched', scratch)
  const unknown = scratch.words(slots.unknown, width * height)
  let count = 0
  for (let y = 0, i = 0; y < height; y++) {
    const atRim = y === 0 || y === height - 1
    for (let x = 0; x < width; x++, i += 4)
      if (data[i + 3]! < 1) {
        // The lowest bit tells who has no neighbour on some side: numbers of pixels have it free.
        unknown[count++] = atRim || x === 0 || x === width - 1 ? i + 1 : i
        for (let c = 0; c < 4; c++) data[i + c] = behind.data[i + c]!
      }
  }
  for (let sweep = 0; sweep < sweeps; sweep++)
    scratch.kernels.relaxPixels(picture, unknown.subarray(0, count), sweep % 2 > 0)
}

/** The smallest picture: one mean of all that is known. */
function fillSmallest(data: Float32Array): void {
  const sums = [0, 0, 0, 0]
  for (let i = 0; i < data.length; i++) sums[i & 3]! += data[i]!
  if (sums[3]! <= 0) return
  for (let i = 0; i < data.length; i += 4)
    if (data[i + 3]! < 1) for (let c = 0; c < 4; c++) data[i + c] = sums[c]! / sums[3]!
}
