/** npm run screenshots: one picture of each main view, made from the demo, at 1280x800. */
import { chromium } from '@playwright/test'
import { mkdir, mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import config from '../playwright.config.ts'
import { App } from './server.ts'
import { Bench } from './bench.ts'

const folder = join(import.meta.dirname, '../docs/screenshots')
await mkdir(folder, { recursive: true })
const data = await mkdtemp(join(tmpdir(), 'wisp-pictures-'))
const app = new App(data)
app.seed()
await app.start()
const browser = await chromium.launch(config.use!.launchOptions!)
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
const bench = new Bench(page)
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
await page.waitForTimeout(4000)
await take('footage')

await bench.openDemo(app, 'Trace')
await bench.go(50)
await bench.frame.blur()
await ready()
await take('trace')
await bench.openDemo(app, 'Trace', 'Two poles')
await page.getByRole('button', { name: 'Result', exact: true }).click()
await bench.go(24)
await bench.frame.blur()
await ready()
await take('trace-result')

await bench.openDemo(app, 'Trace', 'Leap')
await page.getByRole('button', { name: 'torso outline' }).click()
await bench.go(31)
await bench.frame.blur()
await page.keyboard.press('Control+a')
await page.keyboard.press('c')
await ready()
await take('trace-performer')
await page.keyboard.press('c')
await page.keyboard.press('Escape')
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

await bench.openDemo(app, 'Effects')
await bench.go(27)
await bench.frame.blur()
await ready()
await take('effects')
await page.getByRole('navigation').getByRole('link', { name: 'Output' }).click()
await page.getByRole('button', { name: /^Render/ }).click()
await page.getByRole('region', { name: 'What was made' }).getByRole('listitem').waitFor()
await page.getByRole('radio', { name: /PNG pictures/ }).click()
await page.getByRole('button', { name: /^Render/ }).click()
await page.getByText(/s left/).waitFor()
await take('output')

await browser.close()
await app.stop()
await rm(data, { recursive: true, force: true })
