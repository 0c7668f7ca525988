import { EditorPage } from '../support/editorPage.ts'
import { expect, test } from './fixtures.ts'

test('our words explain themselves to the mouse and to the keyboard', async ({ page, demo }) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace')
  const reach = page.getByRole('term').filter({ hasText: 'Reach' })
  await reach.hover()
  const says = page.getByRole('tooltip')
  await expect(says).toContainText('How far a blade goes on past the tip')
  await expect(reach).toHaveAccessibleDescription(/How far a blade goes on/)
  // It stays while it is read, and goes with the mouse.
  await says.hover()
  await expect(says).toBeVisible()
  await page.mouse.move(600, 300)
  await expect(says).toBeHidden()

  await page.keyboard.press('Tab')
  await page.getByRole('term').filter({ hasText: 'Key plan' }).focus()
  await expect(says).toContainText('Frames that deserve a key next')
  await page.keyboard.press('Escape')
  await expect(says).toBeHidden()
})

test('help is found by what somebody wants, on the shelf and in a project', async ({ page, demo }) => {
  await page.goto(demo.address)
  await page.getByRole('button', { name: 'Help' }).click()
  const help = page.getByRole('dialog', { name: 'Help' })
  await help.getByRole('searchbox', { name: 'What do you want to do?' }).fill('my blade is cut off at the edge')
  await expect(help).toContainText('drag the tip to where it would be outside the picture')
  await help.getByRole('searchbox').fill('xylophone')
  await expect(help).toContainText('Nothing is said of that')
  await help.getByRole('button', { name: 'Our words' }).click()
  await expect(help).toContainText('The end of a rod where it is held')
  await page.keyboard.press('Escape')
  await expect(help).toBeHidden()
})

test('anything is done by its name, from any step', async ({ page, demo }) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace')
  const ask = async (typed: string, name: string | RegExp) => {
    await page.keyboard.press('Shift+Enter')
    const field = page.getByRole('combobox', { name: 'What shall be done' })
    await field.fill(typed)
    await expect(page.getByRole('option').first()).toHaveText(name)
    await field.press('Enter')
    await expect(field).toBeHidden()
  }
  await ask('37', /^Go to frame 37/)
  await expect(editor.frame).toHaveValue('37')
  // By a word that nothing here is called.
  await ask('magnifier', /^Loupe/)
  await expect(page.getByRole('button', { name: 'Loupe' })).toHaveAttribute('aria-pressed', 'true')
  await ask('logo', /^Add Insert/)
  await expect(page.getByRole('article', { name: 'Insert card' })).toBeVisible()
  expect(page.url()).toContain('/effects/')
  await ask('undo', /^Undo/)
  await expect(page.getByRole('article', { name: 'Insert card' })).toHaveCount(0)
  await ask('head keeper', /^Choose head of Keeper/)
  expect(page.url()).toContain('/trace/')
  await expect(page.getByRole('region', { name: 'Settings of head' })).toBeVisible()
  await ask('go to footage', /^Go to Footage/)
  // Also where no bench is.
  await ask('shelf', /^Go to the shelf/)
  await expect(page.getByRole('heading', { name: 'Wisp Trail' })).toBeVisible()
})

test('keys are sought, those of the tool in hand first', async ({ page, demo }) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace')
  await page.keyboard.press('/')
  await page.keyboard.press('?')
  const sheet = page.getByRole('dialog', { name: 'Keys' })
  await expect(sheet.getByRole('heading').nth(1)).toContainText('In hand: paint')
  await expect(sheet.getByRole('listitem').filter({ hasText: 'Smaller brush' }).first()).toBeVisible()
  await sheet.getByRole('searchbox', { name: 'Search keys' }).fill('onion')
  await expect(sheet.getByRole('listitem')).toHaveText([/Neighbouring shapes/])
  const box = (await sheet.locator('> div, > *').last().boundingBox())!
  expect(box.y + box.height).toBeLessThanOrEqual(800)
})

