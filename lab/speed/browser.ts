import type { Page } from '@playwright/test'
import { duplicate } from '#core/edits/duplicate.ts'
import { makeKey } from '#core/records/make.ts'
import { Records } from '#core/records/records.ts'
import type { AnyRecord } from '#core/records/types.ts'
import { makePart } from '#core/shapes/make.ts'
import { demoRecords } from '../demo/demoRecords.ts'
import { EditorPage } from '../support/editorPage.ts'
import { enlarged } from './enlarged.ts'
import { clipName, inBrowser, openEnlarged } from './inBrowser.ts'
import { median, result, type Result } from './measure.ts'
import type { PageBench } from './page.ts'

/** Until all frames are ready. The page tells it by itself: asking again and again would take a tenth of its time. */
const ready = (page: Page) =>
  page.getByRole('progressbar', { name: 'Frames ready' }).evaluate(
    (bar) =>
      new Promise<void>((done) => {
        if (bar.getAttribute('aria-valuenow') === '100') return done()
        new MutationObserver((_, observer) => {
          if (bar.getAttribute('aria-valuenow') !== '100') return
          observer.disconnect()
          done()
        }).observe(bar, { attributes: true })
      }),
  )
/** Milliseconds that a key takes until the page has drawn what it means: the handler and what it sets off at once. */
const pressed = (page: Page, key: string, times: number, held: { ctrlKey?: boolean } = {}) =>
  page.evaluate(
    async ([name, count, also]) => {
      const all: number[] = []
      for (let i = 0; i < count; i++) {
        const begin = performance.now()
        document.body.dispatchEvent(new KeyboardEvent('keydown', { key: name, bubbles: true, ...also }))
        // Vue redraws in microtasks; a message comes after all of them.
        await new Promise<void>((done) => {
          const { port1, port2 } = new MessageChannel()
          port1.onmessage = () => done()
          port2.postMessage(0)
        })
        all.push(performance.now() - begin)
        await new Promise((done) => setTimeout(done, 30))
      }
      return all
    },
    [key, times, held] as const,
  )

/** Rods with keys at even steps in a shot of so many frames, in a clip that is not there. */
function manyKeys(parts: number, frames: number, step: number): AnyRecord[] {
  const out: AnyRecord[] = [
    {
      ...{
        type: 'media',
        id: 'many',
        name: 'long.mp4',
        hash: 'f'.repeat(64),
        codec: 'avc',
        audio: '',
        width: 1280,
        height: 720,
        rotation: 0,
      },
      ...{
        frames,
        rate: 24,
        variableRate: false,
        seconds: frames / 24,
        bytes: 1,
        matrix: 'bt709',
        range: 'limited',
        tagged: true,
      },
    },
    { type: 'shot', id: 'many-shot', media: 'many', name: 'Many keys', order: 9, in: 0, out: frames, join: 0 },
  ]
  for (let p = 0; p < parts; p++) {
    out.push({
      type: 'member',
      id: `many-m${p}`,
      shot: 'many-shot',
      name: `Prop ${p}`,
      kind: 'prop',
      colour: p % 8,
      order: p,
    })
    out.push(makePart({ id: `many-p${p}`, member: `many-m${p}`, name: 'shaft', kind: 'rod', order: 1 }))
    for (let frame = 0; frame < frames; frame += step)
      out.push(makeKey(`many-p${p}`, frame, [100 + p, 100, 300 + frame, 200]))
  }
  return out
}
/** 20 rods with 500 keys each, unless said otherwise; as many changes as the server takes records in. */
const addManyKeys = (address: string, project: string, records = manyKeys(20, 500, 1)): Promise<void> =>
  addRecords(address, project, records)

