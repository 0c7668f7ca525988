import { said, say } from '../../say.ts'

/** Hue words around the wheel, each with the degree at which it ends. */
const hues: [number, string][] = [
  [12, 'red'],
  [20, 'scarlet'],
  [33, 'orange'],
  [48, 'amber'],
  [66, 'yellow'],
  [95, 'lime'],
  [150, 'green'],
  [185, 'teal'],
  [208, 'sky blue'],
  [252, 'blue'],
  [290, 'violet'],
  [325, 'magenta'],
  [346, 'rose'],
  [360, 'red'],
]

/** A plain word for a colour written as #rrggbb, for sentences; by its hue, chroma and lightness (HSL). */
export function colourName(hex: string): string {
  const value = parseInt(hex.slice(1), 16)
  const [r, g, b] = [value >> 16, (value >> 8) & 255, value & 255].map((v) => v / 255) as [number, number, number]
  const [most, least] = [Math.max(r, g, b), Math.min(r, g, b)]
  const chroma = most - least
  const light = (most + least) / 2
  if (chroma < 0.06) return light > 0.94 ? say`white` : light < 0.06 ? say`black` : say`grey`
  const sixth = most === r ? ((g - b) / chroma + 6) % 6 : most === g ? (b - r) / chroma + 2 : (r - g) / chroma + 4
  const word = said(hues.find(([end]) => sixth * 60 <= end)![1])
  if (light > 0.82) return say`pale ${word}`
  if (light < 0.28) return say`deep ${word}`
  return chroma < 0.2 ? say`greyish ${word}` : light > 0.68 ? say`light ${word}` : word
}
