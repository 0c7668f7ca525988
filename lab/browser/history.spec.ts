import { EditorPage, expect, test } from './fixtures.ts'

test('a member that was deleted by a slip comes back: at once, after a reload, and from what was done', async ({
  page,
  demo,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace')
  const cast = page.getByRole('complementary', { name: 'Cast' })
  const pole = cast.getByText('Ferry pole', { exact: true })
  const keysOfPole = async () =>
    (await editor.records()).filter((one) => one.type === 'key' && one.part === 'ferry-pole-shaft').length
  const kept = () => expect(editor.keeping).toHaveText('All changes kept')
  const before = await keysOfPole()
  const remove = async () => {
    await page.getByRole('button', { name: 'More for Ferry pole' }).click()
    await page.getByRole('menuitem', { name: 'Delete' }).click()
    await expect(pole).toHaveCount(0)
    await kept()
  }
  await test.step('at once, where it is said', async () => {
    await remove()
    expect(await keysOfPole()).toBe(0)
    await page
      .getByText('Ferry pole is deleted.')
      .locator('..')
      .locator('..')
      .getByRole('button', { name: 'Undo' })
      .click()
    await expect(pole).toBeVisible()
    await kept()
    expect(await keysOfPole()).toBe(before)
  })
  await test.step('after a reload', async () => {
    await remove()
    await page.reload()
    await editor.shows(0)
    await expect(pole).toHaveCount(0)
    await page.getByRole('button', { name: 'Undo: Delete Ferry pole' }).click()
    await expect(pole).toBeVisible()
    await kept()
    expect(await keysOfPole()).toBe(before)
  })
  await test.step('from a stage that was named, however much was done since', async () => {
    const looking = page.getByRole('button', { name: 'What was done' })
    const dialog = page.getByRole('dialog', { name: 'What was done' })
    await looking.click()
    await dialog.getByLabel('Name of how it stands now').fill('both are traced')
    await dialog.getByRole('button', { name: 'keep' }).click()
    await expect(dialog.getByRole('button', { name: /both are traced/ })).toHaveAttribute('aria-current', 'true')
    await page.keyboard.press('Escape')
    await remove()
    await page.reload()
    await editor.shows(0)
    await looking.click()
    await dialog.getByRole('button', { name: /both are traced/ }).click()
    const deleted = dialog.getByRole('button', { name: 'Delete Ferry pole' }).first()
    await expect(deleted).toHaveAttribute('aria-current', 'false')
    await page.keyboard.press('Escape')
    await expect(pole).toBeVisible()
    await kept()
    expect(await keysOfPole()).toBe(before)
    // And forward again.
    await looking.click()
    await deleted.click()
    await page.keyboard.press('Escape')
    await expect(pole).toHaveCount(0)
  })
})
