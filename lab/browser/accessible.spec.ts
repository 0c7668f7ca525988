import { AxeBuilder } from '@axe-core/playwright'
import type { Page } from '@playwright/test'
import { EditorPage } from '../support/editorPage.ts'
import { expect, test } from './fixtures.ts'

/** Rules of WCAG 2.1 A and AA, and axe's own good practice, on a view as it stands. */
async function expectAccessible(page: Page, view: string): Promise<void> {
  const { violations } = await new AxeBuilder({ page }).analyze()
  const found = violations.map((one) => ({
    rule: one.id,
    says: one.help,
    at: one.nodes.map((node) => `${node.target.join(' ')} ${node.any[0]?.message ?? ''}`),
  }))
  expect.soft(found, view).toEqual([])
}

test('every view can be read, and used, by what reads it aloud', async ({ page, demo }) => {
  const editor = new EditorPage(page)
  await page.goto(demo.address)
  await page.getByRole('link', { name: 'Open The Reed Ferry' }).waitFor()
  await expectAccessible(page, 'shelf')
  await page.getByRole('button', { name: 'Help' }).click()
  await page.getByRole('button', { name: 'Our words' }).click()
  await expectAccessible(page, 'help')
  await page.keyboard.press('Escape')
  await page.getByRole('link', { name: 'Open The Reed Ferry' }).click()
  await page.getByRole('listitem', { name: 'Two poles' }).waitFor()
  await expectAccessible(page, 'footage')
  await editor.openDemo(demo, 'Trace')
  await expectAccessible(page, 'trace')
  await page.keyboard.press('?')
  await page.getByRole('dialog').waitFor()
  await expectAccessible(page, 'keys')
  await page.keyboard.press('Escape')
  await page.keyboard.press('Shift+Enter')
  await page.getByRole('combobox').waitFor()
  await expectAccessible(page, 'by name')
  await page.keyboard.press('Escape')
  await page.getByRole('link', { name: 'charts' }).click()
  await page.locator('canvas').first().waitFor()
  await expectAccessible(page, 'charts')
  for (const step of ['Effects', 'Sound', 'Output'] as const) {
    await editor.step(step)
    await page.waitForLoadState('networkidle')
    await expectAccessible(page, step.toLowerCase())
  }
  await editor.step('Effects')
  await editor.card('Blade').click({ position: { x: 6, y: 6 } })
  await expectAccessible(page, 'a card')
  await page.getByRole('button', { name: 'Add an effect' }).click()
  await expectAccessible(page, 'list of effects')
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'What was done' }).click()
  await expectAccessible(page, 'what was done')
})
