import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { makeClip, rodAt } from '../support/clips.ts'
import { demoMedia, root } from '../support/places.ts'
import { EditorPage, expect, test } from './fixtures.ts'

const mask = join(demoMedia, 'heron-mask.mp4')
const truth = JSON.parse(readFileSync(mask.replace('mp4', 'truth.json'), 'utf8')) as {
  outlines: { points: number[][] }[]
}
/** A place between the eyes of the mask on the first frame. */
const middle = [0, 1].map((axis) => {
  const all = truth.outlines.slice(0, 2).flatMap(({ points }) => points[0]!.filter((_, i) => i % 6 === axis))
  return all.reduce((a, b) => a + b) / all.length
}) as [number, number]

const size = { width: 320, height: 180, frames: 24 }

test.describe('what goes wrong is said, and can be tried again', () => {
  test.use({ foreseen: /^Could not (keep changes|finish what)/ })

  test('a clip that can not be fetched says so on the stage, and is fetched when it is tried again', async ({
    page,
    app,
    folder,
  }) => {
    const clip = join(folder, 'away.mp4')
    await makeClip(clip, size)
    const editor = new EditorPage(page)
    await page.goto(app.address)
    await page.getByRole('button', { name: 'New project', exact: true }).click()
    await page.getByTestId('picker').setInputFiles(clip)
    const trace = page.getByRole('main').getByRole('link', { name: 'Trace' })
    await expect(trace).toBeVisible()
    let away = true
    await page
      .context()
      .route(/\/api\/footage\/\w+$/, (route) => (away ? route.fulfill({ status: 404 }) : route.fallback()))
    await trace.click()
    const alert = page.getByTestId('stage').getByRole('alert')
    await expect(alert).toHaveText('The clip is not on the server any more. Bring the same file in again.')
    away = false
    await page.getByRole('button', { name: 'Try again' }).click()
    await editor.shows(0)
    await expect(alert).toBeHidden()
  })

  test('a decoder that refuses frames of that size is named as what is in the way, and the shot is left as it is', async ({
    page,
    app,
    folder,
  }) => {
    const clip = join(folder, 'vast.mp4')
    await makeClip(clip, { ...size, extra: ['-s', '2560x1440'] })
    const refusing = `const asked = VideoDecoder.isConfigSupported.bind(VideoDecoder)
      VideoDecoder.isConfigSupported = (config) =>
        config.codedWidth > 1920 ? Promise.resolve({ supported: false, config }) : asked(config);`
    await page.context().route(/\/decode\.worker-[^/]*\.js$/, async (route) => {
      const script = readFileSync(join(root, 'dist/web', new URL(route.request().url()).pathname), 'utf8')
      const headers = { 'Content-Type': 'text/javascript', 'Cross-Origin-Embedder-Policy': 'require-corp' }
      await route.fulfill({ headers, body: refusing + script })
    })
    await page.goto(app.address)
    await page.getByRole('button', { name: 'New project', exact: true }).click()
    await page.getByTestId('picker').setInputFiles(clip)
    await page.getByRole('main').getByRole('link', { name: 'Trace' }).click()
    await expect(page.getByTestId('stage').getByRole('alert')).toHaveText(
      /^This browser can not decode frames of 2560 x 1440\. Bring the clip in at a smaller size/,
    )
    await page.getByRole('link', { name: 'Footage' }).click()
    await expect(page.getByText('vast', { exact: true }).first()).toBeVisible()
  })

  test('a browser without room says once that changes wait in this tab only; they are still sent', async ({
    page,
    app,
    folder,
  }) => {
    await page.addInitScript(() => {
      IDBObjectStore.prototype.put = () => {
        throw new DOMException('The quota has been exceeded.', 'QuotaExceededError')
      }
    })
    const clip = join(folder, 'full.mp4')
    await makeClip(clip, size)
    const editor = new EditorPage(page)
    await editor.newProjectWith(app, clip)
    await expect(page.getByText(/no room left on its disk.*leave this tab open/)).toHaveCount(1)
    await page.keyboard.press('r')
    const [hx, hy, tx, ty] = rodAt(0, size)
    await editor.click(hx, hy)
    await editor.click(tx, ty)
    await expect(editor.keys).toHaveText('1')
    await expect(editor.keeping).toHaveText('All changes kept')
    expect((await editor.records()).filter((one) => one.type === 'key')).toHaveLength(1)
    await expect(page.getByText(/no room left on its disk/)).toHaveCount(1)
  })

  test('what nobody foresaw gets a sentence, and its log can be copied', async ({ page, app, context }) => {
    await context.grantPermissions(['clipboard-read', 'clipboard-write'])
    await page.goto(app.address)
    await expect(page.getByRole('region', { name: 'How to begin' })).toBeVisible()
    await page.evaluate(() => {
      // eslint-disable-next-line @typescript-eslint/no-floating-promises -- A failure that nobody takes care of.
      Promise.reject(new TypeError('shape is undefined'))
    })
    const said = page.getByText(/for a reason nobody foresaw/)
    await expect(said).toBeVisible()
    await expect(page.getByText('shape is undefined')).toHaveCount(0)
    await page.getByRole('button', { name: 'Copy log' }).click()
    await expect(page.getByText('The log is copied.')).toBeVisible()
    const log = await page.evaluate(() => navigator.clipboard.readText())
    expect(log).toMatch(/could not finish what it was doing\nTypeError: shape is undefined/)
  })
})

test('the first run in a shot shows how far it is and can be stopped; what it found is kept, and another one begins', async ({
  page,
  demo,
}) => {
  const editor = new EditorPage(page)
  await editor.newProjectWith(demo, mask)
  await page.keyboard.press('b')
  // Around the whole mask: much of the picture, so that a run takes its time.
  await editor.click(...middle)
  await editor.click(middle[0] + 90, middle[1] + 60)
  await expect(editor.keeping).toHaveText('All changes kept')
  await editor.go(0)
  const panel = page.getByRole('region', { name: 'Follow' })
  for (const [round, key] of ['Shift+C', 'Shift+C'].entries()) {
    await page.keyboard.press(key)
    const progress = panel.getByRole('progressbar')
    await expect(progress, `run ${round + 1}`).not.toHaveAttribute('aria-valuenow', '0')
    await panel.getByRole('button', { name: /^stop, keep it/ }).click()
    await expect(progress).toBeHidden()
    await expect(page.getByTestId('followed')).toContainText('frames')
    await expect(editor.keeping).toHaveText('All changes kept')
  }
})

test('where no graphics card is reached the core draws on, and it is said', async ({ demo, page }) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Effects')
  await editor.switchGraphics(/This browser reaches no graphics card/)
  await editor.go(31)
  await editor.switchGraphics(/Pictures are drawn without it/)
  await editor.go(30)
})
