import { join } from 'node:path'
import { makeClip } from '../support/clips.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { EditorPage, expect, test } from './fixtures.ts'

test('a blade takes on colours on its way: put on a bar, moved, taken off; contrast goes about what changes nothing', async ({
  page,
  app,
  folder,
}) => {
  const clip = join(folder, 'night.mp4')
  await makeClip(clip, { width: 640, height: 360, frames: 12 })
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, clip)
  await editor.click(100, 60)
  await expect(editor.hint).toContainText('Click the tip')
  await editor.click(540, 60)
  await editor.step('Effects')
  await editor.atHalf()
  await editor.go(0)
  await page.getByRole('button', { name: /burn$/ }).click()
  const way = page.getByRole('region', { name: 'Colours between' })
  const bar = way.getByRole('button', { name: 'Put a colour on the way' })
  const kept = async () => {
    await expect(editor.keeping).toHaveText('All changes kept')
    const blade = (await editor.records()).find((one) => one.type === 'effect' && one.kind === 'blade')!
    return (blade.settings as { between: { at: number; colour: string }[] }).between
  }
  /** Colour of the halo beside the middle of the blade, at half size. */
  const middle = async () => {
    await editor.shows(0)
    return editor.pixel(160, 38)
  }

  await test.step('a click puts one there, as the way is', async () => {
    const box = (await bar.boundingBox())!
    await bar.click({ position: { x: box.width / 2, y: box.height / 2 } })
    await expect(way.getByRole('button', { name: 'Colour 1 at 50 %' })).toBeVisible()
    await way.getByRole('button', { name: /^Colour on the way/ }).click()
    await page.getByLabel('Colour on the way: any colour').fill('#00ff00')
    await page.keyboard.press('Escape')
    await expect
      .poll(async () => {
        const [red, green, blue] = await middle()
        return green > 1.5 * red && green > 1.5 * blue
      })
      .toBe(true)
    expect(await kept()).toEqual([{ at: 0.5, colour: '#00ff00' }])
  })
  await test.step('it is moved by hand and by keys', async () => {
    const handle = way.getByRole('button', { name: /^Colour 1/ })
    const [from, box] = [(await handle.boundingBox())!, (await bar.boundingBox())!]
    await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2)
    await page.mouse.down()
    await page.mouse.move(box.x + 0.2 * box.width, from.y + 4, { steps: 4 })
    await page.mouse.up()
    await expect(handle).toHaveAccessibleName(/at (19|20|21) %/)
    await handle.press('Shift+ArrowRight')
    await expect(handle).toHaveAccessibleName(/at (29|30|31) %/)
  })
  await test.step('drawn away from the bar it is taken off', async () => {
    const handle = way.getByRole('button', { name: /^Colour 1/ })
    const from = (await handle.boundingBox())!
    await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2)
    await page.mouse.down()
    await page.mouse.move(from.x + 10, from.y + 120, { steps: 4 })
    await page.mouse.up()
    await expect(handle).toBeHidden()
    expect(await kept()).toEqual([])
    // What the hand did from its press on is one step; what the keys did before is another.
    await page.keyboard.press('Control+z')
    await expect(way.getByRole('button', { name: /^Colour 1 at (29|30|31) %/ })).toBeVisible()
    await page.keyboard.press('Control+z')
    await expect(way.getByRole('button', { name: /^Colour 1 at (19|20|21) %/ })).toBeVisible()
  })

  await test.step('contrast is 0 where it changes nothing, and 20 is a fifth more', async () => {
    await editor.addCard('Grade')
    const contrast = page.getByRole('textbox', { name: 'Contrast', exact: true })
    await expect(contrast).toHaveValue('0')
    await contrast.fill('20')
    await contrast.press('Enter')
    await expect(contrast).toHaveValue('20')
    await expect(editor.keeping).toHaveText('All changes kept')
    const grade = (await editor.records()).find((one) => one.type === 'effect' && one.kind === 'grade')!
    expect((grade.settings as { contrast: number }).contrast).toBeCloseTo(1.2, 6)
  })
})

