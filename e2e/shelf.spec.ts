import { writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { Bench, expect, test } from './app.ts'
import { makeClip, runFfmpeg } from './clips.ts'

test('the shelf: new, rename, duplicate, delete and undo', async ({ page, demo }) => {
  await page.goto(demo.address)
  const ferry = page.getByRole('listitem', { name: 'The Reed Ferry' })
  await expect(ferry).toContainText('4 shots, 13.0 s')
  await expect(ferry).toContainText(/\d\d% traced/)
  await expect(ferry.getByRole('img', { includeHidden: true }).first()).toBeVisible()

  await page.getByRole('button', { name: 'New project', exact: true }).click()
  await expect(page.getByText('Drop a clip here')).toBeVisible()
  await page.getByRole('link', { name: 'To the shelf' }).click()
  await page.getByRole('button', { name: 'More for New project' }).click()
  await page.getByRole('menuitem', { name: 'Rename' }).click()
  await page.getByRole('textbox', { name: 'Name of the project' }).fill('Lantern walk')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('listitem', { name: 'Lantern walk' })).toContainText('No footage yet')

  await page.getByRole('button', { name: 'More for The Reed Ferry' }).click()
  await page.getByRole('menuitem', { name: 'Duplicate' }).click()
  await expect(page.getByRole('listitem', { name: 'The Reed Ferry copy' })).toContainText('4 shots, 13.0 s')

  await page.getByRole('button', { name: 'More for The Reed Ferry', exact: true }).click()
  await page.getByRole('menuitem', { name: 'Delete' }).click()
  await expect(page.getByRole('listitem', { name: 'The Reed Ferry', exact: true })).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('listitem', { name: 'The Reed Ferry', exact: true })).toContainText('4 shots')
})

test('bad input gets a sentence, and the application goes on', async ({ page, app, folder }) => {
  const [text, sound, good] = [join(folder, 'diary.mp4'), join(folder, 'sound.mp4'), join(folder, 'good.mp4')]
  await writeFile(text, 'dear diary, '.repeat(400))
  await makeClip(good, { width: 320, height: 180, frames: 12, sound: true })
  runFfmpeg('-i', good, '-vn', '-c', 'copy', sound)

  await page.goto(`${app.address}/project/nobody/trace`)
  await expect(page.getByRole('alert')).toContainText('no such project')
  await page.getByRole('link', { name: 'To the shelf' }).click()
  await page.goto(`${app.address}/some/where`)
  await expect(page.getByRole('alert')).toContainText('nothing under this address')

  await page.goto(app.address)
  await page.getByRole('button', { name: 'New project', exact: true }).click()
  await page.getByTestId('picker').setInputFiles([text, sound])
  await expect(page.getByText(/not a video file that Wisp Trail knows/)).toBeVisible()
  await expect(page.getByText(/no picture in this file/)).toBeVisible()
  await page.getByRole('button', { name: 'Dismiss' }).first().click()

  // An upload that is cancelled on the way and then made again.
  await page.route('**/api/footage', async (route) => {
    await new Promise((done) => setTimeout(done, 1500))
    await route.continue().catch(() => {})
  })
  await page.getByTestId('picker').setInputFiles(good)
  await page.getByRole('button', { name: 'Cancel good.mp4' }).click()
  await expect(page.getByRole('progressbar', { name: /good/ })).toHaveCount(0)
  await page.unroute('**/api/footage')
  await page.getByTestId('picker').setInputFiles(good)
  await expect(page.getByRole('row', { name: /good\.mp4/ })).toContainText('320 × 180')

  // A shot that is cut anew keeps its frames on their picture.
  await page.getByLabel('In: first frame').fill('4')
  await page.getByLabel('In: first frame').press('Enter')
  await expect(page.getByText('8 frames, 0.33 s')).toBeVisible()
  await page.getByLabel('Out: last frame').fill('2')
  await page.getByLabel('Out: last frame').press('Enter')
  await expect(page.getByText('1 frames, 0.04 s')).toBeVisible()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: /^Undo/ }).click()
  await expect(page.getByText('8 frames, 0.33 s')).toBeVisible()
})

test('effects: the card’s words are edited in place, numbers carry keys, nothing is there before the light is lit', async ({
  page,
  demo,
}) => {
  const bench = new Bench(page)
  await bench.openDemo(demo, 'Effects')
  const card = page.getByRole('article', { name: 'Blade card' })
  await card.getByRole('button', { name: 'Blending' }).click()
  await page.getByRole('option', { name: /Screen/ }).click()
  await card.getByLabel('Opacity in per cent').fill('80')
  await card.getByLabel('Opacity in per cent').press('Enter')
  await page.getByLabel('Outside', { exact: true }).fill('#ff2200')
  await page.getByLabel('Outside', { exact: true }).press('Enter')
  await expect(card).toContainText('red')
  await page.getByRole('button', { name: 'Remove halo 5' }).click()
  await page.getByRole('button', { name: 'halo', exact: true }).click()
  await page.getByLabel('Feather of halo 5').fill('90')
  await page.getByLabel('Feather of halo 5').press('Enter')

  await bench.go(40)
  await page.getByRole('button', { name: 'Key Strength here' }).click()
  await bench.go(44)
  await page.getByLabel('Strength', { exact: true }).fill('0')
  await page.getByLabel('Strength', { exact: true }).press('Enter')
  await expect(bench.keeping).toHaveText('All changes kept')
  const effect = (await bench.records()).find(
    (record) => record.type === 'effect' && record.id === 'blade-keeper',
  ) as unknown as {
    blend: string
    opacity: number
    settings: { outside: string; strength: { keys: object[] }; halos: { feather: number }[] }
  }
  expect(effect).toMatchObject({
    blend: 'screen',
    opacity: 0.8,
    settings: {
      outside: '#ff2200',
      strength: {
        keys: [
          { frame: 40, value: 1 },
          { frame: 44, value: 0 },
        ],
      },
    },
  })
  expect(effect.settings.halos.map((halo) => halo.feather)).toEqual([3, 10, 30, 60, 90])

  // Out at frame 44, burning red at 40: the canvas shows it at half size.
  const rod = (await bench.records()).filter((r) => r.type === 'key' && r.part === 'ferry-pole-shaft') as unknown as {
    frame: number
    points: number[]
  }[]
  const near = rod.reduce((a, b) => (Math.abs(b.frame - 44) < Math.abs(a.frame - 44) ? b : a))
  const [hx, hy, tx, ty] = near.points as [number, number, number, number]
  const at = [(hx + (tx - hx) * 0.3) / 2, (hy + (ty - hy) * 0.3) / 2] as const
  await bench.shows(44)
  const dark = await bench.pixel(...at)
  expect(Math.min(...dark)).toBeLessThan(200)
  await page.getByRole('button', { name: 'Before' }).click()
  await bench.shows(44)
  expect(await bench.pixel(...at)).toEqual(dark)
})
