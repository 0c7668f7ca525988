import { EditorPage, expect, test } from './fixtures.ts'

interface Curve {
  keys: { frame: number; value: number; ease: string }[]
}

test('numbers over time: beads are dragged, spans shaped, keys removed', async ({ page, demo }) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Effects')
  await page.getByRole('article', { name: 'Blade card' }).click({ position: { x: 60, y: 6 } })
  const lit = async () =>
    ((await editor.records()).find((record) => record.id === 'blade-keeper') as unknown as { settings: { lit: Curve } })
      .settings.lit
  const kept = () => expect(editor.keeping).toHaveText('All changes kept')
  // Lit length, which moves, is the first lane: 66 px below a ruler of 26; full lies near its top, none near its bottom.
  const sheet = (await page.getByTestId('sheet').boundingBox())!
  const xOf = (frame: number) => sheet.x + 178 + (frame * (sheet.width - 194)) / 95
  const top = sheet.y + 26
  const yOf = (value: number) => top + 56 - value * 46
  const carry = async (from: [number, number], to: [number, number]) => {
    await page.mouse.move(xOf(from[0]), yOf(from[1]))
    await page.mouse.down()
    await page.mouse.move(xOf((from[0] + to[0]) / 2), yOf(to[1]))
    await page.mouse.move(xOf(to[0]), yOf(to[1]))
    await page.mouse.up()
    await kept()
  }
  await carry([14, 1], [24, 0.5])
  await expect(editor.frame).toHaveValue('24')
  const moved = await lit()
  expect(moved.keys.map((key) => key.frame)).toEqual([4, 24])
  expect(moved.keys[1]!.value).toBeCloseTo(0.5, 1)
  await page.keyboard.press('Control+z')
  await kept()
  expect((await lit()).keys).toMatchObject([
    { frame: 4, value: 0 },
    { frame: 14, value: 1 },
  ])

  // The span after the chosen key is shaped by a word.
  await page.mouse.click(xOf(4), yOf(0))
  await page.getByRole('button', { name: 'held' }).click()
  await kept()
  expect((await lit()).keys[0]).toMatchObject({ frame: 4, ease: 'held' })
  await page.mouse.click(xOf(4), yOf(0))
  await page.keyboard.press('Delete')
  await kept()
  expect((await lit()).keys.map((key) => key.frame)).toEqual([14])

  // Order, copies, off and delete by the card's menu.
  const menu = async (entry: string) => {
    await page.getByRole('button', { name: 'More for this blade' }).first().click()
    await page.getByRole('menuitem', { name: entry, exact: true }).click()
    await kept()
  }
  await menu('Duplicate')
  await expect(page.getByRole('article', { name: 'Blade card' })).toHaveCount(2)
  await menu('Later')
  await menu('Turn off')
  await menu('Delete')
  await expect(page.getByRole('article', { name: 'Blade card' })).toHaveCount(1)
  await page.getByRole('button', { name: 'Undo: Delete blade' }).click()
  await expect(page.getByRole('article', { name: 'Blade card' })).toHaveCount(2)
})

test('a shot is cut on its filmstrip, and keys stay on their picture', async ({ page, demo }) => {
  const editor = new EditorPage(page)
  await page.goto(demo.address)
  await page.getByRole('link', { name: 'Open The Reed Ferry' }).click()
  const row = page.getByRole('listitem', { name: 'Jetty swing' })
  const handle = row.getByRole('slider', { name: 'In' })
  const before = (await handle.boundingBox())!
  const strip = (await row.locator('canvas').boundingBox())!
  await page.mouse.move(before.x + 4, before.y + 20)
  await page.mouse.down()
  await page.mouse.move(strip.x + strip.width / 8, before.y + 20)
  await page.mouse.move(strip.x + strip.width / 4, before.y + 20)
  await page.mouse.up()
  await expect(row.getByLabel('In: first frame')).toHaveValue('24')
  await handle.focus()
  await page.keyboard.press('ArrowRight')
  await expect(row.getByLabel('In: first frame')).toHaveValue('25')
  await expect(row).toContainText('71 frames')
  await expect(editor.keeping).toHaveText('All changes kept')
  const keys = (await editor.records()).filter((record) => record.type === 'key' && record.part === 'ferry-pole-shaft')
  // The last key was made on frame 48 of the clip, the first on 0: it waits outside the shot.
  expect(Math.max(...keys.map((key) => Number(key.frame)))).toBe(48 - 25)
  expect(Math.min(...keys.map((key) => Number(key.frame)))).toBe(-25)

  await row.getByRole('link', { name: 'Trace' }).click()
  await editor.shows(0)
  await page.keyboard.press('End')
  await expect(editor.frame).toHaveValue('70')
  // What is played can be narrowed: from here on, and back to all.
  await editor.go(60)
  await editor.frame.blur()
  await page.keyboard.press('[')
  const range = page.getByTitle(/^Played range/)
  await expect(range).toContainText('60 to 70')
  await page.keyboard.press('Space')
  await page.waitForTimeout(1200)
  await page.keyboard.press('Space')
  expect(Number(await editor.frame.inputValue())).toBeGreaterThanOrEqual(60)
  await page.getByRole('button', { name: 'Play all again' }).click()
  await expect(range).toHaveCount(0)
})

test('the cast: members and parts are added, renamed, coloured and deleted; an oval is placed and held', async ({
  page,
  demo,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace')
  const cast = page.getByRole('region', { name: 'Cast' })
  await cast.getByRole('button', { name: 'Add to the cast' }).click()
  await page.getByRole('menuitem', { name: 'Performer, head only' }).click()
  await expect(editor.hint).toContainText('Click the middle')
  await editor.click(684, 440)
  await expect(editor.hint).toContainText('Click the edge')
  await editor.click(704, 460)
  await expect(editor.keys).toHaveText('1')
  await expect(editor.cell).toHaveText('Held')
  await cast.getByRole('button', { name: 'More for Performer', exact: true }).click()
  await page.getByRole('menuitem', { name: 'Rename' }).click()
  await cast.getByRole('textbox').fill('Right hand')
  await page.keyboard.press('Enter')
  await cast.getByRole('button', { name: 'Colour of Right hand' }).click()
  await cast.getByRole('button', { name: 'Colour 6' }).click()
  await cast.getByRole('button', { name: 'More for Right hand' }).click()
  await page.getByRole('menuitem', { name: 'Add a rod' }).click()
  await expect(cast.getByRole('button', { name: 'rod rod' })).toHaveAttribute('aria-pressed', 'true')
  await expect(editor.keeping).toHaveText('All changes kept')
  expect((await editor.records()).find((record) => record.name === 'Right hand')).toMatchObject({
    kind: 'performer',
    colour: 5,
  })

  // Switched off at its ends the held hand is gone after its key.
  await cast.getByRole('button', { name: 'head oval' }).last().click()
  await page.getByRole('button', { name: 'matte, riding, ends' }).click()
  await page.getByRole('switch', { name: 'Hold at the ends' }).click()
  await expect(editor.cell).toHaveText('Not traced')

  await cast.getByRole('button', { name: 'More for Right hand' }).click()
  await page.getByRole('menuitem', { name: 'Delete' }).click()
  await expect(cast.getByText('Right hand')).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo: Delete Right hand' }).click()
  await expect(cast.getByText('Right hand')).toBeVisible()
  await expect(editor.keeping).toHaveText('All changes kept')
  expect(
    (await editor.records()).filter(
      (record) => record.type === 'key' && String(record.part).length > 0 && record.frame === 0,
    ).length,
  ).toBeGreaterThanOrEqual(5)
})
