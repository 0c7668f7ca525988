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
await editor.openDemo(app, 'Output', 'Two poles')
await page.waitForTimeout(1500)
await page.screenshot({ path: '/tmp/s1.png' })
await page.getByRole('radio', { name: 'OpenEXR pictures' }).scrollIntoViewIfNeeded()
await page.getByRole('radio', { name: /^Cut-out/ }).click()
await page.waitForTimeout(500)
await page.screenshot({ path: '/tmp/s2.png' })
await browser.close()
await app.stop()
process.exit(0)
