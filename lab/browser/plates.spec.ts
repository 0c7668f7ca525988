import { join } from 'node:path'
import { ffmpeg } from '../support/ffmpeg.ts'
import { EditorPage, expect, test } from './fixtures.ts'

/** Colour bars that stand still, and a white square of 60 pixels that goes along before them: a clip that the demo does not ship. */
const bars = (file: string) =>
  ffmpeg([
    ...['-f', 'lavfi', '-i', 'smptehdbars=size=640x360:rate=24:duration=1.5'],
    ...['-f', 'lavfi', '-i', 'color=white:size=60x60:rate=24:duration=1.5'],
    ...['-filter_complex', "[0][1]overlay=x='100+6*n':y=60:shortest=1,format=yuv420p"],
    ...['-c:v', 'libx264', '-crf', '12', '-g', '12', '-colorspace', 'bt709', file],
  ])
const left = (frame: number) => 100 + 6 * frame

test('a clean plate is made, stopped, looked at, painted into, undone and taken out', async ({ page, app, folder }) => {
  const file = join(folder, 'bars.mp4')
  bars(file)
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, file)
  const make = page.getByRole('button', { name: 'make a clean plate' })
  const clean = page.getByRole('button', { name: 'Clean', exact: true })
  const plates = async () => (await editor.records()).filter(({ type }) => type === 'plate')

  // Nobody is traced yet: there is nobody to take out.
  await clean.click()
  await make.click()
  await expect(page.getByText('Nobody is traced in this shot')).toBeVisible()

  // The square, by a pin with a key at both ends.
  await page.getByRole('button', { name: 'Overlay', exact: true }).click()
  for (const frame of [0, 35]) {
    await editor.go(frame)
    const [x0, y0, x1, y1] = [left(frame), 60, left(frame) + 60, 120]
    if (frame === 0) {
      await page.getByRole('button', { name: 'Pin: click four corners' }).click()
      for (const [x, y] of [
        [x0, y0],
        [x1, y0],
        [x1, y1],
        [x0, y1],
      ] as const)
        await editor.click(x, y)
      await expect(editor.keys).toHaveText('1')
    } else {
      await page.getByRole('button', { name: 'Choose and move' }).click()
      await editor.drag([left(0) + 30, 90], [left(35) + 30, 90])
      await expect(editor.keys).toHaveText('2')
    }
  }
  await editor.go(12)
  const under = { x: left(12) + 30, y: 90 }
  expect(Math.min(...(await editor.pixel(under.x, under.y)))).toBeGreaterThan(240)

  // Without a plate the hole is filled from its edge: nothing white is left.
  await clean.click()
  await editor.shows(12)
  await expect.poll(async () => Math.max(...(await editor.pixel(under.x, under.y)))).toBeLessThan(215)

  await make.click()
  await expect(page.getByRole('progressbar', { name: 'Clean plate' })).toBeVisible()
  await page.getByRole('button', { name: 'stop', exact: true }).click()
  await expect(page.getByText('Stopped: there is no clean plate')).toBeVisible()
  await expect(make).toBeVisible()
  expect(await plates()).toHaveLength(0)

  await make.click()
  await expect(page.getByTestId('plate-facts')).toContainText('from other frames')
  await expect(editor.keeping).toHaveText('All changes kept')
  const [made] = await plates()
  expect((made!.motions as number[]).length).toBe(4 * 36)
  // What other frames show there, at a bar's edge too: what the bars are on a frame without the square.
  const colours = () => Promise.all([8, 20, 40, 52].map((by) => editor.pixel(left(12) + by, 90)))
  await page.getByRole('button', { name: 'Plate', exact: true }).click()
  await editor.go(35)
  const shown = (await colours()).flat()
  await editor.go(12)
  await clean.click()
  await editor.shows(12)
  const off = async () => Math.max(...(await colours()).flat().map((level, i) => Math.abs(level - shown[i]!)))
  await expect.poll(off).toBeLessThan(8)

  // A stroke brings another frame in: the very square, so that it is seen.
  await page.getByRole('textbox', { name: 'From frame' }).fill('35')
  await page.getByRole('textbox', { name: 'From frame' }).press('Enter')
  await page.getByRole('button', { name: 'take the brush' }).click()
  const place = left(35) + 30
  await editor.go(0)
  expect(Math.max(...(await editor.pixel(place, 90)))).toBeLessThan(215)
  await editor.drag([place - 10, 90], [place + 10, 90])
  await expect.poll(async () => (await plates())[0]?.media).not.toBe(made!.media)
  await expect(page.getByText('bringing it in')).toBeHidden()
  // The still of before is gone with it, and the plate shows itself only where somebody is hidden.
  expect((await editor.records()).filter(({ type }) => type === 'media')).toHaveLength(2)
  await page.keyboard.press('Control+z')
  await expect.poll(async () => (await plates())[0]?.media).toBe(made!.media)

  // Made a second time and stopped, it is the one that was there.
  await page.getByRole('button', { name: 'make anew' }).click()
  await page.getByRole('button', { name: 'stop', exact: true }).click()
  await expect(page.getByText('the clean plate is the one that was there')).toBeVisible()
  expect((await plates())[0]!.media).toBe(made!.media)

  await page.getByRole('button', { name: 'take out' }).click()
  await expect(make).toBeVisible()
  await expect.poll(async () => (await plates()).length).toBe(0)
  await page.keyboard.press('Control+z')
  await expect(page.getByTestId('plate-facts')).toBeVisible()
})

test('surroundings scroll without a second performer, unless they are to be in it', async ({ page, app, folder }) => {
  const file = join(folder, 'bars.mp4')
  bars(file)
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, file)
  await page.getByRole('button', { name: 'Pin: click four corners' }).click()
  for (const [x, y] of [
    [left(0), 60],
    [left(0) + 60, 60],
    [left(0) + 60, 120],
    [left(0), 120],
  ] as const)
    await editor.click(x, y)
  await editor.step('Effects')
  await editor.atHalf()
  const card = await editor.addCard('Scroll')
  await card.getByRole('button', { name: 'Where it works' }).click()
  const panel = page.getByRole('group', { name: 'Where it works' })
  await panel.getByRole('checkbox').first().check()
  await panel.getByRole('button', { name: 'outside' }).click()
  await editor.shows(0)
  /** Share of white in the row where the square would slide past, by 0.3 of a width; at half size. */
  const white = () =>
    editor.canvas.evaluate((canvas) => {
      const { data } = (canvas as HTMLCanvasElement).getContext('2d')!.getImageData(0, 45, 320, 1)
      let count = 0
      for (let i = 0; i < data.length; i += 4) if (Math.min(data[i]!, data[i + 1]!, data[i + 2]!) > 230) count++
      return count
    })
  await expect.poll(white).toBeLessThan(34)
  expect(await white()).toBeGreaterThan(26)
  await panel.getByRole('checkbox', { name: 'with them still in what is changed' }).check()
  await expect.poll(white).toBeGreaterThan(52)
  // Beside the card stands what the hole is filled from, and a way to better it.
  await panel.getByRole('checkbox', { name: 'with them still in what is changed' }).uncheck()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('region', { name: 'Clean plate' })).toContainText('from the edge of the hole')
})
