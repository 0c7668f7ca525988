import { mkdtemp } from 'node:fs/promises'
import { chromium } from '@playwright/test'
import config from '../playwright.config.ts'
import { App } from './support/application.ts'
import { EditorPage } from './support/editorPage.ts'
const data = await mkdtemp('/tmp/zz-')
const app = new App(data)
app.seed()
await app.start()
const browser = await chromium.launch(config.use!.launchOptions!)
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
page.on('console', (l) => console.log(l.text()))
page.on('pageerror', (e) => console.log('ERR', e.message))
const editor = new EditorPage(page)
await editor.openDemo(app, 'Trace', 'Leap')
await editor.go(31)
await editor.step('Output')
const end = async (name: string, frame: number) => {
  await page.getByRole('textbox', { name, exact: true }).fill(String(frame))
  await page.getByRole('textbox', { name, exact: true }).press('Enter')
}
await page.getByRole('radio', { name: /^Cut-out/ }).click()
await end('From', 31)
await end('To', 31)
await page.getByRole('radio', { name: /^WebM video with alpha/ }).click()
await page.getByRole('button', { name: /^(Render|Add to the queue)/ }).click()
await page.waitForTimeout(8000)
await page.screenshot({ path: '/tmp/s1.png' })
console.log(await page.getByRole('region', { name: 'Queue' }).allTextContents())
await browser.close()
await app.stop()
process.exit(0)
