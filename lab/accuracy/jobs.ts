import { readFileSync } from 'node:fs'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type Browser, chromium, expect, type Locator, type Page } from '@playwright/test'
import config from '../../playwright.config.ts'
import type { Truth } from '../scenes/scene.ts'
import { App } from '../support/application.ts'
import { makeClip, rodAt } from '../support/clips.ts'
import { demoMedia } from '../support/places.ts'
import { Hand } from './robotUser.ts'

/** What a job took. */
interface Figure {
  job: string
  /** Clicks, drags, keys and fields that were typed into; a clip that is chosen is one, too. */
  actions: number
  /** Of these with the mouse. */
  presses: number
  /** Seconds for which the hand waited for the application. */
  waited: number
  /** Tasks of more than 50 ms on the interface's thread meanwhile, and the longest (ms). */
  longTasks: number
  longest: number
}

/** A hand that also counts what it presses beside the picture, and how long it waits. */
class Worker extends Hand {
  presses = 0
  waited = 0
  override async click(x: number, y: number): Promise<void> {
    this.presses++
    await super.click(x, y)
  }
  async on(what: Locator): Promise<void> {
    this.actions++
    this.presses++
    await what.click()
  }
  async pick(file: string, input: Locator): Promise<void> {
    this.actions++
    await input.setInputFiles(file)
  }
  async type(field: Locator, text: string): Promise<void> {
    this.actions++
    await field.fill(text)
    await field.press('Enter')
  }
  /** What the hand has to wait for. */
  async wait(until: Promise<unknown>): Promise<void> {
    const from = performance.now()
    await until
    this.waited += (performance.now() - from) / 1000
  }
  /** A stroke of the brush through places of the plate. */
  async stroke(places: [number, number][], shift = false): Promise<void> {
    this.actions++
    this.presses++
    const [first, ...rest] = await Promise.all(places.map(([x, y]) => this.editor.at(x, y)))
    if (shift) await this.page.keyboard.down('Shift')
    await this.page.mouse.move(first!.x, first!.y)
    await this.page.mouse.down()
    for (const one of rest) await this.page.mouse.move(one.x, one.y, { steps: 8 })
    await this.page.mouse.up()
    if (shift) await this.page.keyboard.up('Shift')
  }
  button = (name: string | RegExp): Locator => this.page.getByRole('button', { name }).first()
  step = (name: string): Locator => this.page.getByRole('navigation').getByRole('link', { name })
  made = (name: RegExp): Promise<void> =>
    this.page
      .getByRole('region', { name: 'What was made' })
      .getByRole('listitem', { name })
      .waitFor({ timeout: 240_000 })
}

const size = { width: 1280, height: 720, frames: 48 }