test('a colour comes from the picture, from what is used, by temperature, or from those that were kept', async ({
  page,
  app,
  folder,
}) => {
  const clip = join(folder, 'clay.mp4')
  ffmpeg([
    ...[
      '-f',
      'lavfi',
      '-i',
      'color=0xC86432:s=640x360:r=24:d=0.5',
      '-vf',
      'scale=out_color_matrix=bt709',
      '-pix_fmt',
      'yuv420p',
      '-c:v',
      'libx264',
    ],
    ...['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', clip],
  ])
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, clip)
  await editor.click(100, 300)
  await editor.click(540, 300)
  await editor.step('Effects')
  await editor.go(0)
  await page.getByRole('button', { name: /burn$/ }).click()
  const settings = page.getByRole('complementary', { name: 'Settings: Effects' })
  const outside = settings.getByRole('button', { name: /^Outside: #/ })
  const panel = page.getByRole('group', { name: 'Outside' })
  const written = async () => /#[0-9a-f]{6}/.exec((await outside.getAttribute('aria-label'))!)![0]
  const channels = (hex: string) => [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16))

  await test.step('from the picture; Escape leaves it', async () => {
    const before = await written()
    await outside.click()
    await panel.getByRole('button', { name: 'From the picture' }).click()
    await expect(page.getByText('Click a colour in the picture')).toBeVisible()
    await page.keyboard.press('Escape')
    await expect(page.getByTestId('dropper')).toBeHidden()
    expect(await written()).toBe(before)
    await outside.click()
    await panel.getByRole('button', { name: 'From the picture' }).click()
    // The clip's own colour counts, not the light that lies over it.
    const picture = (await editor.canvas.boundingBox())!
    await page.mouse.click(picture.x + picture.width / 2, picture.y + 0.8 * picture.height)
    await expect.poll(written).not.toBe(before)
    const [r, g, b] = channels(await written()) as [number, number, number]
    for (const [is, was] of [
      [r, 0xc8],
      [g, 0x64],
      [b, 0x32],
    ] as const)
      expect(Math.abs(is - was)).toBeLessThanOrEqual(4)
  })
  const clay = await written()

  await test.step('by temperature, and what was used last is offered again', async () => {
    await outside.click()
    await panel.getByRole('textbox', { name: 'Temperature' }).fill('1900')
    await panel.getByRole('textbox', { name: 'Temperature' }).press('Enter')
    await expect.poll(async () => channels(await written())[2]).toBeLessThan(60)
    await expect(panel.getByRole('button', { name: /^In this project: / }).first()).toBeVisible()
    await panel.getByRole('button', { name: `Used last: ${clay}` }).click()
    expect(await written()).toBe(clay)
  })

  await test.step('dragged to those that are kept, and still where it came from', async () => {
    const used = panel.getByRole('button', { name: /^In this project: / }).first()
    const hex = (await used.getAttribute('title'))!
    const [from, to] = [
      (await used.boundingBox())!,
      (await panel.getByRole('button', { name: /^Keep #/ }).boundingBox())!,
    ]
    await page.mouse.move(from.x + 11, from.y + 11)
    await page.mouse.down()
    await page.mouse.move(from.x + 14, from.y + 14, { steps: 4 })
    await page.mouse.move(to.x + 4, to.y + 11, { steps: 12 })
    await page.mouse.move(to.x + 6, to.y + 11, { steps: 2 })
    await page.mouse.up()
    await expect(panel.getByRole('button', { name: `Kept: ${hex}` })).toHaveCount(1)
    await expect(panel.getByRole('button', { name: `In this project: ${hex}` })).toBeVisible()
    await panel.getByRole('button', { name: `Kept: ${hex}` }).press('Delete')
    await expect(panel.getByRole('button', { name: `Kept: ${hex}` })).toHaveCount(0)
  })

  await test.step('kept for every project, and taken out again', async () => {
    await panel.getByRole('button', { name: `Keep ${clay}` }).click()
    await page.keyboard.press('Escape')
    await page.reload()
    await page.getByRole('button', { name: /burn$/ }).waitFor({ state: 'detached' })
    await editor.card('Blade').click({ position: { x: 6, y: 6 } })
    await settings.getByRole('button', { name: /^Inside: #/ }).click()
    const inside = page.getByRole('group', { name: 'Inside' })
    await inside.getByRole('button', { name: `Kept: ${clay}` }).click()
    await expect(settings.getByRole('button', { name: `Inside: ${clay}` })).toBeVisible()
    await inside.getByRole('button', { name: `Kept: ${clay}` }).press('Delete')
    await expect(inside.getByRole('button', { name: `Kept: ${clay}` })).toHaveCount(0)
  })

  await test.step('a word of a sentence opens the same', async () => {
    await page.keyboard.press('Escape')
    await editor
      .card('Blade')
      .getByRole('button', { name: /^Outside: / })
      .click()
    await page.getByLabel('Outside as a number').fill('#00ff00')
    await page.getByLabel('Outside as a number').press('Enter')
    expect(await written()).toBe('#00ff00')
  })
})
