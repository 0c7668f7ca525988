/** npm run screenshots: one picture of each main view, made from the demo, at 1280x800. */
import { readFileSync } from 'node:fs'
import { mkdir, mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium } from '@playwright/test'
import config from '../../playwright.config.ts'
import { App } from '../support/application.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { EditorPage } from '../support/editorPage.ts'
import { demoMedia, root } from '../support/places.ts'

const folder = join(root, 'docs/screenshots')
await mkdir(folder, { recursive: true })
const data = await mkdtemp(join(tmpdir(), 'wisp-pictures-'))
const app = new App(data)
app.seed()
await app.start()
const browser = await chromium.launch(config.use!.launchOptions!)
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
const editor = new EditorPage(page)
const take = async (name: string) => {
  await page.mouse.move(640, 795)
  await page.waitForTimeout(600)
  await page.screenshot({ path: join(folder, `${name}.png`) })
}
const ready = async () => {
  const bar = page.getByRole('progressbar', { name: 'Frames ready' })
  while ((await bar.getAttribute('aria-valuenow')) !== '100') await page.waitForTimeout(100)
  await page.getByTitle('Pictures that were read for the plan').waitFor({ state: 'detached' })
}

await page.goto(app.address)
await page.getByRole('link', { name: 'Open The Reed Ferry' }).waitFor()
await take('shelf')
await page.getByRole('link', { name: 'Open The Reed Ferry' }).click()
await page.getByRole('listitem', { name: 'Two poles' }).waitFor()
// A clip as a phone films it, with more light than is shown: it asks before it comes in.
const phone = join(data, 'IMG_0412.mov')
ffmpeg([
  ...['-i', join(demoMedia, 'jetty-swing.mp4'), '-c:v', 'libx265', '-preset', 'ultrafast', '-pix_fmt', 'yuv420p10le'],
  ...['-tag:v', 'hvc1', '-x265-params', 'log-level=error', '-colorspace', 'bt2020nc', '-color_primaries', 'bt2020'],
  ...['-color_trc', 'arib-std-b67', phone],
])
await page.getByTestId('picker').setInputFiles(phone)
await page.getByRole('radio').nth(1).locator('img').waitFor()
await page.waitForTimeout(8000)
await take('footage')
await page.getByRole('button', { name: 'Cancel IMG_0412.mov' }).click()

await editor.openDemo(app, 'Trace')
await editor.go(50)
await editor.frame.blur()
await ready()
await take('trace')
await editor.openDemo(app, 'Sound', 'Two poles')
await editor.go(24)
await editor.frame.blur()
await ready()
await page.getByTestId('loudness').filter({ hasNotText: '–' }).waitFor()
await take('sound')
await editor.openDemo(app, 'Trace', 'Two poles')
await page.getByRole('button', { name: 'Result', exact: true }).click()
await editor.go(24)
await editor.frame.blur()
await ready()
await take('trace-result')

await editor.openDemo(app, 'Trace', 'Leap')
await page.getByRole('button', { name: 'torso outline' }).click()
await editor.go(31)
await editor.frame.blur()
await page.keyboard.press('Control+a')
await page.keyboard.press('c')
await ready()
await take('trace-performer')
await page.keyboard.press('c')
await page.keyboard.press('Escape')
await page.getByRole('button', { name: 'Clean', exact: true }).click()
await ready()
await take('trace-clean')
await page.keyboard.press('8')
await ready()
await take('trace-matte')
await page.keyboard.press('Shift+?')
await page.getByRole('dialog').waitFor()
await take('keys')
await page.keyboard.press('Escape')
await page.getByRole('link', { name: 'charts' }).click()
for (const name of ['head', 'left forearm']) await page.getByRole('checkbox', { name, exact: false }).first().check()
await take('charts')

await editor.openDemo(app, 'Effects', 'Two poles')
await page
  .getByRole('article', { name: 'Blade card' })
  .first()
  .click({ position: { x: 60, y: 6 } })
