import { writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { makeClip, rodAt } from '../support/clips.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { EditorPage, expect, test } from './fixtures.ts'

test('the shelf: new, rename, duplicate, delete and undo', async ({ page, demo }) => {
  await page.goto(demo.address)
  const ferry = page.getByRole('listitem', { name: 'The Reed Ferry' })
  await expect(ferry).toContainText('5 shots, 16.0 s')
  await expect(ferry).toContainText(/\d\d% traced/)
  await expect(ferry.getByRole('img', { includeHidden: true }).first()).toBeVisible()

  await page.getByRole('button', { name: 'New project', exact: true }).click()
  await expect(page.getByText('Drop a clip here')).toBeVisible()
  await page.getByRole('link', { name: 'To the shelf' }).click()
  await page.getByRole('button', { name: 'More for New project' }).click()
  await page.getByRole('menuitem', { name: 'Rename' }).click()
  await page.getByRole('textbox', { name: 'Name of the project' }).fill('Lantern walk')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('listitem', { name: 'Lantern walk' })).toContainText('No footage yet')

  await page.getByRole('button', { name: 'More for The Reed Ferry' }).click()
  await page.getByRole('menuitem', { name: 'Duplicate' }).click()
  await expect(page.getByRole('listitem', { name: 'The Reed Ferry copy' })).toContainText('5 shots, 16.0 s')

  await page.getByRole('button', { name: 'More for The Reed Ferry', exact: true }).click()
  await page.getByRole('menuitem', { name: 'Delete' }).click()
  await expect(page.getByRole('listitem', { name: 'The Reed Ferry', exact: true })).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('listitem', { name: 'The Reed Ferry', exact: true })).toContainText('5 shots')

  await test.step('what was deleted comes back also while a dialog is open', async () => {
    const copy = page.getByRole('listitem', { name: 'The Reed Ferry copy' })
    await page.getByRole('button', { name: 'More for The Reed Ferry copy' }).click()
    await page.getByRole('menuitem', { name: 'Delete' }).click()
    await expect(copy).toHaveCount(0)
    await page.getByRole('button', { name: 'More for The Reed Ferry', exact: true }).click()
    await page.getByRole('menuitem', { name: 'Take out as a file' }).click()
    await expect(page.getByRole('dialog')).toBeVisible()
    await page.getByRole('button', { name: 'Undo' }).click()
    await expect(page.getByRole('dialog')).toBeVisible()
    await page.keyboard.press('Escape')
    await expect(copy).toContainText('5 shots')
  })
})

test('bad input gets a sentence, and the application goes on', async ({ page, app, folder }) => {
  const [text, sound, good] = [join(folder, 'diary.mp4'), join(folder, 'sound.mp4'), join(folder, 'good.mp4')]
  await writeFile(text, 'dear diary, '.repeat(400))
  await makeClip(good, { width: 320, height: 180, frames: 12, sound: true })
  ffmpeg(['-i', good, '-vn', '-c:a', 'ac3', sound])

  await page.goto(`${app.address}/project/nobody/trace`)
  await expect(page.getByRole('alert')).toContainText('no such project')
  await page.getByRole('link', { name: 'To the shelf' }).click()
  await page.goto(`${app.address}/some/where`)
  await expect(page.getByRole('alert')).toContainText('nothing under this address')

  await page.goto(app.address)
  await page.getByRole('button', { name: 'New project', exact: true }).click()
  await page.getByTestId('picker').setInputFiles([text, sound])
  await expect(page.getByText(/no file that Wisp Trail knows/)).toBeVisible()
  await expect(page.getByText(/The sound is coded as ac3/)).toBeVisible()
  await page.getByRole('button', { name: 'Dismiss' }).first().click()

  // An upload that is cancelled on the way and then made again.
  await page.route('**/api/footage', async (route) => {
    await new Promise((done) => setTimeout(done, 1500))
    await route.continue().catch(() => {})
  })
  await page.getByTestId('picker').setInputFiles(good)
  await page.getByRole('button', { name: 'Cancel good.mp4' }).click()
  await expect(page.getByRole('progressbar', { name: /good/ })).toHaveCount(0)
  await page.unroute('**/api/footage')
  await page.getByTestId('picker').setInputFiles(good)
  await expect(page.getByRole('row', { name: /good\.mp4/ })).toContainText('320 × 180')

  // A shot that is cut anew keeps its frames on their picture.
  await page.getByLabel('In: first frame').fill('4')
  await page.getByLabel('In: first frame').press('Enter')
  await expect(page.getByText('8 frames, 0.33 s')).toBeVisible()
  await page.getByLabel('Out: last frame').fill('2')
  await page.getByLabel('Out: last frame').press('Enter')
  await expect(page.getByText('1 frames, 0.04 s')).toBeVisible()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: /^Undo/ }).click()
  await expect(page.getByText('8 frames, 0.33 s')).toBeVisible()
})

