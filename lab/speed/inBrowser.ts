import { existsSync } from 'node:fs'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium, type Page } from '@playwright/test'
import config from '../../playwright.config.ts'
import { start } from '../../server/main.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
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

/** The file of a shot's clip in the demo. */
export const clipName = (shot: string): string =>
  ['mp4', 'webm'].map((ending) => `${shot}.${ending}`).find((name) => existsSync(join(demoMedia, name)))!

/** Opens a new project of a clip of the demo that was enlarged to so many lines; returns the project's id. */
export async function openEnlarged(
  page: Page,
  address: string,
  folder: string,
  clip: string,
  lines: number,
): Promise<string> {
  const file = join(folder, `${clip}-${lines}.mp4`)
  const size = `scale=${(lines * 16) / 9}:${lines}`
  ffmpeg([
    ...['-i', join(demoMedia, clip), '-an', '-vf', size, '-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '18'],
    ...['-g', '24', '-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', file],
  ])
  await page.goto(address)
  await page.getByRole('button', { name: 'New project', exact: true }).click()
  await page.getByTestId('picker').setInputFiles(file)
  await page.getByRole('main').getByRole('link', { name: 'Trace' }).click()
  await page.waitForURL('**/trace/**')
  return /project\/([^/]+)/.exec(page.url())![1]!
}
