import { EditorPage, expect, test } from './fixtures.ts'

/** WebGPU by software: slow, and as exact as a card. */
const args = [
  ...['--no-sandbox', '--enable-unsafe-webgpu', '--use-webgpu-adapter=swiftshader', '--enable-features=Vulkan'],
  ...['--disable-dev-shm-usage', '--disable-quic', '--no-first-run', '--disable-background-networking'],
  ...['--disable-component-update', '--disable-sync'],
]

const levels = (editor: EditorPage) =>
  editor.canvas.evaluate((element) => {
    const { width, height } = element as HTMLCanvasElement
    const { data } = (element as HTMLCanvasElement).getContext('2d')!.getImageData(0, 0, width, height)
    return Array.from(data)
  })

test.use({ launchOptions: { executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium', args } })

const apart = (one: number[], other: number[]) => {
  const levels = one.map((level, i) => Math.abs(level - other[i]!))
  const sum = levels.reduce((sum, one) => sum + one, 0)
  return { mean: sum / levels.length, most: levels.reduce((most, one) => Math.max(most, one), 0) }
}

test('effects look as the core draws them, and go on looking so when the card is gone', async ({
  demo,
  page,
  browser,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Effects')
  await editor.atSize('quarter size')
  await editor.go(30)
  const byCore = await levels(editor)
  await editor.switchGraphics(/^\s*It draws the effects that you see, .* the same on every machine\.\s*$/)
  // Not one level everywhere: somebody else has drawn it.
  await expect.poll(async () => apart(byCore, await levels(editor)).most).toBeGreaterThan(0)
  const { mean, most } = apart(byCore, await levels(editor))
  expect(most).toBeLessThanOrEqual(4)
  expect(mean).toBeLessThan(0.5)

  const browserItself = await browser.newBrowserCDPSession()
  await browserItself.send('Browser.crashGpuProcess' as 'Browser.close').catch(() => {})
  await editor.go(31)
  await page.getByRole('button', { name: 'How the view is shown' }).click()
  await expect(page.getByTestId('graphics')).toHaveText(/The graphics card has stopped/)
  await page.keyboard.press('Escape')
  await editor.go(30)
})
