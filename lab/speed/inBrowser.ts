import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium, type Page } from '@playwright/test'
import config from '../../playwright.config.ts'
import { start } from '../../server/main.ts'
import { seed } from '../demo/seed.ts'
import { demoMedia, root } from '../support/places.ts'

/** Runs work in a real browser on a real server with the seeded project; `folder` is thrown away afterwards. */
export async function inBrowser<T>(
  work: (page: Page, address: string, project: string, folder: string) => Promise<T>,
): Promise<T> {
  const data = await mkdtemp(join(tmpdir(), 'wisp-bench-'))
  await seed(data, demoMedia)
  const server = await start({ data, web: join(root, 'dist/bench'), port: 0 })
  const browser = await chromium.launch(config.use!.launchOptions!)
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    // A key that fails is quick: what came upon anything unforeseen was not measured.
    const errors: string[] = []
    page.on('pageerror', (error) => errors.push(error.message))
    page.on('console', (line) => line.text().startsWith('Could not finish') && errors.push(line.text()))
    const [{ id }] = (await (await fetch(`${server.address}/api/projects`)).json()) as [{ id: string }]
    const measured = await work(page, server.address, id, data)
    if (errors.length) throw new Error(`The page failed while it was measured: ${errors[0]}`)
    return measured
  } finally {
    await browser.close()
    await server.stop()
    await rm(data, { recursive: true, force: true })
  }
}
