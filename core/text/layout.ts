import type { ClosedPath } from '../geometry/path.ts'
import type { FaceName } from './faceNames.ts'
import { faceOf } from './faces.ts'

export interface Typesetting {
  face: FaceName
  /** Type size in pixels. */
  size: number
  /** Extra space between characters as a share of the size, and from base line to base line in sizes. */
  spacing: number
  leading: number
  align: 'left' | 'middle' | 'right'
  /** Share of the characters that are there, from the first on; the block does not move as it grows. */
  shown: number
}

/**
 * The outlines of a text of one or more lines in pixels, its block centred on (0, 0): across by its longest line, down from
 * the first line's ascent to the last one's descent. What the face does not have is left out.
 */
export function setText(text: string, { face, size, spacing, leading, align, shown }: Typesetting): ClosedPath[] {
  const { unit, ascent, descent, kerning, glyph } = faceOf(face)
  const scale = size / unit
  const lines = text.split('\n').map((line) => {
    const characters: { contours: ClosedPath[]; x: number }[] = []
    let [x, width, before] = [0, 0, '']
    for (const character of line) {
      const one = glyph(character)
      if (!one) continue
      x += kerning[before + character] ?? 0
      characters.push({ contours: one.contours, x })
      width = x + one.advance
      x = width + spacing * unit
      before = character
    }
    return { characters, width }
  })
  const longest = Math.max(0, ...lines.map((line) => line.width))
  const high = ascent + descent + (lines.length - 1) * leading * unit
  let left = Math.round(lines.reduce((sum, line) => sum + line.characters.length, 0) * shown)
  return lines.flatMap(({ characters, width }, row) => {
    const start = align === 'left' ? -longest / 2 : align === 'right' ? longest / 2 - width : -width / 2
    const base = ascent - high / 2 + row * leading * unit
    const there = characters.slice(0, Math.max(0, left))
    left -= characters.length
    return there.flatMap(({ contours, x }) =>
      contours.map((path) => path.map((v, i) => scale * (v + (i % 2 ? base : start + x)))),
    )
  })
}