/** Puts records into a project, where nobody has it open; `base`: its revision. */
async function addRecords(address: string, project: string, records: AnyRecord[], base = 0): Promise<void> {
  const most = 15_000
  for (let k = 0; k * most < records.length; k++) {
    const put = records.slice(k * most, (k + 1) * most)
    const answer = await fetch(`${address}/api/projects/${project}/changes`, {
      method: 'POST',
      body: JSON.stringify({ id: `many-${k}`, base: base + k, label: 'many', diff: { put, remove: [] } }),
      headers: { 'Content-Type': 'application/json' },
    })
    if (!answer.ok) throw new Error(await answer.text())
  }
}

/** Opens one of the demo's shots on the step Effects as if its clip had so many lines. */
async function openShotEnlarged(page: Page, address: string, folder: string, shot: string, lines: number) {
  const project = await openEnlarged(page, address, folder, clipName(shot), lines)
  const there = (await (await fetch(`${address}/api/projects/${project}`)).json()) as {
    revision: number
    records: AnyRecord[]
  }
  const own = there.records.find((one) => one.type === 'shot')!
  const all = new Records(enlarged(demoRecords().records, lines / 720))
  const shotId = `shot-${shot}`
  const members = all.childrenOf('member', shotId)
  const parts = members.flatMap(({ id }) => all.childrenOf('part', id))
  await page.goto('about:blank')
  const records: AnyRecord[] = [
    ...members.map((one) => ({ ...one, shot: own.id })),
    ...parts,
    ...parts.flatMap(({ id }) => [...all.childrenOf('key', id), ...all.childrenOf('away', id)]),
    ...all.childrenOf('effect', shotId).map((one) => ({ ...one, shot: own.id })),
  ]
  // The demo itself lies beside it.
  const fresh = duplicate(records, () => crypto.randomUUID())
  await addRecords(address, project, fresh, there.revision)
  await page.goto(`${address}/project/${project}/effects/${own.id}`)
}

/** Milliseconds from the shelf until the cast of the shot with many keys stands on the screen. */
async function openManyKeys(page: Page, address: string, project: string): Promise<number> {
  await page.goto(address)
  await page.getByRole('link', { name: 'Open The Reed Ferry' }).waitFor()
  const begin = performance.now()
  await page.goto(`${address}/project/${project}/trace/many-shot`)
  await page.getByText('Prop 0').first().waitFor()
  return performance.now() - begin
}
/** Chooses the first prop's rod, as who goes on tracing it. */
async function chooseFirst(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'shaft rod' }).first().click()
  await page.getByTestId('cell').waitFor()
}

/** What takes how long in a shot of 5,000 frames, in milliseconds, by how many keys 20 rods have together. */
function atLength(keys: 10_000 | 100_000) {
  return inBrowser(async (page, address, project) => {
    await addManyKeys(address, project, manyKeys(20, 5000, 100_000 / keys))
    const open = await openManyKeys(page, address, project)
    await chooseFirst(page)
    await page.waitForTimeout(4000)
    const commit = median(await pressed(page, 'ArrowRight', 20))
    const undo = median(await pressed(page, 'z', 20, { ctrlKey: true }))
    const scroll = median(await pressed(page, 'd', 40))
    return { open, commit, undo, scroll }
  })
}
/** Measured once for all that is told of it. */
let lengths: Promise<[some: Lengths, many: Lengths]> | null = null
type Lengths = Awaited<ReturnType<typeof atLength>>
const measureLengths = async (): Promise<[Lengths, Lengths]> => [await atLength(10_000), await atLength(100_000)]
/** Each at ten times as many keys beside ten times the time: growing as they do would be 1. */
const lengthBenches = Object.fromEntries(
  (['open', 'commit', 'undo', 'scroll'] as const).map((what) => [
    `${what}-length`,
    async () => {
      const [some, many] = await (lengths ??= measureLengths())
      return result(`${what}-length`, many[what], 'ten times that at a tenth of 100,000 keys', 10 * some[what], 1)
    },
  ]),
)

