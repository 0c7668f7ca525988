import { EditorPage, expect, test } from './fixtures.ts'

test('a range is chosen by its numbers; away goes by it, and an edit that counts on none is refused', async ({
  page,
  demo,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace')
  const aways = async () =>
    (await editor.records())
      .filter((one) => one.type === 'away' && one.part === 'ferry-pole-shaft')
      .map(({ from, to }) => [from, to])
  const kept = () => expect(editor.keeping).toHaveText('All changes kept')
  expect(await aways()).toEqual([])
  await editor.go(49)
  await page.getByRole('button', { name: 'choose a range of frames' }).click()
  const [from, to] = [page.getByLabel('Range from frame'), page.getByLabel('Range to frame')]
  await expect(from).toHaveValue('49')
  await from.fill('51')
  await from.press('Enter')
  await to.fill('74')
  await to.press('Enter')
  await page.getByRole('button', { name: 'Away from 51 to 74' }).click()
  await kept()
  expect(await aways()).toEqual([[51, 74]])
  // The key goes by the range, too, wherever the playhead stands.
  await editor.go(20)
  await editor.frame.blur()
  await page.keyboard.press('o')
  await kept()
  expect(await aways()).toEqual([])
  // An end beyond the other takes that along; words are no number.
  await from.fill('80')
  await from.press('Enter')
  await expect(to).toHaveValue('80')
  await from.fill('late')
  await from.press('Enter')
  await expect(page.getByText('The first frame takes a number')).toBeVisible()
  await expect(from).toHaveValue('80')

  await test.step('edits that count on a range that is not there change nothing, and say why', async () => {
    await page.getByRole('button', { name: 'Leave the range' }).click()
    await page.getByRole('button', { name: /^Edits count on/ }).click()
    await page.getByRole('option', { name: 'the chosen range' }).click()
    const keys = async () => JSON.stringify((await editor.records()).filter((one) => one.type === 'key'))
    const before = await keys()
    await page.keyboard.press('2')
    await page.keyboard.press('ArrowRight')
    await expect(page.getByText('Edits count on the chosen range, and none is chosen.')).toBeVisible()
    await kept()
    expect(await keys()).toBe(before)
  })
})
