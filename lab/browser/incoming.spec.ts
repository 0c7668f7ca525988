import { join } from 'node:path'
import type { Page } from '@playwright/test'
import { makeClip } from '../support/clips.ts'
import { EditorPage, expect, test } from './fixtures.ts'

const text = (name: string, mimeType: string, content: string) => ({ name, mimeType, buffer: Buffer.from(content) })
const drawing = (page: Page, name: string, content: string) =>
  page.getByTestId('drawing').setInputFiles(text(name, 'image/svg+xml', content))
const track = (page: Page, name: string, content: string) =>
  page.getByTestId('track').setInputFiles(text(name, 'text/csv', content))

test('shapes of a drawing and tracks of a table come in and lie where they should; what can not be read says why', async ({
  page,
  app,
  folder,
}) => {
  const clip = join(folder, 'clip.mp4')
  await makeClip(clip, { frames: 24 })
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, clip)
  const keysOf = async (part: unknown) =>
    (await editor.records())
      .filter((one) => one.type === 'key' && one.part === part)
      .map(({ frame, points }) => ({ frame, points }) as { frame: number; points: number[] })

  await test.step('a drawing of the plate’s size: each shape a part, where it was drawn', async () => {
    await drawing(
      page,
      'badge.svg',
      `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 640 360"><script>window.ran = true</script>
        <defs><circle id="unused" r="9"/></defs>
        <g transform="translate(100 50)"><path id="shield" d="M0 0h200v100h-200z M50 25v50h100v-50z"/>
        <circle id="boss" cx="100" cy="50" r="20" transform="scale(1 .5)"/></g>
        <line id="pole" x1="320" y1="40" x2="320" y2="320"/></svg>`,
    )
    await expect(page.getByText('badge: 4 shapes came in.')).toBeVisible()
    await expect(editor.keeping).toHaveText('All changes kept')
    const parts = (await editor.records()).filter(({ type }) => type === 'part')
    expect(parts.map(({ name, kind, role }) => [name, kind, role])).toEqual([
      ['shield', 'outline', 'add'],
      ['shield 2', 'outline', 'cut'],
      ['boss', 'oval', 'add'],
      ['pole', 'rod', 'add'],
    ])
    expect((await keysOf(parts[0]!.id))[0]!.points.slice(0, 2)).toEqual([100, 50])
    expect((await keysOf(parts[2]!.id))[0]!.points).toEqual([200, 75, 220, 75, 200, 85])
    expect((await keysOf(parts[3]!.id))[0]!.points).toEqual([320, 40, 320, 320])
    expect(await page.evaluate('window.ran')).toBeUndefined()
  })

  await test.step('a track moves the chosen part from where it is', async () => {
    await page.getByRole('button', { name: 'pole', exact: false }).first().click()
    await track(page, 'move.csv', 'frame,x,y\n0,0,0\n5,10,-20\n10,30,0\n')
    await expect(page.getByText('pole: 3 keys came in.')).toBeVisible()
    await expect(editor.keeping).toHaveText('All changes kept')
    const { id } = (await editor.records()).find(({ name }) => name === 'pole')!
    expect((await keysOf(id)).map(({ frame, points }) => [frame, ...points])).toEqual([
      [0, 320, 40, 320, 320],
      [5, 330, 20, 330, 300],
      [10, 350, 40, 350, 320],
    ])
    await page.keyboard.press('Control+z')
    await expect(editor.keeping).toHaveText('All changes kept')
    expect(await keysOf(id)).toHaveLength(1)
  })

  await test.step('what can not be read is said, and nothing changes', async () => {
    const before = await editor.records()
    const said = async (sentence: RegExp) => {
      await expect(page.getByText(sentence)).toBeVisible()
      expect(await editor.records()).toEqual(before)
    }
    await drawing(page, 'broken.svg', '<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0')
    await said(/broken\.svg is no SVG drawing, or it is damaged/)
    const bomb = `<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa">${[...'bcdefghi'].map((e, i) => `<!ENTITY ${e} "${`&${'abcdefgh'[i]};`.repeat(10)}">`).join('')}]>`
    await drawing(page, 'bomb.svg', `${bomb}<svg xmlns="http://www.w3.org/2000/svg"><text>&i;</text></svg>`)
    await said(/bomb\.svg is no SVG drawing|There is no shape in this drawing/)
    await track(page, 'odd.csv', 'frame,x,y\n0,1,2\n1,none,3\n')
    await said(/“none” in row 3 is no number/)
  })
})
