import { rm } from 'node:fs/promises'
import { join } from 'node:path'
import type { Page } from '@playwright/test'
import { makeSound } from '#core/soundtrack/make.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { inBrowser } from './inBrowser.ts'
import { median, result, type Result } from './measure.ts'
import type { PageBench } from './page.ts'

const mixes = () =>
  inBrowser(async (page, address) => {
    await page.goto(address)
    await page.addScriptTag({ type: 'module', url: '/bench.js' })
    await page.waitForFunction('window.bench')
    const times: [number[], number[]] = [[], []]
    for (let round = 0; round < 5; round++) {
      const mixed = (seed: number) => (window as unknown as { bench: PageBench }).bench.mixed(seed)
      times[0].push(await page.evaluate(mixed, round))
      times[1].push(await page.evaluate(() => (window as unknown as { bench: PageBench }).bench.graphMixed()))
    }
    return times
  })

/** Brings a clip of an hour, with sound, in as a shot of its own, with a voice and a file over all of it; gives the shot's id. */
async function hourOf(page: Page, address: string, project: string, folder: string): Promise<string> {
  const clip = join(folder, 'hour.mp4')
  const [pictures, sound] = ['color=c=navy:s=64x36:r=24:d=3600', 'sine=frequency=220:duration=3600']
  const coding = ['-c:v', 'libx264', '-preset', 'ultrafast', '-pix_fmt', 'yuv420p', '-c:a', 'aac', '-b:a', '48k']
  ffmpeg(['-y', '-f', 'lavfi', '-i', pictures, '-f', 'lavfi', '-i', sound, ...coding, clip])
  await page.goto(`${address}/project/${project}/footage`)
  await page.getByTestId('picker').setInputFiles(clip)
  const link = page.getByRole('listitem', { name: 'hour' }).getByRole('link', { name: 'Trace' })
  await link.waitFor({ timeout: 300_000 })
  await link.click()
  await page.waitForURL(/\/trace\//)
  const shot = page.url().split('/').at(-1)!
  const { revision } = (await (await fetch(`${address}/api/projects/${project}`)).json()) as { revision: number }
  const frames = Array.from({ length: 400 }, (_, i) => ({ at: null, frame: 200 * i, muted: false, gain: 0 }))
  const put = [
    makeSound({ id: 'hum', shot, kind: 'hum', order: 1, settings: { level: -20 } }),
    makeSound({ id: 'ticks', shot, kind: 'tick', order: 2, beads: frames }),
  ]
  const body = JSON.stringify({ id: 'hour', base: revision, label: 'hour', diff: { put, remove: [] } })
  const headers = { 'Content-Type': 'application/json' }
  const answer = await fetch(`${address}/api/projects/${project}/changes`, { method: 'POST', body, headers })
  if (!answer.ok) throw new Error(await answer.text())
  return shot
}

/** The longest that the page was busy while lanes of an hour open, are zoomed and scrolled. */
const busiest = async (page: Page, address: string): Promise<number> => {
  await page.addInitScript(() => {
    const busy: number[] = []
    Object.assign(window, { busy })
    new PerformanceObserver((list) => busy.push(...list.getEntries().map((one) => one.duration))).observe({
      type: 'longtask',
      buffered: true,
    })
  })
  await page.goto(address)
  const sheet = page.getByTestId('sheet')
  await sheet.waitFor()
  await page.getByRole('article', { name: 'Tick card' }).waitFor()
  // What loading the page itself takes is no matter of lanes.
  await page.evaluate(() => (window as unknown as { busy: number[] }).busy.splice(0))
  await page.waitForTimeout(3000)
  const box = (await sheet.boundingBox())!
  await page.mouse.move(box.x + box.width / 2, box.y + 60)
  for (const way of [-240, 240, -240]) {
    await page.keyboard.down('Control')
    for (let i = 0; i < 25; i++) await page.mouse.wheel(0, way)
    await page.keyboard.up('Control')
    await page.keyboard.down('Shift')
    for (let i = 0; i < 25; i++) await page.mouse.wheel(0, -way)
    await page.keyboard.up('Shift')
  }
  await page.waitForTimeout(1000)
  // What is not counted as long took less than 50 ms.
  return Math.max(0, ...(await page.evaluate(() => (window as unknown as { busy: number[] }).busy)))
}

export const soundBenches: Record<string, () => Promise<Result>> = {
  /** A minute of twelve lanes, each time with other chances, against the same work by the browser's own sound nodes. */
  mix: async () => {
    const [ours, graph] = await mixes()
    return result('mix', median(ours), 'the same work in OfflineAudioContext', median(graph), 1)
  },
  /** The same against how long it plays. */
  'mix-pace': async () => {
    const [ours] = await mixes()
    return result('mix-pace', median(ours), 'a 20th of how long it plays', 3000, 1)
  },
  /** Lanes of an hour, while they open, are zoomed and scrolled. */
  'hour-lanes': () =>
    inBrowser(async (page, address, project, folder) => {
      const shot = await hourOf(page, address, project, folder)
      const ms = await busiest(page, `${address}/project/${project}/sound/${shot}`)
      await rm(join(folder, 'hour.mp4'))
      return result('hour-lanes', ms, 'the longest task that is none (50 ms)', 50, 1)
    }),
}
