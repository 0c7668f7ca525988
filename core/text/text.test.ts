import { readFileSync } from 'node:fs'
import { Resvg } from '@resvg/resvg-js'
// @ts-expect-error the package brings no types
import { parse } from 'opentype.js/dist/opentype.mjs'
import { describe, expect, it } from 'vitest'
import { flatten, type ClosedPath } from '../geometry/path.ts'
import { boundsOf } from '../geometry/rect.ts'
import { coverPolygons } from '../matte/coverage.ts'
import { faceNames, missingFrom, type FaceName } from './faceNames.ts'
import { contoursOf, faceOf } from './faces.ts'
import { setText, type Typesetting } from './layout.ts'

const set = (text: string, more: Partial<Typesetting> = {}) =>
  setText(text, { face: 'poster', size: 100, spacing: 0, leading: 1.2, align: 'middle', shown: 1, ...more })
const all = (paths: ClosedPath[]) => boundsOf(paths.flatMap((path) => flatten(path, 0.1)))
const files: Partial<Record<FaceName, string>> = {
  plain: 'atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-700-normal.woff',
  poster: 'anton/files/anton-latin-400-normal.woff',
  carved: 'cinzel/files/cinzel-latin-700-normal.woff',
}

describe('words', () => {
  it.each(Object.entries(files))(
    'of the face %s lie as opentype.js sets them and cover what resvg fills',
    (face, file) => {
      const [width, height, size] = [520, 120, 90]
      const bytes = readFileSync(new URL(`../../node_modules/@fontsource/${file}`, import.meta.url))
      const font = parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength))
      const text = 'AVATo 8&g'
      const own = set(text, { face: face as FaceName, size })
      const path = font.getPath(text, 0, 0, size)
      const reference = path.getBoundingBox()
      const box = all(own)
      // Less than a fiftieth of the size of kerning is left out, and units are whole.
      expect(Math.abs(box.width - (reference.x2 - reference.x1))).toBeLessThan(2.5)
      expect(Math.abs(box.height - (reference.y2 - reference.y1))).toBeLessThan(2.5)
      // The same shapes, filled by both.
      const moved = own.map((one) => one.map((v, i) => v + (i % 2 ? height / 2 : width / 2)))
      const cover = new Float32Array(width * height)
      coverPolygons(
        moved.map((one) => flatten(one, 0.02)),
        { x: 0, y: 0, width, height },
        cover,
      )
      const d = moved
        .map((one) => {
          let part = `M${one[0]} ${one[1]}`
          for (let i = 2; i < one.length; i += 6) part += `C${one.slice(i, i + 6).join(' ')}`
          return `${part}Z`
        })
        .join('')
      const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><path d="${d}" fill="#fff"/></svg>`
      const pixels = new Resvg(svg).render().pixels
      let sum = 0
      for (let i = 0; i < cover.length; i++) sum += Math.abs(cover[i]! - pixels[4 * i + 3]! / 255)
      const area = cover.reduce((a, b) => a + b, 0)
      expect(area).toBeGreaterThan(2000)
      expect(sum / area).toBeLessThan(0.01)
    },
  )
  it('are centred on their block, and stand where they will while they are written', () => {
    const whole = set('Reed')
    const box = all(whole)
    expect(Math.abs(box.x + box.width / 2)).toBeLessThan(4)
    const half = set('Reed', { shown: 0.5 })
    expect(half).toEqual(whole.slice(0, half.length))
    expect(half.length).toBeGreaterThan(0)
    expect(set('Reed', { shown: 0 })).toEqual([])
  })
  it('of several lines stand from the left, centred or to the right, a leading apart', () => {
    const second = (align: Typesetting['align']) => {
      const [long, both] = [set('MMMM', { align }), set('MMMM\nI', { align })]
      return all(both.slice(long.length))
    }
    const long = all(set('MMMM'))
    expect(second('left').x - long.x).toBeLessThan(2)
    expect(Math.abs(second('middle').x + second('middle').width / 2)).toBeLessThan(1.5)
    expect(long.x + long.width - second('right').x - second('right').width).toBeLessThan(2)
    const [first, below] = [all(set('I\nI').slice(0, 1)), all(set('I\nI').slice(1))]
    expect(below.y - first.y).toBeCloseTo(120, 1)
  })
  it('say which characters a face does not have', () => {
    expect(missingFrom('poster', 'Fähre ж\n☃')).toEqual(['ж', '☃'])
    for (const face of Object.keys(faceNames) as FaceName[])
      expect(missingFrom(face, 'The Reed Ferry, “1234” – Öl?')).toEqual([])
  })
  it('read their outlines from SVG path data', () => {
    expect(contoursOf('m10 0l3 0l0 3q-3 0-3-3')[0]).toEqual([
      10, 0, 11, 0, 12, 0, 13, 0, 13, 1, 13, 2, 13, 3, 11, 3, 10, 2, 10, 0,
    ])
    expect(faceOf('poster').glyph('O')!.contours).toHaveLength(2)
  })
})