/** The demo's shots, each to be live at half size; two of them also as if they had 1080 lines. */
const liveShots = [
  ...['jetty-swing', 'leap', 'two-poles', 'heron-mask', 'moon-pond'].map((shot) => ({ shot, lines: 720 })),
  ...['jetty-swing', 'two-poles'].map((shot) => ({ shot, lines: 1080 })),
].map((one) => ({ ...one, name: `live-${one.shot}${one.lines > 720 ? `-${one.lines}` : ''}` }))

/** Milliseconds a frame in which all of an open shot are drawn anew after a change, while it plays. */
async function drawnAnew(page: Page, frames: number): Promise<number> {
  const times: number[] = []
  // The first card is that of the time.
  await page
    .getByRole('article')
    .nth(1)
    .click({ position: { x: 60, y: 6 } })
  for (let round = 0; round < 3; round++) {
    await page.getByRole('button', { name: 'Before', exact: true }).click()
    await page.waitForTimeout(500)
    // Off and on again: every frame is stale.
    await page.getByRole('switch', { name: 'On', exact: true }).click()
    await page.getByRole('switch', { name: 'On', exact: true }).click()
    await page.waitForTimeout(500)
    await page.getByRole('button', { name: 'After', exact: true }).click()
    const begin = performance.now()
    // Playing: every worker draws, as when the result is watched.
    await page.keyboard.press('Space')
    await ready(page)
    times.push((performance.now() - begin) / frames)
    await page.keyboard.press('Space')
  }
  return median(times)
}

/** All frames of a shot at half size, decoded, drawn anew after a change and shown, on all workers, while it plays. */
const liveBenches = Object.fromEntries(
  liveShots.map(({ shot, lines, name }) => [
    name,
    () =>
      inBrowser(async (page, address, project, folder) => {
        if (lines > 720) await openShotEnlarged(page, address, folder, shot, lines)
        else await page.goto(`${address}/project/${project}/effects/shot-${shot}`)
        await page.getByTestId('frame').waitFor()
        // Rounds are alike only at one size for all times.
        await new EditorPage(page).atHalf()
        await ready(page)
        const frames = shot === 'jetty-swing' ? 96 : 72
        return result(name, await drawnAnew(page, frames), 'a frame at 24 a second', 1000 / 24, 1)
      }),
  ]),
)

/** A whole export to H.264 of burning frames against the encoder alone, at the size of the demo or enlarged to so many lines. */
const exportBench = (name: string, lines: number, frames: [number, number]) => () =>
  inBrowser(async (page, address, project, folder) => {
    const large = lines > 720 ? await openEnlarged(page, address, folder, 'jetty-swing.mp4', lines) : ''
    await page.goto(address)
    await page.addScriptTag({ type: 'module', url: '/bench.js' })
    await page.waitForFunction('window.bench')
    const run = (what: 'exported' | 'encoded') =>
      page.evaluate(
        ([work, of, range, instead]) =>
          (window as unknown as { bench: PageBench }).bench[work](of, 'shot-jetty-swing', range, instead),
        [what, project, frames, large] as const,
      )
    const count = frames[1] - frames[0]
    const times: [number[], number[]] = [[], []]
    for (let round = 0; round < 3; round++) {
      times[0].push((await run('exported')) / count)
      times[1].push((await run('encoded')) / count)
    }
    const reference = `the H.264 encoder alone on ready frames, ${lines} lines`
    return result(name, median(times[0]), reference, median(times[1]), 1.3)
  })

