import { flatten } from '#core/geometry/path.ts'
import { coverPolygon } from '#core/matte/coverage.ts'
import { Scratch } from '#core/pixels/buffers/scratch.ts'
import { type BlendName, blendNames, blendRow } from '#core/pixels/colour/blend.ts'
import { span } from '#core/pixels/kernels/interface.ts'
import { outline, smoothNodes } from '#core/shapes/kinds/outline.ts'
import { expect, test } from './fixtures.ts'

const region = { x: 0, y: 0, width: 220, height: 180 }
const around = (count: number, radius: (i: number) => number) =>
  Array.from({ length: count }, (_, i) => {
    const a = (i / count) * 2 * Math.PI
    return [110.3 + radius(i) * Math.cos(a), 90.7 + 0.8 * radius(i) * Math.sin(a)]
  }).flat()

test('mattes cover pixels as Chromium does when it draws the same SVG path', async ({ page }) => {
  const outlines = [
    around(12, () => 78),
    around(16, (i) => (i % 2 ? 82 : 46)),
    around(9, (i) => 30 + 7 * i),
    [12.4, 8.2, 205.7, 30.1, 190.2, 170.9, 8.6, 150.3],
  ]
  for (const places of outlines) {
    const path = outline.path(smoothNodes(places), {})
    const mine = new Float32Array(region.width * region.height)
    coverPolygon(flatten(path), region, mine)
    let d = `M${path[0]} ${path[1]}`
    for (let i = 2; i < path.length; i += 6) d += `C${path.slice(i, i + 6).join(' ')}`
    const its = await page.evaluate(
      ([line, width, height]) => {
        const canvas = new OffscreenCanvas(width, height)
        const context = canvas.getContext('2d')!
        context.fill(new Path2D(line))
        return [...context.getImageData(0, 0, width, height).data].filter((_, i) => i % 4 === 3)
      },
      [`${d}Z`, region.width, region.height] as const,
    )
    const sum = mine.reduce((all, cover, i) => all + Math.abs(cover * 255 - its[i]!), 0)
    expect(its.some((level) => level === 255)).toBe(true)
    expect(sum / mine.length).toBeLessThan(1)
  }
})

test('layers are blended as Chromium blends them, in every mode', async ({ page }) => {
  const names: Partial<Record<BlendName, string>> = {
    ...{ normal: 'source-over', add: 'lighter', screen: 'screen', multiply: 'multiply', lighten: 'lighten' },
    ...{ darken: 'darken', overlay: 'overlay', softLight: 'soft-light', hardLight: 'hard-light' },
    ...{ dodge: 'color-dodge', burn: 'color-burn', difference: 'difference', exclusion: 'exclusion', hue: 'hue' },
    ...{ saturation: 'saturation', colour: 'color', luminosity: 'luminosity' },
  }
  const colours = ['#000000', '#ffffff', '#7f3fbf', '#20c040', '#f0a010', '#3060ff', '#808080', '#e0e0ff', '#502010']
  const pairs = colours.flatMap((behind) =>
    colours.flatMap((above) => [1, 0.4].map((alpha) => ({ behind, above, alpha }))),
  )
  const { kernels } = new Scratch()
  const rgb = (code: string) => [1, 3, 5].map((k) => parseInt(code.slice(k, k + 2), 16) / 255)
  for (const mode of blendNames) {
    const its = await page.evaluate(
      ([mode, pairs]) => {
        const context = new OffscreenCanvas(1, 1).getContext('2d', { willReadFrequently: true })!
        return pairs.map(({ behind, above, alpha }) => {
          context.globalCompositeOperation = 'source-over'
          context.globalAlpha = 1
          context.fillStyle = behind
          context.fillRect(0, 0, 1, 1)
          context.globalCompositeOperation = mode as GlobalCompositeOperation
          context.globalAlpha = alpha
          context.fillStyle = above
          context.fillRect(0, 0, 1, 1)
          return [...context.getImageData(0, 0, 1, 1).data]
        })
      },
      [names[mode]!, pairs] as const,
    )
    pairs.forEach(({ behind, above, alpha }, i) => {
      const data = Float32Array.from([...rgb(behind), 1])
      const layer = Float32Array.from([...rgb(above).map((v) => v * alpha), alpha])
      blendRow(mode, span(layer, 0), span(data, 0), 1, { opacity: 1, mask: null }, kernels)
      for (let c = 0; c < 3; c++)
        expect(Math.abs(Math.min(255, data[c]! * 255) - its[i]![c]!), `${mode}: ${above} on ${behind}`).toBeLessThan(3)
    })
  }
})
