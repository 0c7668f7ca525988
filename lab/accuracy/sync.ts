import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium } from '@playwright/test'
import config from '../../playwright.config.ts'
import { App } from '../support/application.ts'

const minutes = 5
/** Seconds from one change to the next: all pictures are drawn anew while it plays. */
const pause = 12

/** What the page knows, by the names of its stores. */
interface Stores {
  _s: Map<string, { place(): number | null; missed(): number }>
}

/**
 * How well picture and sound stay together while the demo's blade burns in a loop and is drawn anew again and again: at every
 * redraw of the screen, frames from the picture that is shown to what is heard; and how often the player had nothing to play.
 */
export async function sync(): Promise<Record<string, number>> {
  const data = await mkdtemp(join(tmpdir(), 'wisp-sync-'))
  const app = new App(data)
  app.seed()
  await app.start()
  const browser = await chromium.launch(config.use!.launchOptions!)
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    const [{ id }] = (await (await fetch(`${app.address}/api/projects`)).json()) as [{ id: string }]
    await page.goto(`${app.address}/project/${id}/effects/shot-jetty-swing`)
    await page.getByTestId('frame').waitFor()
    await page.getByRole('progressbar', { name: 'Frames ready' }).waitFor()
    await page.locator('canvas[data-fresh=true]').waitFor()
    await page.getByRole('button', { name: 'Play', exact: true }).click()
    await page.getByRole('button', { name: 'Pause', exact: true }).waitFor()
    // The compiler names functions with a helper of its own, which the page does not have.
    await page.evaluate('window.__name = (work) => work')
    await page.evaluate(() => {
      const root = document.querySelector<
        HTMLElement & { __vue_app__: { config: { globalProperties: { $pinia: Stores } } } }
      >('#app')!
      const hearing = root.__vue_app__.config.globalProperties.$pinia._s.get('hearing')!
      const canvas = document.querySelector<HTMLCanvasElement>('canvas[data-frame]')!
      const log = { apart: [] as number[], drawn: 0, missed: () => hearing.missed() }
      Object.assign(window, { log })
      let last = ''
      const look = () => {
        const place = hearing.place()
        if (place !== null) log.apart.push(Number(canvas.dataset.frame) - place * 24)
        if (canvas.dataset.fresh === 'true' && canvas.dataset.frame !== last) log.drawn++
        last = canvas.dataset.frame!
        requestAnimationFrame(look)
      }
      requestAnimationFrame(look)
    })
    const missedNow = () => (window as unknown as { log: { missed(): number } }).log.missed()
    const on = page.getByRole('switch', { name: 'On', exact: true })
    for (let second = 0; second < 60 * minutes; second += pause) {
      await page.waitForTimeout(1000 * pause)
      await on.click()
      await on.click()
      console.log(`${second + pause} s: ${await page.evaluate(missedNow)} blocks missed`)
    }
    const { apart, drawn, missed } = await page.evaluate(() => {
      const { log } = window as unknown as { log: { apart: number[]; drawn: number; missed(): number } }
      return { ...log, missed: log.missed() }
    })
    // The picture of a frame stands from its beginning to its end: half a frame from its middle. A loop's seam is no offset.
    const frames = 96
    const offsets = apart.map((one) => {
      const off = Math.abs(one + 0.5) % frames
      return Math.min(off, frames - off)
    })
    offsets.sort((a, b) => a - b)
    const at = (share: number) => offsets[Math.min(offsets.length - 1, Math.floor(share * offsets.length))]!
    const figures = {
      looks: offsets.length,
      median: at(0.5),
      most: at(1),
      'a frame or more': offsets.filter((one) => one >= 1).length,
      drawn,
      missed,
    }
    for (const [name, value] of Object.entries(figures))
      console.log(`${name.padEnd(18)}${value.toFixed(3).padStart(12)}`)
    return figures
  } finally {
    await browser.close()
    await app.stop()
    await rm(data, { recursive: true, force: true })
  }
}