const jobs: Record<string, (hand: Worker, app: App, folder: string) => Promise<void>> = {
  'a burning blade from a fresh shelf, on the example': async (hand, app) => {
    await hand.page.goto(app.address)
    await hand.on(hand.button('Open the example'))
    const guide = hand.page.getByTestId('guide')
    await hand.wait(guide.getByRole('button', { name: 'Trace on' }).waitFor({ timeout: 60_000 }))
    await hand.on(guide.getByRole('button', { name: 'Trace on' }))
    await hand.wait(hand.editor.shows(48))
    await hand.press('Shift+C')
    await hand.wait(
      expect(guide).toContainText(/worth a look|traced on every frame|have no shape/, { timeout: 120_000 }),
    )
    await hand.on(hand.step('Effects'))
    await hand.wait(burns(hand, 90))
  },
  'a burning blade from one’s own clip': async (hand, app, folder) => {
    const clip = join(folder, 'garden.mp4')
    await makeClip(clip, size)
    await hand.page.goto(app.address)
    await hand.pick(clip, hand.page.getByTestId('clip-picker'))
    // A short clip is on the bench as soon as it is in.
    await hand.wait(hand.editor.shows(0))
    await hand.look()
    const [hx, hy, tx, ty] = rodAt(0, size)
    await hand.click(hx, hy)
    await hand.click(tx, ty)
    await hand.press('Shift+C')
    await hand.wait(followed(hand))
    await hand.on(hand.page.getByTestId('guide').getByRole('button', { name: 'Let it burn' }))
    await hand.wait(burns(hand, 40))
  },
  'a performer in five outlines': async (hand, app) => {
    await hand.editor.newProjectWith(app, join(demoMedia, 'leap.mp4'))
    await hand.look()
    const truth = JSON.parse(readFileSync(join(demoMedia, 'leap.truth.json'), 'utf8')) as Truth
    await hand.press('k')
    for (const name of ['hat', 'torso', 'right upper arm', 'right forearm', 'left thigh']) {
      const drawn = truth.outlines.find((one) => one.name === name)!.points[0]!
      const nodes = Array.from({ length: drawn.length / 6 }, (_, i) => [drawn[6 * i]!, drawn[6 * i + 1]!] as const)
      const places = nodes.filter((_, i) => i % Math.ceil(nodes.length / 6) === 0)
      for (const [x, y] of places) await hand.click(x, y)
      await hand.press('Enter')
    }
    await hand.wait(expect(hand.editor.keeping).toHaveText('All changes kept'))
    expect((await hand.editor.records()).filter((one) => one.type === 'part')).toHaveLength(5)
    // All five are followed through the leap.
    await hand.press('Shift+G')
    await hand.wait(hand.page.getByText('5 of 5 parts followed').waitFor({ timeout: 240_000 }))
  },
  'a flash where two props meet': async (hand, app) => {
    await hand.editor.openDemo(app, 'Effects', 'Two poles')
    const before = await hand.page.getByRole('article', { name: 'Flash card' }).count()
    await hand.on(hand.button('Add an effect'))
    await hand.type(hand.page.getByRole('searchbox', { name: 'Search effects' }), 'clash')
    await expect(hand.page.getByRole('article', { name: 'Flash card' })).toHaveCount(before + 1)
    await hand.wait(expect(hand.editor.keeping).toHaveText('All changes kept'))
    const flash = (await hand.editor.records()).findLast((one) => one.type === 'effect' && one.kind === 'flash')!
    const { other, when } = flash.settings as { other: string; when: string }
    if (!other || when !== 'contacts') throw new Error('The new flash does not come where two props meet.')
  },
  'a matte for somebody else': async (hand, app) => {
    await hand.editor.newProjectWith(app, join(demoMedia, 'leap.mp4'))
    const truth = JSON.parse(readFileSync(join(demoMedia, 'leap.truth.json'), 'utf8')) as Truth
    const middle = (name: string): [number, number] => {
      const own = truth.outlines.find((one) => one.name === name)!.points[0]!
      const mean = (at: number) => own.filter((_, i) => i % 6 === at).reduce((a, b, _, all) => a + b / all.length, 0)
      return [mean(0), mean(1)]
    }
    await hand.press('/')
    await hand.stroke(
      ['right hand', 'right forearm', 'right upper arm', 'hat', 'torso', 'left thigh', 'left boot'].map(middle),
    )
    await hand.wait(expect(hand.editor.cell).toHaveText('Painted', { timeout: 60_000 }))
    await hand.press('Shift+C')
    await hand.wait(expect(hand.page.getByTestId('carried')).toBeVisible({ timeout: 240_000 }))
    await hand.on(hand.button('render the matte'))
    // As pictures, to the level.
    await expect(hand.page.getByRole('radio', { name: /^PNG pictures in a zip/ })).toBeChecked()
    await hand.wait(hand.made(/matte/))
  },
}

/** Until the run over the picture has ended. */
async function followed({ editor, page }: Worker): Promise<void> {
  await expect(editor.hint)
    .toContainText('Following', { timeout: 30_000 })
    .catch(() => {})
  await expect(editor.hint).not.toContainText('Following', { timeout: 240_000 })
  await expect(page.getByTestId('keeping')).toHaveText('All changes kept')
}
/** Until the blade is seen on a frame: white-hot in the middle of the traced rod. */
async function burns({ editor }: Worker, frame: number): Promise<void> {
  // The step of effects opens first: a frame that is gone to before would be that of the step left.
  await expect(editor.canvas).toHaveAttribute('data-layer', 'result')
  await editor.go(frame)
  const bright = () =>
    editor.canvas.evaluate((canvas) => {
      const { width, height } = canvas as HTMLCanvasElement
      const { data } = (canvas as HTMLCanvasElement).getContext('2d')!.getImageData(0, 0, width, height)
      let count = 0
      for (let i = 0; i < data.length; i += 4) if (data[i]! > 235 && data[i + 1]! > 235 && data[i + 2]! > 235) count++
      return count
    })
  await expect.poll(bright, { timeout: 30_000 }).toBeGreaterThan(300)
}