test('an empty shelf shows the work, opens the example, and makes a project of a clip', async ({
  page,
  app,
  folder,
}) => {
  const clip = join(folder, 'garden stick.mp4')
  await makeClip(clip, { width: 320, height: 180, frames: 12 })
  await page.goto(app.address)
  const beginning = page.getByRole('region', { name: 'How to begin' })
  await expect(beginning.getByRole('img')).toHaveCount(3)
  for (const picture of await beginning.getByRole('img').all())
    await expect.poll(() => picture.evaluate((one) => (one as HTMLImageElement).naturalWidth)).toBeGreaterThan(400)

  await test.step('the example comes in at one press, as a copy every time', async () => {
    await beginning.getByRole('button', { name: 'Open the example' }).click()
    await expect(page.getByRole('button', { name: 'Ferry pole' }).first()).toBeVisible()
    await page.getByRole('link', { name: 'To the shelf' }).click()
    await expect(page.getByRole('listitem', { name: 'The Reed Ferry' })).toContainText('5 shots, 16.0 s')
    await page.getByRole('button', { name: 'Open the example' }).click()
    await expect(page.getByRole('button', { name: 'Ferry pole' }).first()).toBeVisible()
    await page.getByRole('link', { name: 'To the shelf' }).click()
    await expect(page.getByRole('listitem', { name: /^The Reed Ferry/ })).toHaveCount(2)
  })
  await test.step('a clip makes a project of its name', async () => {
    await page.getByTestId('clip-picker').setInputFiles(clip)
    // It needs no cutting: it is on the bench as soon as it is in.
    await new EditorPage(page).shows(0)
    await page.getByRole('navigation').getByRole('link', { name: 'Footage' }).click()
    await expect(page.getByRole('row', { name: /garden stick\.mp4/ })).toContainText('320 × 180')
    await page.getByRole('link', { name: 'To the shelf' }).click()
    await expect(page.getByRole('listitem', { name: 'garden stick' })).toContainText('1 shot')
  })
})

test('who begins with the example is led from there to a file, and can leave it', async ({ page, app }) => {
  const editor = new EditorPage(page)
  await page.goto(app.address)
  await page.getByRole('button', { name: 'Open the example' }).click()
  const guide = page.getByTestId('guide')
  await expect(guide).toContainText('Ferry pole is traced up to frame 48 only', { timeout: 60_000 })
  await guide.getByRole('button', { name: 'Trace on' }).click()
  await editor.shows(48)
  await expect(guide).toContainText('let it be followed')
  await page.keyboard.press('Shift+C')
  // It watches what is done: when the run is over it says what comes after that.
  await expect(guide).toContainText(/worth a look|traced on every frame|have no shape yet/, { timeout: 120_000 })
  await guide.getByRole('button', { name: 'No more of this' }).click()
  await expect(guide).toBeHidden()
  await page.reload()
  await editor.shows(0)
  await expect(guide).toBeHidden()
  // It can be taken up again.
  await page.keyboard.press('Shift+Enter')
  await page.getByRole('combobox', { name: 'What shall be done' }).fill('tutorial')
  await page.keyboard.press('Enter')
  await expect(guide).toBeVisible()
  await editor.step('Output')
  await expect(guide).toContainText('press the green button')
})

test('who begins with a clip of their own is led from there to a file', async ({ page, app, folder }) => {
  const editor = new EditorPage(page)
  const size = { width: 640, height: 360, frames: 24 }
  const clip = join(folder, 'garden.mp4')
  await makeClip(clip, size)
  await page.goto(app.address)
  await page.getByTestId('clip-picker').setInputFiles(clip)
  const guide = page.getByTestId('guide')
  await editor.shows(0)
  await expect(guide).toContainText('Click your prop where it is held, then its tip.')
  const [hx, hy, tx, ty] = rodAt(0, size)
  await editor.click(hx, hy)
  await editor.click(tx, ty)
  // The playhead has stepped on to a frame without a shape: the way back to the key is one press.
  await guide.getByRole('button', { name: 'Frame 0' }).click()
  await expect(guide).toContainText('let it be followed')
  await page.keyboard.press('Shift+C')
  await guide.getByRole('button', { name: 'Let it burn' }).click({ timeout: 120_000 })
  await expect(guide).toContainText('It burns.')
  await expect(page.getByRole('article', { name: /^Blade card/ })).toHaveCount(1)
  await guide.getByRole('button', { name: 'Make a file' }).click()
  await expect(guide).toContainText('press the green button')
  await page.getByRole('button', { name: /^Render/ }).click()
  await expect(guide).toContainText('That is the whole way', { timeout: 120_000 })
  await expect(page.getByRole('region', { name: 'What was made' }).getByRole('listitem')).toContainText('garden')
  await guide.getByRole('button', { name: 'Done' }).click()
  await expect(guide).toBeHidden()
})
