import { flatten } from '#core/geometry/path.ts'
import { coverPolygon } from '#core/matte/coverage.ts'
import { outline, smoothNodes } from '#core/shapes/outline.ts'
import { expect, test } from './app.ts'

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