test('a step that can not be entered yet says why', async ({ page, app }) => {
  await page.goto(app.address)
  await page.getByRole('button', { name: 'New project' }).first().click()
  await page.getByRole('button', { name: 'Effects', exact: true }).click({ force: true })
  await expect(page.getByText('Effects opens with the first clip: bring one in under Footage.')).toBeVisible()
})

test('parts go to another member by dragging and by the menu, their keys to another part', async ({ page, demo }) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace')
  const partsOf = async (member: string) =>
    (await editor.records())
      .filter((one) => one.type === 'part' && one.member === member)
      .sort((a, b) => Number(a.order) - Number(b.order))
      .map((one) => one.name)
  const menu = async (part: string, entry: string) => {
    await page.getByRole('button', { name: part }).hover()
    await page.getByRole('button', { name: `More for ${part.split(' ')[0]}` }).click()
    await page.getByRole('menuitem', { name: entry }).click()
  }
  await test.step('by dragging', async () => {
    const boxOf = async (name: string) => (await page.getByRole('button', { name }).boundingBox())!
    const [from, to] = [await boxOf('brim oval'), await boxOf('shaft rod')]
    await page.mouse.move(from.x + 90, from.y + 12)
    await page.mouse.down()
    await page.mouse.move(from.x + 92, from.y - 4, { steps: 4 })
    await page.mouse.move(to.x + 90, to.y + to.height - 4, { steps: 15 })
    const cast = page.getByRole('complementary', { name: 'Cast' })
    await expect(cast.getByRole('list').filter({ hasText: 'shaft' }).nth(1)).toContainText('brim')
    await page.mouse.up()
    await expect(page.getByText('brim is a part of Ferry pole now.')).toBeVisible()
    await expect.poll(() => partsOf('ferry-pole')).toContain('brim')
    await page.keyboard.press('Control+z')
    await expect.poll(() => partsOf('ferry-pole')).toEqual(['shaft'])
  })
  await test.step('a copy, from the menu', async () => {
    await menu('head oval', 'Move or copy to…')
    const dialog = page.getByRole('dialog')
    await dialog.getByRole('radio', { name: 'Copy it' }).click()
    await dialog.getByRole('button', { name: 'Copy', exact: true }).click()
    await expect.poll(() => partsOf('ferry-pole')).toEqual(['shaft', 'head'])
    expect(await partsOf('keeper')).toContain('head')
  })
  await test.step('keys onto another part', async () => {
    await menu('crown oval', 'Move or copy to…')
    const dialog = page.getByRole('dialog')
    await dialog.getByRole('radio', { name: 'Its keys' }).click()
    await dialog.getByRole('button', { name: /^Onto/ }).click()
    await page.getByRole('option', { name: 'brim of Keeper' }).click()
    await dialog.getByRole('button', { name: 'Copy', exact: true }).click()
    await expect(page.getByText('brim has the keys of crown now.')).toBeVisible()
    await expect(editor.keeping).toHaveText('All changes kept')
    const keys = (await editor.records()).filter((one) => one.type === 'key')
    const of = (part: string) =>
      keys
        .filter((one) => one.part === `keeper-${part}`)
        .sort((a, b) => Number(a.frame) - Number(b.frame))
        .map((one) => [one.frame, one.points])
    expect(of('brim').length).toBeGreaterThan(3)
    expect(of('brim')).toEqual(of('crown'))
  })
})

test('what is worth a look is played slowly, frame by frame, and nothing else', async ({ page, demo }) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace')
  // The head leaves its edge on two frames of the demo.
  await expect(page.getByRole('button', { name: /39–40 head/ })).toBeVisible()
  await page.getByRole('button', { name: 'head oval' }).click({ position: { x: 40, y: 8 } })
  const seen = page.evaluate(
    () =>
      new Promise<string[]>((done) => {
        const field = document.querySelector<HTMLInputElement>('[data-testid=frame]')!
        const frames: string[] = []
        const look = () => {
          if (frames.at(-1) !== field.value) frames.push(field.value)
          if (field.value === '40') return done(frames)
          requestAnimationFrame(look)
        }
        look()
      }),
  )
  await page.keyboard.press('Shift+L')
  expect((await seen).filter((frame) => frame !== '0')).toEqual(['39', '40'])
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible()
})
