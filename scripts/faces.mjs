// npm run faces: writes the outlines of the shipped typefaces, from their packages, as a module that core can read.
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { root } from './install.mjs'

const opentype = await import(pathToFileURL(join(root, 'node_modules/opentype.js/dist/opentype.mjs')).href)
/** All under the SIL Open Font License. */
const faces = {
  plain: ['Atkinson Hyperlegible Next', 'atkinson-hyperlegible-next', 'latin-700-normal'],
  poster: ['Anton', 'anton', 'latin-400-normal'],
  carved: ['Cinzel', 'cinzel', 'latin-700-normal'],
  typed: ['Courier Prime', 'courier-prime', 'latin-700-normal'],
  written: ['Caveat', 'caveat', 'latin-700-normal'],
}
const codes = [
  ...Array.from({ length: 95 }, (_, i) => 32 + i),
  ...Array.from({ length: 96 }, (_, i) => 160 + i),
  ...[0x152, 0x153, 0x178, 0x2013, 0x2014, 0x2018, 0x2019, 0x201a, 0x201c, 0x201d, 0x201e, 0x2022, 0x2026, 0x20ac],
]

/** An outline as SVG path data, relative and in whole font units, y down. */
function pathOf(path) {
  let [x, y] = [0, 0]
  const step = (letter, ...points) => {
    const numbers = points.map((v, i) => Math.round(v) - (i % 2 ? y : x))
    ;[x, y] = points.slice(-2).map(Math.round)
    return letter + numbers.join(' ')
  }
  return path.commands
    .map((c) => {
      if (c.type === 'M') return step('m', c.x, c.y)
      if (c.type === 'L') return step('l', c.x, c.y)
      if (c.type === 'Q') return step('q', c.x1, c.y1, c.x, c.y)
      return c.type === 'C' ? step('c', c.x1, c.y1, c.x2, c.y2, c.x, c.y) : ''
    })
    .join('')
    .replaceAll(' -', '-')
}

const entries = Object.entries(faces).map(([id, [name, folder, file]]) => {
  const bytes = readFileSync(join(root, `node_modules/@fontsource/${folder}/files/${folder}-${file}.woff`))
  const font = opentype.parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength))
  const glyphs = {}
  const known = []
  for (const code of codes) {
    const glyph = font.charToGlyph(String.fromCharCode(code))
    if (!glyph || glyph.index === 0) continue
    known.push([String.fromCharCode(code), glyph])
    glyphs[String.fromCharCode(code)] = [Math.round(glyph.advanceWidth), pathOf(glyph.getPath(0, 0, font.unitsPerEm))]
  }
  const kerning = {}
  for (const [a, left] of known)
    for (const [b, right] of known) {
      const by = Math.round(font.getKerningValue(left, right))
      // Less than a fiftieth of the size is not seen.
      if (Math.abs(by) >= font.unitsPerEm / 50) kerning[a + b] = by
    }
  return [
    id,
    JSON.stringify({ name, unit: font.unitsPerEm, ascent: font.ascender, descent: -font.descender, kerning, glyphs }),
  ]
})
const made = '// Made by npm run faces from the packages of the typefaces.\n'
const outlines = entries.map(([id, json]) => `export const ${id} =\n  ${JSON.stringify(json)}\n`)
writeFileSync(join(root, 'core/text/faces.generated.ts'), made + outlines.join(''))
const characters = entries.map(([id, json]) => {
  const { name, glyphs } = JSON.parse(json)
  return `  ${id}: { name: ${JSON.stringify(name)}, characters: ${JSON.stringify(Object.keys(glyphs).join(''))} },\n`
})
writeFileSync(
  join(root, 'core/text/characters.generated.ts'),
  `${made}export const faceCharacters = {\n${characters.join('')}} as const\n`,
)
console.log(entries.map(([id, json]) => `${id} ${Math.round(json.length / 1024)} KB`).join(', '))