await editor.go(24)
await editor.frame.blur()
await ready()
await take('effects')
await page.getByRole('button', { name: 'Add an effect' }).click()
await take('effects-list')
await page.getByRole('button', { name: 'Looks' }).click()
await take('looks')
await page.keyboard.press('Escape')
await editor.openDemo(app, 'Effects', 'Heron mask')
await page.getByRole('article', { name: 'Light shafts card' }).click({ position: { x: 60, y: 6 } })
await editor.go(34)
await editor.frame.blur()
await page.getByRole('button', { name: 'Wipe' }).click()
await page.getByRole('button', { name: 'Histogram of the result' }).click()
await ready()
await take('effects-wipe')
await editor.openDemo(app, 'Effects', 'Leap')
await page
  .getByRole('article', { name: 'Take over card' })
  .first()
  .click({ position: { x: 60, y: 6 } })
await editor.go(65)
await editor.frame.blur()
await ready()
await take('effects-join')
await editor.openDemo(app, 'Effects', 'Moon pond')
await editor.go(4)
await editor.frame.blur()
await ready()
await take('effects-insert')
await editor.openDemo(app, 'Effects')
await editor.step('Output')
await page.getByRole('button', { name: /^Render/ }).click()
await page.getByRole('region', { name: 'What was made' }).getByRole('listitem').waitFor()
await page.getByRole('radio', { name: /PNG pictures in a zip/ }).click()
await page.getByRole('button', { name: /^Render/ }).click()
await page.getByText(/s left/).waitFor()
await take('output')

// A pole set by hand on its first frame and followed through the swing.
const swing = join(demoMedia, 'jetty-swing.mp4')
const { rods } = JSON.parse(readFileSync(swing.replace('mp4', 'truth.json'), 'utf8')) as {
  rods: { points: number[][] }[]
}
const [hx, hy, tx, ty] = rods[0]!.points[0] as [number, number, number, number]
await editor.newProjectWith(app, swing)
await page.keyboard.press('r')
await editor.click(hx, hy)
await editor.click(tx, ty)
await editor.go(0)
const follow = page.getByRole('region', { name: 'Follow' })
await follow.getByRole('button', { name: /motion, cover/ }).click()
await follow.getByRole('button', { name: /^follow/ }).click()
await page.getByTestId('followed').getByText('95').waitFor({ timeout: 120_000 })
await editor.go(57)
await editor.frame.blur()
await ready()
await take('trace-follow')

// A performer painted with two strokes, and carried a few frames on.
const leap = join(demoMedia, 'leap.mp4')
const { outlines } = JSON.parse(readFileSync(leap.replace('mp4', 'truth.json'), 'utf8')) as {
  outlines: { name: string; points: number[][] }[]
}
const middle = (name: string): [number, number] => {
  const points = outlines.find((one) => one.name === name)!.points[0]!
  const mean = (at: number) => {
    const own = points.filter((_, i) => i % 6 === at)
    return own.reduce((a, b) => a + b) / own.length
  }
  return [mean(0), mean(1)]
}
const stroke = async (places: [number, number][]) => {
  for (const [i, [x, y]] of places.entries()) {
    const place = await editor.at(x, y)
    await page.mouse.move(place.x, place.y, { steps: 6 })
    if (i === 0) await page.mouse.down()
  }
  await page.mouse.up()
  await page.waitForTimeout(300)
  await page.getByText('Looking at what was stroked').waitFor({ state: 'detached' })
}
await editor.newProjectWith(app, leap)
await page.keyboard.press('/')
await stroke(['right hand', 'right upper arm', 'neck', 'hat', 'neck', 'torso', 'left thigh', 'left boot'].map(middle))
const [[hatX, hatY], [bootX, bootY]] = [middle('hat'), middle('left boot')]
await page.keyboard.down('Shift')
await stroke([
  [hatX - 80, bootY - 20],
  [hatX - 70, hatY - 40],
  [hatX + 60, hatY - 40],
  [bootX + 70, bootY - 20],
])
await page.keyboard.up('Shift')
await page.keyboard.press('Shift+C')
await page.getByTestId('carried').getByText('71').waitFor({ timeout: 120_000 })
await editor.go(0)
await editor.frame.blur()
await ready()
await take('trace-paint')

await browser.close()
await app.stop()
await rm(data, { recursive: true, force: true })
