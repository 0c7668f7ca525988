import { EditorPage, expect, test } from './fixtures.ts'

test('two tabs follow each other; a clash is explained and nothing is overwritten silently', async ({
  context,
  page,
  demo,
}) => {
  const first = new EditorPage(page)
  await first.openDemo(demo, 'Trace')
  const other = await context.newPage()
  const second = new EditorPage(other)
  await other.goto(page.url())
  await second.shows(0)
  await second.choosePart()

  await first.go(30)
  await first.frame.blur()
  const count = Number(await second.keys.innerText())
  await page.keyboard.press('Enter')
  await expect(second.keys).toHaveText(String(count + 1))

  // The other tab hears nothing while its line is cut, and changes the same key.
  await other.route('**/changes', (route) => route.abort())
  await second.go(30)
  await second.frame.blur()
  await other.keyboard.press('Shift+ArrowRight')
  await expect(second.keeping).toHaveText('1 change waits here')
  await first.go(30)
  await first.frame.blur()
  await page.keyboard.press('Shift+ArrowDown')
  await expect(first.keeping).toHaveText('All changes kept')
  await expect(other.getByRole('dialog')).toContainText('Changed in two places')
  await expect(other.getByRole('dialog')).toContainText('Edit shaft at 30')
  await other.unroute('**/changes')
  const key = async () =>
    (await first.records()).find((record) => record.id === 'ferry-pole-shaft@30') as unknown as { points: number[] }
  const theirs = await key()
  await other.getByRole('button', { name: 'Put mine back' }).click()
  await expect(second.keeping).toHaveText('All changes kept')
  const mine = await key()
  expect(mine.points[0]! - theirs.points[0]!).toBeCloseTo(10, 1)
  expect(mine.points[1]! - theirs.points[1]!).toBeCloseTo(-10, 1)
})

test('unsent changes survive a stopped server and a closed tab', async ({ context, page, demo }) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace')
  const address = page.url()
  await editor.go(49)
  await editor.frame.blur()
  const count = Number(await editor.keys.innerText())
  await demo.stop('SIGKILL')

  // The rhythm goes on without the server.
  await page.keyboard.press('Enter')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Enter')
  await expect(editor.keys).toHaveText(String(count + 3))
  await expect(editor.keeping).toHaveText('3 changes wait here')
  await expect(editor.keeping).toHaveAttribute('title', /does not answer.*waits here/)
  await page.close()

  await demo.start()
  const again = await context.newPage()
  await again.goto(address)
  const reopened = new EditorPage(again)
  await reopened.choosePart()
  await expect(reopened.keys).toHaveText(String(count + 3))
  await expect(reopened.keeping).toHaveText('All changes kept')
  expect(
    (await reopened.records()).filter((record) => record.type === 'key' && record.part === 'ferry-pole-shaft'),
  ).toHaveLength(count + 3)
})

test('an open tab sends what it kept as soon as the server is back', async ({ page, demo }) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace')
  await editor.go(49)
  await editor.frame.blur()
  await demo.stop('SIGKILL')
  await page.keyboard.press('Enter')
  await expect(editor.keeping).toHaveText('1 change waits here')
  await demo.start()
  await expect(editor.keeping).toHaveText('All changes kept')
  expect((await editor.records()).some((record) => record.id === 'ferry-pole-shaft@49')).toBe(true)
})

test('what was changed just before a project is left is there when it is opened again', async ({ page, demo }) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace')
  await editor.go(49)
  await editor.frame.blur()
  const count = Number(await editor.keys.innerText())
  // The first change is under way, and the others wait for it, while the shelf is opened.
  let letGo = () => {}
  const free = new Promise<void>((done) => (letGo = done))
  await page.route('**/changes', (route) => free.then(() => route.continue()))
  const underWay = page.waitForRequest('**/changes')
  for (let n = 1; n <= 3; n++) {
    await page.keyboard.press('Enter')
    await expect(editor.keys).toHaveText(String(count + n))
  }
  await underWay
  await page.getByRole('link', { name: 'To the shelf' }).click()
  await expect(page.getByRole('link', { name: 'Open The Reed Ferry' })).toBeVisible()
  await page.getByRole('link', { name: 'Open The Reed Ferry' }).click()
  letGo()
  await page.getByRole('navigation', { name: 'Steps' }).getByRole('link', { name: 'Trace' }).click()
  await editor.choosePart()
  await expect(editor.keys).toHaveText(String(count + 3))
  await expect(editor.keeping).toHaveText('All changes kept')
  await expect(page.getByRole('dialog')).toBeHidden()
})
