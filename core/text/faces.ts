import type { ClosedPath } from '../geometry/path.ts'
import type { FaceName } from './faceNames.ts'
import * as made from './faces.generated.ts'

export interface Face {
  /** The typeface's own name. */
  name: string
  /** Units of the type size. */
  unit: number
  /** Height above and depth below the base line. */
  ascent: number
  descent: number
  /** Distance that two characters come closer (below 0) or go apart. */
  kerning: Record<string, number>
  /** Advance and outline of a character: closed paths, x right and y down, the base line at 0. */
  glyph(character: string): { advance: number; contours: ClosedPath[] } | null
}

const known = new Map<FaceName, Face>()

/** A typeface; its outlines are unpacked as they are needed. */
export function faceOf(name: FaceName): Face {
  let face = known.get(name)
  if (!face) {
    const { glyphs, ...rest } = JSON.parse(made[name]) as Omit<Face, 'glyph'> & {
      glyphs: Record<string, [number, string]>
    }
    const unpacked = new Map<string, { advance: number; contours: ClosedPath[] }>()
    face = {
      ...rest,
      glyph(character) {
        let glyph = unpacked.get(character)
        const packed = glyphs[character]
        if (!glyph && packed) unpacked.set(character, (glyph = { advance: packed[0], contours: contoursOf(packed[1]) }))
        return glyph ?? null
      },
    }
    known.set(name, face)
  }
  return face
}

/** Closed cubic paths of SVG path data with the relative commands m, l, q and c. */
export function contoursOf(data: string): ClosedPath[] {
  const out: ClosedPath[] = []
  let [x, y] = [0, 0]
  for (const [, letter, rest] of data.matchAll(/([mlqc])([^mlqc]*)/g)) {
    const v = (rest!.match(/-?\d+/g) ?? []).map((text, i) => Number(text) + (i % 2 ? y : x))
    const path = out.at(-1)
    if (letter === 'm') out.push([v[0]!, v[1]!])
    // A straight line and a quadratic curve as the cubic ones that they are.
    else if (letter === 'l')
      path!.push(x + (v[0]! - x) / 3, y + (v[1]! - y) / 3, x + (2 * (v[0]! - x)) / 3, y + (2 * (v[1]! - y)) / 3, ...v)
    else if (letter === 'q') {
      const [cx, cy, ex, ey] = v as [number, number, number, number]
      path!.push(
        x + (2 * (cx - x)) / 3,
        y + (2 * (cy - y)) / 3,
        ex + (2 * (cx - ex)) / 3,
        ey + (2 * (cy - ey)) / 3,
        ex,
        ey,
      )
    } else path!.push(...v)
    ;[x, y] = [v.at(-2)!, v.at(-1)!]
  }
  return out
}
