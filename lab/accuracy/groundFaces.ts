import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type Browser, chromium } from '@playwright/test'
import type { Key, Part } from '#core/records/types.ts'
import { outline } from '#core/shapes/kinds/outline.ts'
import { shapeAt } from '#core/shapes/track.ts'
import config from '../../playwright.config.ts'
import type { Background } from '../ground/backgrounds.ts'
import { groundSize } from '../ground/cases.ts'
import { App } from '../support/application.ts'
import { EditorPage } from '../support/editorPage.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { type Figure, measured, print, type Subject } from './follow.ts'

const frames = 72
/** Longest that looking through a clip may take, in ms. */
const patience = 300_000

/**
 * Eyes of filmed faces, followed from one key and then corrected. What the face detector of the application says of every
 * frame stands for the truth: it trembles by a pixel or two, so this says what slips, not what is exact.
 */
export async function facesOver(backgrounds: readonly Background[]): Promise<Figure[]> {
  const folder = await mkdtemp(join(tmpdir(), 'wisp-faces-'))
  const app = new App(join(folder, 'data'))
  await app.start()
  const browser = await chromium.launch(config.use!.launchOptions!)
  const out: Figure[] = []
  try {
    for (const { name, file, is } of backgrounds) {
      if (is !== 'clip') continue
      const clip = join(folder, `${name}.mp4`)
      const { width, height } = groundSize
      const fill = `scale=${width}:${height}:force_original_aspect_ratio=increase,crop=${width}:${height},format=yuv420p`
      ffmpeg(['-i', file, '-an', '-frames:v', String(frames), '-vf', fill, '-c:v', 'libx264', '-crf', '20', clip])
      const eyes = await eyesIn(browser, app, clip)
      if (eyes.length === 0) console.log(`${name}: no face is seen on its first frame`)
      const subjects = eyes.map(({ what, truth }): Subject => ({
        ...{ what: `${name}: ${what}`, kind: outline, settings: {}, truth, keys: [0], corrects: true },
      }))
      const figures = await measured(clip, subjects)
      print(figures)
      out.push(...figures)
    }
  } finally {
    await browser.close()
    await app.stop()
    await rm(folder, { recursive: true, force: true })
  }
  return out
}

/** Outlines of both eyes on every frame as the detector sees them, cast through the shot with mouse and keyboard. */
async function eyesIn(browser: Browser, app: App, clip: string): Promise<{ what: string; truth: Subject['truth'] }[]> {
  const page = await browser.newPage()
  try {
    const editor = new EditorPage(page)
    await editor.newProjectWith(app, clip)
    await page.getByRole('button', { name: 'Suggestions' }).click()
    const panel = page.getByRole('region', { name: 'Suggestions' })
    await panel.getByRole('button', { name: 'frame or whole shot' }).click()
    await panel.getByLabel('people').uncheck()
    await panel.getByLabel('hands').uncheck()
    await panel.getByLabel('a click takes the whole shot').check()
    await panel.getByRole('textbox', { name: 'Looks' }).fill('30')
    await panel.getByRole('button', { name: 'look on this frame' }).click()
    await panel.getByRole('status').waitFor({ timeout: patience })
    const face = page.getByRole('button', { name: /^Cast Face/ }).first()
    if ((await face.count()) === 0) return []
    await face.click()
    await panel.getByText('All that was found is cast.').waitFor({ timeout: patience })
    const records = await editor.records()
    const parts = records.filter((one) => one.type === 'part') as unknown as Part[]
    return parts.map((part) => {
      const keys = records.filter((one) => one.type === 'key' && one.part === part.id) as unknown as Key[]
      keys.sort((a, b) => a.frame - b.frame)
      const track = { keys, aways: [], tween: part.tween, hold: part.hold }
      return { what: part.name, truth: Array.from({ length: frames }, (_, frame) => shapeAt(track, frame)) }
    })
  } finally {
    await page.close()
  }
}
