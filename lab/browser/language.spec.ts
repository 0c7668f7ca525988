import { readFileSync } from 'node:fs'
import { writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import type { Page } from '@playwright/test'
import { root } from '../support/places.ts'
import { expect, test } from './fixtures.ts'

const german = JSON.parse(readFileSync(join(root, 'web/language/german.json'), 'utf8')) as Record<string, string>
/** English texts that no page in German may show: those that are worded otherwise, but for names that projects keep. */
const english = Object.entries(german)
  .filter(([text, wording]) => text !== wording && !/[{]/.test(text) && /[a-z]{3}/.test(text))
  .map(([text]) => text.trim())

/** English that is seen or read aloud on the page; `names` are those of the project’s records. */
async function englishOn(page: Page, names: readonly string[]): Promise<string[]> {
  const texts = await page.evaluate(() => {
    const seen: string[] = []
    const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
    for (let node = walk.nextNode(); node; node = walk.nextNode())
      if (!node.parentElement!.closest('script, style')) seen.push(node.textContent!)
    for (const name of ['title', 'aria-label', 'placeholder', 'alt'])
      for (const element of document.querySelectorAll(`[${name}]`)) seen.push(element.getAttribute(name)!)
    return seen.map((text) => text.trim())
  })
  const own = new Set(Object.values(german).map((text) => text.trim()))
  return [...new Set(texts)].filter((text) => english.includes(text) && !own.has(text) && !names.includes(text))
}

test('the page speaks German once it is asked to, in every step and of every refusal', async ({
  page,
  demo,
  folder,
}) => {
  await page.goto(demo.address)
  await page.getByRole('button', { name: 'Language' }).click()
  await page.getByRole('menuitem', { name: 'Deutsch' }).click()
  await expect(page.getByRole('button', { name: 'Neues Projekt' })).toBeVisible()
  await expect(page.locator('html')).toHaveAttribute('lang', 'de')
  const ferry = page.getByRole('listitem', { name: 'The Reed Ferry' })
  await expect(ferry).toContainText('5 Einstellungen, 16,0 s')
  await expect(ferry).toContainText(/vor /)
  expect(await englishOn(page, [])).toEqual([])

  await page.getByRole('link', { name: 'The Reed Ferry öffnen' }).click()
  await expect(page.getByRole('link', { name: 'Material' })).toHaveAttribute('aria-current', 'page')
  const id = /project\/([^/]+)/.exec(page.url())![1]!
  const { records } = (await (await page.request.get(`${demo.address}/api/projects/${id}`)).json()) as {
    records: { name?: string }[]
  }
  const names = records.flatMap(({ name }) => (name ? [name] : []))
  expect(await englishOn(page, names)).toEqual([])

  await test.step('what the server refuses it says in German, too', async () => {
    const diary = join(folder, 'diary.mp4')
    await writeFile(diary, 'dear diary, '.repeat(400))
    await page.getByTestId('picker').setInputFiles(diary)
    await expect(page.getByText('Diese Datei kennt Wisp Trail nicht.')).toBeVisible()
    await page.getByRole('button', { name: 'Verwerfen' }).first().click()
  })

  const step = (name: string) =>
    page.getByRole('navigation', { name: 'Schritte' }).getByRole('link', { name, exact: true })
  for (const name of ['Nachzeichnen', 'Effekte', 'Ton', 'Ausgabe']) {
    await step(name).click()
    await expect(step(name)).toHaveAttribute('aria-current', 'page')
    await expect(page.locator('canvas').first()).toBeVisible()
    expect(await englishOn(page, names), name).toEqual([])
  }

  await test.step('a number is written, and typed, with a comma', async () => {
    await step('Nachzeichnen').click()
    await page.getByRole('button', { name: 'shaft Stab' }).click()
    const width = page.getByRole('textbox', { name: 'Breite Griff' })
    await expect(width).toHaveValue('9,0')
    await width.fill('8,5')
    await width.press('Enter')
    await expect(width).toHaveValue('8,5')
    await expect(page.getByRole('button', { name: /^Zurück: .*Breite Griff/ })).toBeEnabled()
  })

  await test.step('help, keys and effects are found by German words', async () => {
    await page.getByRole('button', { name: 'Hilfe' }).click()
    await page.getByRole('dialog').getByRole('searchbox').fill('meine Klinge ist abgeschnitten')
    await expect(page.getByRole('dialog').locator('dt').first()).toHaveText(
      'Meine Klinge ist am Bildrand abgeschnitten',
    )
    await page.keyboard.press('Escape')
    await step('Effekte').click()
    await page.getByRole('button', { name: 'Einen Effekt hinzufügen' }).click()
    await page.getByRole('dialog').getByRole('searchbox').fill('Schwert')
    await expect(page.getByRole('dialog').getByRole('button', { name: /^Klinge/ })).toBeVisible()
    await page.keyboard.press('Escape')
  })

  // English again, by its name.
  await page.keyboard.press('Shift+Enter')
  const field = page.getByRole('combobox', { name: 'Was soll geschehen' })
  await field.fill('English')
  await expect(page.getByRole('option').first()).toHaveText(/^English/)
  await field.press('Enter')
  await expect(page.getByRole('button', { name: 'Add an effect' })).toBeVisible()
  await expect(page.locator('html')).toHaveAttribute('lang', 'en')
})

test.describe('a browser that asks for German', () => {
  test.use({ locale: 'de-AT' })
  test('gets it, and an empty shelf begins in it', async ({ page, app }) => {
    await page.goto(app.address)
    await expect(page.getByRole('region', { name: 'Wie man anfängt' })).toBeVisible()
    await page.getByRole('button', { name: 'Sprache' }).click()
    await page.getByRole('menuitem', { name: 'English' }).click()
    await expect(page.getByRole('region', { name: 'How to begin' })).toBeVisible()
    await page.reload()
    await expect(page.getByRole('region', { name: 'How to begin' })).toBeVisible()
  })
})
