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
await page.goto(app.address)
await page.getByRole('button', { name: 'More for The Reed Ferry' }).click()
await page.getByRole('menuitem', { name: 'Take out as a file' }).click()
await page.waitForTimeout(500)
await page.screenshot({ path: '/tmp/s1.png' })
const [d] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Take it out' }).click()])
await d.saveAs('/tmp/ferry.wisptrail')
await page.route('**/api/projects/file', async (route) => {
  await new Promise((r) => setTimeout(r, 4000))
  await route.continue().catch(() => {})
})
await page.getByTestId('project-picker').setInputFiles('/tmp/ferry.wisptrail')
await page.waitForTimeout(1500)
await page.screenshot({ path: '/tmp/s2.png' })
await browser.close()
await app.stop()
process.exit(0)