export const browserBenches: Record<string, () => Promise<Result>> = {
  /** A step to a frame that is ready, until its picture stands on the canvas. */
  step: () =>
    inBrowser(async (page, address, project) => {
      await page.goto(`${address}/project/${project}/trace/shot-jetty-swing`)
      await ready(page)
      const ms = median(await pressed(page, 'd', 60))
      return result('step', ms, 'one frame of a 60 Hz screen', 1000 / 60, 1)
    }),

  export: exportBench('export', 720, [10, 49]),
  'export-1080p': exportBench('export-1080p', 1080, [10, 49]),
  'export-4k': exportBench('export-4k', 2160, [10, 34]),

  ...liveBenches,
  ...lengthBenches,

  /** A blade with five halos behind a holdout on a clip of 4K, seen at a quarter of it, once its frames are decoded. */
  large: () =>
    inBrowser(async (page, address, _, folder) => {
      await openEnlarged(page, address, folder, 'two-poles.webm', 2160)
      await page.locator('canvas[data-fresh=true]').waitFor()
      const stage = (await page.getByTestId('stage').boundingBox())!
      await page.getByRole('button', { name: /^Rod/ }).click()
      await page.mouse.click(stage.x + 0.4 * stage.width, stage.y + 0.7 * stage.height)
      await page.mouse.click(stage.x + 0.7 * stage.width, stage.y + 0.3 * stage.height)
      await page.getByRole('button', { name: /^Oval/ }).click()
      await page.mouse.click(stage.x + 0.5 * stage.width, stage.y + 0.5 * stage.height)
      await page.mouse.click(stage.x + 0.6 * stage.width, stage.y + 0.6 * stage.height)
      await page.getByRole('navigation').getByRole('link', { name: 'Effects' }).click()
      await page
        .getByRole('button', { name: /^Let .* burn$/ })
        .first()
        .click()
      await new EditorPage(page).atSize('quarter size')
      await ready(page)
      return result('large', await drawnAnew(page, 72), 'a frame at 24 a second', 1000 / 24, 1)
    }),

  /** Writing a key with Enter in a project of 10,000 keys, with all that it sets off in the page. */
  commit: () =>
    inBrowser(async (page, address, project) => {
      await addManyKeys(address, project)
      await openManyKeys(page, address, project)
      await chooseFirst(page)
      await page.waitForTimeout(1000)
      const times = await pressed(page, 'ArrowRight', 40)
      return result('commit', median(times), '10 ms', 10, 1)
    }),

  /** Dragging a point with 60 lanes and 3,000 frames open: the slowest of all steps counts. */
  drag: () =>
    inBrowser(async (page, address, project) => {
      await addManyKeys(address, project, manyKeys(60, 3000, 10))
      await openManyKeys(page, address, project)
      await chooseFirst(page)
      await page.waitForTimeout(3000)
      // The compiler names functions with a helper of its own, which the page does not have.
      await page.evaluate('window.__name = (work) => work')
      const times = await page.evaluate(async () => {
        const overlay = document.querySelector('[data-testid=overlay]')!
        const handle = overlay.querySelector('circle')!.getBoundingClientRect()
        const [x, y] = [handle.x + handle.width / 2, handle.y + handle.height / 2]
        const send = (type: string, dx: number) =>
          overlay.dispatchEvent(
            new PointerEvent(type, { clientX: x + dx, clientY: y + dx / 2, button: 0, pointerId: 1, bubbles: true }),
          )
        Element.prototype.setPointerCapture = () => {}
        send('pointerdown', 0)
        const all: number[] = []
        for (let i = 1; i <= 120; i++) {
          const begin = performance.now()
          send('pointermove', 5 * Math.sin(i / 5) * 8)
          await new Promise<void>((done) => {
            const { port1, port2 } = new MessageChannel()
            port1.onmessage = () => done()
            port2.postMessage(0)
          })
          all.push(performance.now() - begin)
          await new Promise((done) => setTimeout(done, 8))
        }
        send('pointerup', 0)
        return all
      })
      return result('drag', Math.max(...times.slice(5)), 'one frame of a 60 Hz screen', 1000 / 60, 1)
    }),

  /** Opening a project of 10,000 keys, until its cast stands on the screen. */
  open: () =>
    inBrowser(async (page, address, project) => {
      await addManyKeys(address, project)
      const times: number[] = []
      for (let round = 0; round < 3; round++) times.push(await openManyKeys(page, address, project))
      return result('open', median(times), '2 s', 2000, 1)
    }),
}
