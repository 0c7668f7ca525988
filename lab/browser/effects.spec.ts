import { readFile, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { Scratch, Slot } from '#core/pixels/buffers/scratch.ts'
import { i420Layout, type Yuv } from '#core/pixels/buffers/yuv.ts'
import { startKernels } from '#core/pixels/kernels/engine.ts'
import { Records } from '#core/records/records.ts'
import type { AnyRecord } from '#core/records/types.ts'
import { renderFrame } from '#core/render/frame.ts'
import { sceneOf } from '#core/render/scene.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { OutputPage } from '../support/outputPage.ts'
import { demoMedia } from '../support/places.ts'
import { EditorPage, expect, test } from './fixtures.ts'

const slots = { codes: new Slot(), plate: new Slot() }

test('effects: the card’s words are edited in place, numbers carry keys, nothing is there before the light is lit', async ({
  page,
  demo,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Effects')
  await editor.atHalf()
  // The blade alone: what it casts and leaves behind would light the place that is looked at.
  for (const other of ['cast light', 'afterglow']) {
    await page.getByRole('button', { name: `More for this ${other}` }).click()
    await page.getByRole('menuitem', { name: 'Delete' }).click()
  }
  const card = page.getByRole('article', { name: 'Blade card' })
  await card.click({ position: { x: 6, y: 6 } })
  await card.getByRole('button', { name: 'Blending' }).click()
  await page.getByRole('option', { name: /Screen/ }).click()
  await card.getByLabel('Opacity').fill('80')
  await card.getByLabel('Opacity').press('Enter')
  await page.getByLabel('Outside', { exact: true }).fill('#ff2200')
  await page.getByLabel('Outside', { exact: true }).press('Enter')
  await expect(card).toContainText('red')
  // Words are no number: a sentence says so, and nothing changes.
  await page.getByLabel('Core width', { exact: true }).fill('wide')
  await page.getByLabel('Core width', { exact: true }).press('Enter')
  await expect(page.getByText('Core width takes a number')).toBeVisible()
  await expect(page.getByLabel('Core width', { exact: true })).toHaveValue('11.0')
  await page.getByRole('button', { name: 'Remove halo 5' }).click()
  await page.getByRole('button', { name: 'halo', exact: true }).click()
  await page.getByLabel('Feather of halo 5').fill('90')
  await page.getByLabel('Feather of halo 5').press('Enter')

  await editor.go(40)
  await page.getByRole('button', { name: 'Key Strength here' }).click()
  await editor.go(44)
  await page.getByLabel('Strength', { exact: true }).fill('0')
  await page.getByLabel('Strength', { exact: true }).press('Enter')
  await expect(editor.keeping).toHaveText('All changes kept')
  const effect = (await editor.records()).find(
    (record) => record.type === 'effect' && record.id === 'blade-keeper',
  ) as unknown as {
    blend: string
    opacity: number
    settings: { outside: string; strength: { keys: object[] }; halos: { feather: number }[] }
  }
  expect(effect).toMatchObject({
    blend: 'screen',
    opacity: 0.8,
    settings: {
      outside: '#ff2200',
      strength: {
        keys: [
          { frame: 40, value: 1 },
          { frame: 44, value: 0 },
        ],
      },
    },
  })
  expect(effect.settings.halos.map((halo) => halo.feather)).toEqual([3, 10, 30, 60, 90])

  // Out at frame 44, burning red at 40: the canvas shows it at half size.
  const rod = (await editor.records()).filter((r) => r.type === 'key' && r.part === 'ferry-pole-shaft') as unknown as {
    frame: number
    points: number[]
  }[]
  const near = rod.reduce((a, b) => (Math.abs(b.frame - 44) < Math.abs(a.frame - 44) ? b : a))
  const [hx, hy, tx, ty] = near.points as [number, number, number, number]
  const at = [(hx + (tx - hx) * 0.3) / 2, (hy + (ty - hy) * 0.3) / 2] as const
  await editor.shows(44)
  const dark = await editor.pixel(...at)
  expect(Math.min(...dark)).toBeLessThan(200)
  await page.getByRole('button', { name: 'Before' }).click()
  await editor.shows(44)
  expect(await editor.pixel(...at)).toEqual(dark)
})

test('from a card to its region, to a keyed number, to a file: the surroundings go soft, the performer stays', async ({
  page,
  demo,
  folder,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Effects', 'Leap')
  await editor.atHalf()
  // What the demo has put there is taken away: this is about one card.
  for (const other of ['soften', 'grade', 'text', 'echo', 'motion blur']) {
    await page.getByRole('button', { name: `More for this ${other}` }).click()
    await page.getByRole('menuitem', { name: 'Delete' }).click()
  }
  await editor.addCard('Soften', 'sideways')
  const card = page.getByRole('article', { name: 'Soften card' })
  // A blur is usually about what is around a performer; it can be about anything.
  await expect(card).toContainText('everything outside')
  await card.getByRole('button', { name: 'Where it works' }).click()
  await card.getByRole('checkbox', { name: 'Keeper' }).uncheck()
  await expect(card).toContainText('the whole picture')
  await card.getByRole('checkbox', { name: 'Keeper' }).check()
  await card.getByRole('button', { name: 'outside', exact: true }).click()
  await expect(card).toContainText('everything outside')
  await page.keyboard.press('Escape')

  await editor.go(30)
  await page.getByRole('button', { name: 'Key Blur here' }).click()
  await page.getByLabel('Blur', { exact: true }).last().fill('0')
  await page.getByLabel('Blur', { exact: true }).last().press('Enter')
  await editor.go(40)
  await page.getByLabel('Blur', { exact: true }).last().fill('60')
  await page.getByLabel('Blur', { exact: true }).last().press('Enter')
  await expect(editor.keeping).toHaveText('All changes kept')

  /** Sum of differences of neighbours along a row of the half-size picture: what a blur takes away. */
  const detail = (frame: number, y: number) =>
    editor.go(frame).then(() =>
      editor.canvas.evaluate((canvas, row) => {
        const { data } = (canvas as HTMLCanvasElement).getContext('2d')!.getImageData(0, row, 640, 1)
        let sum = 0
        for (let i = 4; i < data.length; i += 4) sum += Math.abs(data[i]! - data[i - 4]!)
        return sum
      }, y),
    )
  // Through the reeds, far from the performer.
  expect(await detail(30, 190)).toBeGreaterThan(3 * (await detail(40, 190)))
  const middle = (await editor.records()).filter(
    (one) => one.type === 'key' && one.part === 'leaper-torso',
  ) as unknown as {
    frame: number
    points: number[]
  }[]
  const torso = middle.reduce((a, b) => (Math.abs(b.frame - 40) < Math.abs(a.frame - 40) ? b : a))
  await editor.go(torso.frame)
  const places = torso.points.length / 8
  const mean = (k: number) => torso.points.filter((_, i) => i % 8 === k).reduce((a, b) => a + b) / places
  const at = [mean(0) / 2, mean(1) / 2] as const
  const after = await editor.pixel(...at)
  await page.getByRole('button', { name: 'Before' }).click()
  await editor.shows(torso.frame)
  expect(await editor.pixel(...at)).toEqual(after)

  // The same in a file of frames 30 to 40, decoded.
  await editor.step('Output')
  const output = new OutputPage(page, folder)
  await output.frame('To', 40)
  await output.frame('From', 30)
  await output.render()
  const film = await output.made('Leap frames 30 to 40.mp4')
  const inFile = (frame: number) => {
    const select = ['-vf', `select=eq(n\\,${frame}),format=gray`, '-frames:v', '1', '-f', 'rawvideo', '-']
    const grey = ffmpeg(['-i', film, ...select])
    let sum = 0
    for (let x = 1; x < 1280; x++) sum += Math.abs(grey[380 * 1280 + x]! - grey[380 * 1280 + x - 1]!)
    return sum
  }
  expect(inFile(0)).toBeGreaterThan(2 * inFile(10))
})

test('a number is driven by motion: its lane shows what feeds it, and a fast tip burns brighter than a slow one', async ({
  page,
  demo,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Effects', 'Two poles')
  await editor.atHalf()
  const card = page.getByRole('article', { name: 'Blade card' }).first()
  await expect(card).toBeVisible()
  await card.click({ position: { x: 60, y: 6 } })
  const drive = page.getByRole('region', { name: 'Drive of Strength' })
  await expect(drive).toBeVisible()
  await drive.getByRole('button', { name: /^Signal: tip speed/ }).click()
  await page.getByRole('option', { name: 'contact' }).click()
  await expect(drive).toContainText('Choose the second one')
  await drive.getByRole('button', { name: 'release' }).click()
  await expect(drive).toHaveCount(0)
  await page.getByRole('button', { name: 'Drive Strength by motion' }).click()
  await drive.getByRole('button', { name: /^Signal: speed/ }).click()
  await page.getByRole('option', { name: 'tip speed' }).click()
  await drive.getByRole('textbox', { name: 'Number from' }).fill('0')
  await drive.getByRole('textbox', { name: 'Number from' }).press('Enter')
  await expect(editor.keeping).toHaveText('All changes kept')
  const kept = (await editor.records()).find((one) => one.id === 'shot-two-poles-3-blade') as unknown as {
    settings: { strength: object }
  }
  expect(kept.settings.strength).toMatchObject({ signal: 'tipSpeed', of: 'keeper-pole', to: [0, 1] })
  // Alone and undisturbed: light of the blade over the whole picture, where it swings and where it rests.
  await page.getByRole('button', { name: 'The chosen card alone' }).click()
  const light = async (frame: number) => {
    await editor.go(frame)
    const sum = (label: string) =>
      page
        .getByRole('button', { name: label, exact: true })
        .click()
        .then(() => editor.shows(frame))
        .then(() =>
          editor.canvas.evaluate((canvas) => {
            const { data } = (canvas as HTMLCanvasElement).getContext('2d')!.getImageData(0, 0, 640, 360)
            let all = 0
            for (let i = 0; i < data.length; i += 4) all += data[i + 2]!
            return all
          }),
        )
    return (await sum('After')) - (await sum('Before'))
  }
  expect(await light(18)).toBeGreaterThan(4 * (await light(4)))
})

test('looks: put on a member or on the picture, kept for every project, taken out as a file and brought in again', async ({
  page,
  demo,
  folder,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Effects', 'Two poles')
  const cards = page.getByRole('article')
  const before = await cards.count()
  const openLooks = async () => {
    await page.getByRole('button', { name: 'Add an effect' }).click()
    await page.getByRole('button', { name: 'Looks' }).click()
  }
  await openLooks()
  await page.getByRole('button', { name: 'Put Ember reed on Stranger’s oar' }).click()
  await expect(cards).toHaveCount(before + 3)
  await page.getByRole('button', { name: /^Undo: Put on Ember reed/ }).click()
  await expect(cards).toHaveCount(before)
  await openLooks()
  await page.getByRole('button', { name: 'Put Lamp oil on the picture' }).click()
  await expect(cards).toHaveCount(before + 3)
  await expect(page.getByRole('article', { name: 'Frame card' })).toContainText('the whole picture')

  await openLooks()
  const list = page.getByRole('list', { name: 'Looks' })
  const keep = async (name: string) => {
    await page.getByRole('textbox', { name: 'Name of the new look' }).fill(name)
    await page.getByRole('button', { name: 'Keep', exact: true }).click()
    await expect(list).toContainText(name)
  }
  await test.step('one that can not be kept says why, and its name stays to try again', async () => {
    await page.route('**/api/looks/*', (route) => route.abort(), { times: 1 })
    const name = page.getByRole('textbox', { name: 'Name of the new look' })
    await name.fill('Ferry light')
    await page.getByRole('button', { name: 'Keep', exact: true }).click()
    await expect(page.getByText(/server does not answer/)).toBeVisible()
    await expect(list).not.toContainText('Ferry light')
    await expect(name).toHaveValue('Ferry light')
  })
  await keep('Ferry light')
  await page.getByRole('button', { name: /^Whose cards/ }).click()
  await page.getByRole('option', { name: 'the whole picture' }).click()
  await keep('Old evening')
  const looks = async () =>
    (await (await page.request.get(`${demo.address}/api/looks`)).json()) as {
      name: string
      preview: string
      cards: object[]
    }[]
  const [own, evening] = await looks()
  expect(own).toMatchObject({ name: 'Ferry light' })
  expect(own!.preview).toMatch(/^data:image\/jpeg;base64,/)
  expect(own!.cards.length).toBeGreaterThan(1)
  expect(evening!.cards.length).toBeGreaterThanOrEqual(3)
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Export Ferry light' }).click(),
  ])
  const file = join(folder, download.suggestedFilename())
  await download.saveAs(file)
  expect(JSON.parse(await readFile(file, 'utf8'))).toMatchObject({
    format: 'wisp-trail-look',
    looks: [{ name: 'Ferry light' }],
  })
  // A slip is taken back in place.
  await page.getByRole('button', { name: 'Delete Old evening' }).click()
  await expect(list).not.toContainText('Old evening')
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(list).toContainText('Old evening')
  await page.getByRole('button', { name: 'Delete Ferry light' }).click()
  await expect(list).not.toContainText('Ferry light')
  await page.getByLabel('File of looks').setInputFiles(file)
  await expect(page.getByText('One look was brought in.')).toBeVisible()
  await expect(list).toContainText('Ferry light')
  const broken = join(folder, 'broken.json')
  await writeFile(broken, '{"format":"something else"}')
  await page.getByLabel('File of looks').setInputFiles(broken)
  await expect(page.getByText('This file holds no looks.')).toBeVisible()
  expect(await looks()).toHaveLength(2)

  // Another shot, a page loaded anew: they are offered all the same.
  await page.reload()
  await openLooks()
  await expect(list).toContainText('Ferry light')
  await expect(list).toContainText('Old evening')
})

test('cards are grouped, reordered, copied for another, and say so when their member is gone while the rest still renders', async ({
  page,
  demo,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Effects', 'Two poles')
  const kept = () => expect(editor.keeping).toHaveText('All changes kept')
  const entry = async (card: string, name: string, nth = 0) => {
    await page
      .getByRole('button', { name: `More for this ${card}` })
      .nth(nth)
      .click()
    await page.getByRole('menuitem', { name, exact: true }).click()
    await kept()
  }
  await entry('cast light', 'Group with the card above', 1)
  const group = page
    .getByRole('banner', { name: 'Group Group 1' })
    .or(page.locator('header[aria-label="Group Group 1"]'))
  await expect(group).toBeVisible()
  await group.getByRole('switch').click()
  await kept()
  const lights = async () =>
    (await editor.records()).filter((one) => one.kind === 'castLight' && one.shot === 'shot-two-poles')
  expect((await lights()).map((one) => one.on)).toEqual([false, false])
  await group.getByRole('button', { name: /^Fold/ }).click()
  await expect(page.getByRole('article', { name: 'Cast light card' }).first()).toBeHidden()

  await entry('contact flash', 'Copy to Jetty swing')
  expect(
    (await editor.records()).filter((one) => one.kind === 'flash' && one.shot === 'shot-jetty-swing'),
  ).toHaveLength(1)

  // Dragged by its grip above the first blade.
  const flash = page.getByRole('article', { name: 'Contact flash card' })
  const blade = page.getByRole('article', { name: 'Blade card' }).nth(1)
  // The long menu has scrolled the list; both stand in sight from the upper one on.
  await blade.scrollIntoViewIfNeeded()
  const [from, to] = [(await flash.locator('.grip').boundingBox())!, (await blade.boundingBox())!]
  await page.mouse.move(from.x + 6, from.y + 12)
  await page.mouse.down()
  await page.mouse.move(from.x + 10, from.y - 10, { steps: 4 })
  await page.mouse.move(to.x + 40, to.y + 30, { steps: 15 })
  await page.waitForTimeout(400)
  await page.mouse.up()
  const order = async () =>
    (await editor.records())
      .filter((one) => one.type === 'effect' && one.shot === 'shot-two-poles')
      .sort((a, b) => Number(a.order) - Number(b.order))
      .map((one) => one.kind)
  await expect.poll(order).toEqual(['castLight', 'castLight', 'blade', 'flash', 'blade', 'sparks', 'shake', 'relight'])

  // Without the oar: its cards say so, the other blade burns on.
  await editor.step('Trace')
  await page.getByRole('button', { name: 'More for Stranger’s oar' }).click()
  await page.getByRole('menuitem', { name: 'Delete' }).click()
  await kept()
  await editor.step('Effects')
  await editor.atHalf()
  const orphan = page.getByRole('article', { name: 'Blade card' }).nth(1)
  await expect(orphan).toContainText('somebody who is gone')
  await expect(orphan.getByRole('status')).toHaveText(/^It does nothing: whom it is about is not in this shot/)
  const key = (await editor.records()).find(
    (one) => one.type === 'key' && one.part === 'keeper-pole-pole' && one.frame === 0,
  ) as unknown as {
    points: [number, number, number, number]
  }
  await editor.go(0)
  const [hx, hy, tx, ty] = key.points
  expect(Math.min(...(await editor.pixel((hx + 0.7 * (tx - hx)) / 2, (hy + 0.7 * (ty - hy)) / 2)))).toBeGreaterThan(225)
})

test('the browser and Node draw the same frame to the same byte', async ({ page, demo }) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Effects', 'Two poles')
  await editor.atHalf()
  const records = new Records((await editor.records()) as unknown as AnyRecord[])
  const scene = sceneOf(records, 'shot-two-poles')!
  for (const frame of [18, 24, 31]) {
    await editor.go(frame)
    const theirs = await editor.canvas.evaluate((canvas) => {
      const { data } = (canvas as HTMLCanvasElement).getContext('2d')!.getImageData(0, 0, 640, 360)
      return [...new Uint32Array(data.buffer)]
    })
    // The codec says exactly what a frame is: ffmpeg decodes it to the same codes as the browser does.
    const clip = join(demoMedia, 'two-poles.webm')
    const codes = ffmpeg([
      ...['-i', clip, '-vf', `select=eq(n\\,${frame})`, '-frames:v', '1'],
      ...['-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-'],
    ])
    const scratch = new Scratch(startKernels())
    const data = scratch.bytes(slots.codes, codes.length)
    data.set(codes)
    const { planes } = i420Layout(1280, 720)
    const yuv: Yuv = { data, width: 1280, height: 720, planes, matrix: 'bt709', range: 'limited', rotation: 0 }
    const words = scratch.words(slots.plate, 640 * 360)
    scratch.kernels.yuvToReducedRgba(yuv, 2, words)
    renderFrame(scene, frame, 0.5, { words, width: 640, height: 360 }, scratch)
    let different = 0
    for (let i = 0; i < words.length; i++) if (words[i] !== theirs[i]) different++
    expect(different).toBe(0)
  }
})

test('Enter gives the keys back, arrows step where nothing is traced, a panel closes with one Escape, words find effects', async ({
  page,
  demo,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Effects', 'Two poles')
  const before = JSON.stringify((await editor.records()).filter(({ type }) => type === 'key'))
  await editor.go(10)
  await page.keyboard.press('Escape')
  await editor.frame.blur()
  await page.keyboard.press('ArrowRight')
  await editor.shows(11)
  await page.getByRole('article', { name: 'Shake card' }).click()
  const amount = page.getByRole('textbox', { name: 'Amount', exact: true }).last()
  await amount.fill('7')
  await amount.press('Enter')
  await page.keyboard.press('ArrowLeft')
  await editor.shows(10)
  // Nothing that was traced has moved.
  expect(JSON.stringify((await editor.records()).filter(({ type }) => type === 'key'))).toBe(before)

  const where = page.getByRole('article', { name: 'Shake card' }).getByRole('button', { name: 'Where it works' })
  await where.click()
  const panel = page.getByRole('group', { name: 'Where it works' })
  await panel.getByRole('checkbox').first().check()
  await panel.getByRole('button', { name: 'outside' }).click()
  await panel.getByRole('textbox', { name: 'Grow' }).focus()
  await page.keyboard.press('Escape')
  await expect(panel).toBeHidden()

  await page.getByRole('button', { name: 'Add an effect' }).click()
  await page.getByRole('searchbox', { name: 'Search effects' }).fill('freeze')
  await expect(page.getByRole('dialog').getByRole('listitem')).toHaveCount(1)
  await expect(page.getByRole('dialog').getByRole('button', { name: /^Hold/ })).toBeVisible()
})

test('cards that are chosen together are set and undone together', async ({ page, demo }) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Effects', 'Leap')
  const [soften, grade] = ['Soften card', 'Grade card'].map((name) => page.getByRole('article', { name })) as [
    ReturnType<typeof page.getByRole>,
    ReturnType<typeof page.getByRole>,
  ]
  const sides = async () =>
    (await editor.records())
      .filter(({ kind, shot }) => shot === 'shot-leap' && (kind === 'soften' || kind === 'grade' || kind === 'words'))
      .map(({ region }) => (region as { side: string }).side)
  await grade.click({ position: { x: 6, y: 6 } })
  await soften.click({ modifiers: ['Control'], position: { x: 6, y: 6 } })
  await expect(page.getByText('2 cards chosen')).toBeVisible()
  await soften.getByRole('button', { name: 'Where it works' }).click()
  await page.getByRole('group', { name: 'Where it works' }).getByRole('button', { name: 'edge' }).click()
  await expect.poll(sides).toEqual(['edge', 'edge', 'inside'])
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect.poll(sides).toEqual(['outside', 'outside', 'inside'])
  // Another card alone lets them go.
  await page.getByRole('article', { name: 'Text card' }).click({ position: { x: 6, y: 6 } })
  await expect(page.getByText('cards chosen')).toBeHidden()
})
