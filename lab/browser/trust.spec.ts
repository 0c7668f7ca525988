import { readFileSync, truncateSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { makeClip } from '../support/clips.ts'
import { EditorPage } from '../support/editorPage.ts'
import { expect, test } from './fixtures.ts'

test('a finished render that the server can not keep stays in the browser, is saved from there, and kept later', async ({
  page,
  app,
  folder,
}) => {
  const clip = join(folder, 'short.mp4')
  await makeClip(clip, { width: 320, height: 180, frames: 24, sound: false })
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, clip)
  await editor.step('Output')
  const queue = page.getByRole('region', { name: 'Queue' })
  app.limitFiles(2000)
  await page.getByRole('button', { name: /^Render/ }).click()
  await expect(queue.getByRole('alert')).toContainText('The disk is full', { timeout: 60_000 })
  await expect(queue).toContainText('safe in this browser until you say otherwise')

  // Trying again changes nothing while there is no room.
  await queue.getByRole('button', { name: 'Keep it now' }).click()
  await expect(queue.getByRole('alert')).toContainText('The disk is full')

  // Not even the end of the tab loses it.
  const address = page.url()
  await page.close()
  const again = await page.context().newPage()
  await again.goto(address)
  const left = again.getByRole('region', { name: 'Queue' })
  await expect(left.getByRole('alert')).toContainText('its tab was closed before the server had it')
  const [download] = await Promise.all([
    again.waitForEvent('download'),
    left.getByRole('button', { name: 'Save it from here' }).click(),
  ])
  await download.saveAs(join(folder, 'saved.mp4'))
  expect(readFileSync(join(folder, 'saved.mp4')).subarray(4, 8).toString()).toBe('ftyp')
  app.limitFiles(null)
  await left.getByRole('button', { name: 'Keep it now' }).click()
  await expect(again.getByRole('region', { name: 'What was made' }).getByRole('listitem')).toHaveCount(1)
  await expect(left).toHaveCount(0)
  await again.reload()
  await expect(again.getByRole('region', { name: 'What was made' }).getByRole('listitem')).toHaveCount(1)
  await expect(left).toHaveCount(0)
})

test('an upload that finds the disk full says so, and comes in when there is room', async ({ page, app, folder }) => {
  const clip = join(folder, 'short.mp4')
  await makeClip(clip, { width: 640, height: 360, frames: 48, sound: false })
  await page.goto(app.address)
  await page.getByRole('button', { name: 'New project', exact: true }).click()
  await expect(page.getByTestId('picker')).toBeAttached()
  app.limitFiles(3000)
  await page.getByTestId('picker').setInputFiles(clip)
  await expect(page.getByRole('main').getByText(/The disk is full\. Free some space and try again/)).toBeVisible()
  app.limitFiles(null)
  await page.getByTestId('picker').setInputFiles(clip)
  await expect(page.getByRole('main').getByRole('link', { name: 'Trace' })).toBeVisible()
})

test('the shelf goes back to a backup, as a copy, and says what takes its room', async ({ page, demo }) => {
  await page.goto(demo.address)
  await page.getByRole('button', { name: 'Backups and room' }).click()
  const dialog = page.getByRole('dialog', { name: 'Backups and room' })
  await expect(dialog.getByRole('region', { name: 'Room' })).toContainText(/Clips\s*[\d.]+ MB/)
  await dialog.getByRole('button', { name: 'Make one now' }).click()
  await dialog.getByRole('button', { name: 'look into' }).click()
  await dialog.getByRole('button', { name: 'Bring back The Reed Ferry' }).click()
  await expect(page.getByText('stands on the shelf, beside what is there')).toBeVisible()
  await dialog.getByRole('button', { name: 'Close' }).click()
  const copy = page.getByRole('listitem').filter({ hasText: /The Reed Ferry of \d+ \w+/ })
  await expect(copy).toContainText('5 shots')
  await copy.getByRole('link').click()
  await expect(page.getByRole('listitem', { name: 'Jetty swing' })).toBeVisible()
})

test('a damaged database shows no empty shelf but why, and a backup brings everything back', async ({ page, app }) => {
  await page.goto(app.address)
  await page.getByRole('button', { name: 'New project', exact: true }).click()
  await expect(page.getByTestId('picker')).toBeAttached()
  await page.goto(app.address)
  await page.getByRole('button', { name: 'Backups and room' }).click()
  await page.getByRole('button', { name: 'Make one now' }).click()
  await expect(page.getByRole('button', { name: 'look into' })).toBeVisible()
  await app.stop('SIGTERM')
  const file = join(app.data, 'wisp-trail.sqlite')
  truncateSync(file, 6000)
  await app.start()
  await page.goto(app.address)
  await expect(page.getByRole('alert')).toContainText(/The project database .* is damaged/)
  await expect(page.getByRole('button', { name: 'New project' })).toHaveCount(0)
  await page.getByRole('button', { name: /^Go back to/ }).click()
  await expect(page.getByRole('listitem', { name: 'New project' })).toBeVisible()
  // And it is written to as ever.
  writeFileSync(join(app.data, 'note'), '')
  await page.getByRole('button', { name: 'New project', exact: true }).click()
  await expect(page.getByTestId('picker')).toBeAttached()
})