/** What five jobs take a hand that knows the way, through the real interface, each from a database of its own. */
export async function measureJobs(): Promise<Figure[]> {
  const folder = await mkdtemp(join(tmpdir(), 'wisp-jobs-'))
  const browser = await chromium.launch(config.use!.launchOptions!)
  try {
    const figures: Figure[] = []
    for (const [job, work] of Object.entries(jobs)) {
      const app = new App(join(folder, String(figures.length)))
      if (/flash/.test(job)) app.seed()
      await app.start()
      try {
        figures.push(await done(browser, job, (hand) => work(hand, app, folder)))
      } finally {
        await app.stop()
      }
    }
    console.table(figures)
    const app = new App(join(folder, 'thread'))
    app.seed()
    await app.start()
    try {
      console.table(await busyThread(browser, app))
    } finally {
      await app.stop()
    }
    return figures
  } finally {
    await browser.close()
    await rm(folder, { recursive: true, force: true })
  }
}

/** Tasks of the interface's thread while it has most to do, with sixty lanes: how many took more than 50 ms, and the longest. */
async function busyThread(browser: Browser, app: App) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  await countLongTasks(page)
  const hand = new Worker(page)
  await hand.editor.openDemo(app, 'Trace')
  while ((await hand.editor.parts.count()) < 60) {
    await page.keyboard.press('Shift+Enter')
    await page.getByRole('combobox').fill('Cast: Performer with limbs')
    await page.keyboard.press('Enter')
    await expect(hand.editor.keeping).toHaveText('All changes kept')
  }
  const rows: { meanwhile: string; longTasks: number; longest: number }[] = []
  const during = async (meanwhile: string, work: () => Promise<unknown>) => {
    await page.waitForTimeout(3000)
    await page.evaluate(() => void ((window as unknown as { longTasks: number[] }).longTasks.length = 0))
    await work()
    const tasks = await longTasksOf(page)
    rows.push({ meanwhile, longTasks: tasks.length, longest: Math.round(Math.max(0, ...tasks)) })
  }
  await hand.editor.choosePart()
  await hand.editor.go(48)
  await during('a run goes on', async () => {
    await page.keyboard.press('Shift+C')
    await followed(hand)
  })
  await during('frames are stepped through', async () => {
    for (let i = 0; i < 40; i++) await page.keyboard.press('a', { delay: 40 })
  })
  await hand.editor.step('Effects')
  await during('it plays', async () => {
    await page.keyboard.press('Space')
    await page.waitForTimeout(8000)
    await page.keyboard.press('Space')
  })
  await hand.editor.step('Output')
  await hand.button(/^Render/).click()
  await hand.editor.step('Effects')
  await during('it renders and plays', async () => {
    await page.keyboard.press('Space')
    await page.waitForTimeout(8000)
    await page.keyboard.press('Space')
  })
  await page.close()
  return rows
}

/** Notes every task of more than 50 ms on the page's thread from its beginning (https://www.w3.org/TR/longtasks-1/). */
const countLongTasks = (page: Page): Promise<unknown> =>
  page.addInitScript(() => {
    const tasks: number[] = []
    Object.assign(window, { longTasks: tasks })
    new PerformanceObserver((list) => list.getEntries().forEach((one) => tasks.push(one.duration))).observe({
      type: 'longtask',
      buffered: true,
    })
  })
const longTasksOf = (page: Page): Promise<number[]> =>
  page.evaluate(() => (window as unknown as { longTasks: number[] }).longTasks)

async function done(browser: Browser, job: string, work: (hand: Worker) => Promise<void>): Promise<Figure> {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  try {
    await countLongTasks(page)
    const hand = new Worker(page)
    await work(hand)
    const tasks = await longTasksOf(page)
    const { actions, presses, waited } = hand
    return {
      ...{ job, actions, presses, waited: Math.round(waited * 10) / 10 },
      ...{ longTasks: tasks.length, longest: Math.round(Math.max(0, ...tasks)) },
    }
  } finally {
    await page.close()
  }
}
