import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { copyFile, readFile } from 'node:fs/promises'
import { join } from 'node:path'
import type { Page } from '@playwright/test'
import { decode } from 'fast-png'
import { unzipSync } from 'fflate'
import type { App } from '../support/application.ts'
import { makeClip } from '../support/clips.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { OutputPage } from '../support/outputPage.ts'
import { demoMedia, root } from '../support/places.ts'
import { EditorPage, expect, test } from './fixtures.ts'

async function takeOut(page: Page, name: string, inside: RegExp, to: string): Promise<void> {
  await page.getByRole('button', { name: `More for ${name}`, exact: true }).click()
  await page.getByRole('menuitem', { name: 'Take out as a file' }).click()
  await page.getByRole('radio', { name: inside }).click()
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Take it out' }).click(),
  ])
  expect(download.suggestedFilename()).toBe(`${name}.wisptrail`)
  await download.saveAs(to)
}

/** Hash of a frame of the demo as it is rendered at the step Output. */
async function rendered(page: Page, app: App, folder: string): Promise<string> {
  const editor = new EditorPage(page)
  await editor.openDemo(app, 'Trace', 'Two poles')
  await editor.go(24)
  await editor.step('Output')
  const output = new OutputPage(page, folder)
  await output.choose(/^PNG picture of one frame/)
  await output.render()
  const file = await output.made('Two poles frame 24.png')
  return createHash('sha256')
    .update(await readFile(file))
    .digest('hex')
}

test('a project moves to another machine, with its clips and without, and renders the same bytes', async ({
  page,
  demo,
  app,
  folder,
}) => {
  const [whole, light] = [join(folder, 'whole.wisptrail'), join(folder, 'light.wisptrail')]
  const before = await test.step('it is taken out', async () => {
    const bytes = await rendered(page, demo, folder)
    await page.goto(demo.address)
    await takeOut(page, 'The Reed Ferry', /With its clips/, whole)
    await takeOut(page, 'The Reed Ferry', /Without clips/, light)
    return bytes
  })
  await test.step('it opens elsewhere and renders the same', async () => {
    await page.goto(app.address)
    await expect(page.getByRole('region', { name: 'How to begin' })).toBeVisible()
    await page.getByTestId('project-picker').setInputFiles(whole)
    await expect(page.getByRole('listitem', { name: 'The Reed Ferry' })).toContainText('5 shots, 16.0 s')
    await expect(page.getByText('"The Reed Ferry" stands on the shelf.')).toBeVisible()
    expect(await rendered(page, app, folder)).toBe(before)
  })
  await test.step('what is there already gets a copy beside it', async () => {
    await page.goto(app.address)
    await page.getByTestId('project-picker').setInputFiles(whole)
    await expect(page.getByText(/was here before.*as a copy/)).toBeVisible()
    await expect(page.getByRole('listitem', { name: 'The Reed Ferry' })).toHaveCount(2)
  })
})

