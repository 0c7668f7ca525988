import { join } from 'node:path'
import { makeClip } from '../support/clips.ts'
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
    await way.getByLabel('Colour on the way: pick').fill('#00ff00')
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