test('without a window the same bytes are rendered as in the browser, in pieces that join', async ({
  page,
  demo,
  folder,
}) => {
  const project = join(folder, 'ferry.wisptrail')
  await page.goto(demo.address)
  await takeOut(page, 'The Reed Ferry', /With its clips/, project)
  const render = (...args: string[]) =>
    spawnSync(process.execPath, ['dist/server/render.program.js', project, ...args], { cwd: root, encoding: 'utf8' })
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Output', 'Two poles')
  const output = new OutputPage(page, folder)
  await output.choose(/^PNG pictures in a zip/)
  await output.frame('To', 26)
  await output.frame('From', 24)
  await output.render()
  const pictures = (zip: string) => Object.values(unzipSync(readFileSync(zip))).map((png) => decode(png))
  const theirs = pictures(await output.made('Two poles frames 24 to 26.zip'))
  const zip = join(folder, 'mine.zip')
  expect(render('--shot', 'Two poles', '--as', 'png', '--frames', '24-26', '--out', zip).stderr).toBe('')
  const mine = pictures(zip)
  expect([mine.length, theirs.length]).toEqual([3, 3])
  const rgb = ({ data, channels }: (typeof mine)[number]) =>
    (data as Uint8Array).filter((_, i) => channels === 3 || i % 4 < 3)
  for (const [i, picture] of mine.entries())
    expect(Buffer.compare(rgb(picture), rgb(theirs[i]!)), `frame ${24 + i}`).toBe(0)
  await test.step('two pieces, put one behind the other by ffmpeg, have every frame once', () => {
    const pieces = ['0-5', '6-11'].map((frames) => {
      const out = join(folder, `${frames}.mp4`)
      expect(render('--shot', 'Two poles', '--scale', '4', '--frames', frames, '--out', out).stderr).toBe('')
      return out
    })
    const whole = join(folder, 'whole.mp4')
    expect(render('--shot', 'Two poles', '--scale', '4', '--frames', '0-11', '--out', whole).stderr).toBe('')
    const list = join(folder, 'list.txt')
    writeFileSync(list, pieces.map((file) => `file '${file}'\n`).join(''))
    const joined = join(folder, 'joined.mp4')
    ffmpeg(['-f', 'concat', '-safe', '0', '-i', list, '-c', 'copy', joined])
    const grey = (file: string) => new Uint8Array(ffmpeg(['-i', file, '-pix_fmt', 'gray', '-f', 'rawvideo', '-']))
    const [a, b] = [grey(joined), grey(whole)]
    expect(a.length).toBe(12 * 320 * 180)
    expect(b.length).toBe(a.length)
    const apart = a.reduce((sum, v, i) => sum + Math.abs(v - b[i]!), 0) / a.length
    expect(apart).toBeLessThan(1)
  })
  await test.step('what is wrong is said in a sentence, and nothing half-made is left', () => {
    const nobody = render('--shot', 'Leap', '--what', 'matte', '--of', 'Nobody', '--out', join(folder, 'no.mp4'))
    expect([nobody.status, nobody.stderr]).toEqual([1, 'There is no Nobody in it.\n'])
    const far = render('--shot', 'Leap', '--frames', '5-9000', '--out', join(folder, 'no.mp4'))
    expect(far.stderr).toMatch(/There are frames 0 to \d+; 5 to 9000 are not all among them/)
    expect(readdirSync(folder).filter((name) => name.startsWith('.') || name === 'no.mp4')).toEqual([])
  })
})

test('a project without its clip says so, and has it back when it is dropped; what is none says why', async ({
  page,
  demo,
  app,
  folder,
}) => {
  const clip = join(folder, 'walk.mp4')
  await makeClip(clip, { width: 320, height: 180, frames: 24 })
  const editor = new EditorPage(page)
  await editor.newProjectWith(demo, clip)
  await page.goto(demo.address)
  const light = join(folder, 'light.wisptrail')
  await takeOut(page, 'New project', /Without clips/, light)

  await page.goto(app.address)
  const cut = join(folder, 'cut.wisptrail')
  await copyFile(join(demoMedia, 'jetty-swing.mp4'), cut)
  await page.getByTestId('project-picker').setInputFiles([cut, light])
  await expect(page.getByRole('alert')).toContainText('no project file of Wisp Trail')
  await page.getByRole('button', { name: 'Dismiss' }).click()
  await expect(page.getByText('Without walk.mp4.')).toBeVisible()
  // What is no project file is a clip, and gets a project of its own; one alone leads on to tracing.
  const other = join(folder, 'other.mp4')
  await makeClip(other, { width: 320, height: 180, frames: 12 })
  await page.getByTestId('project-picker').setInputFiles(other)
  await page.waitForURL(/\/trace\//)
  await editor.shows(0)
  await expect(page.getByRole('button', { name: 'Shot: other' })).toBeVisible()
  await page.getByRole('link', { name: 'To the shelf' }).click()

  await page.getByRole('link', { name: 'Open New project' }).click()
  await page.getByRole('navigation').getByRole('link', { name: 'Footage' }).click()
  await expect(page.getByText('not on this machine: drop it here')).toBeVisible()
  await page.getByTestId('picker').setInputFiles(clip)
  await expect(page.getByText('walk.mp4 is here again')).toBeVisible()
  await expect(page.getByText('not on this machine')).toHaveCount(0)
  // It is the clip of the shot that was there, not a second one.
  await expect(page.getByRole('listitem').filter({ hasText: 'walk' })).toHaveCount(1)
  await editor.step('Trace')
  await editor.shows(0)
  await editor.go(12)
})
