import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { decode } from 'fast-png'
import { unzipSync } from 'fflate'
import { decodeRgb, makeClip, probe, rodAt } from '../support/clips.ts'
import { EditorPage, expect, test } from './fixtures.ts'

const size = { width: 640, height: 360, frames: 48 }

test('from a clip that the demo does not ship to a burning blade in a file', async ({ page, app, folder }) => {
  const clip = join(folder, 'back garden.mp4')
  await makeClip(clip, { ...size, sound: true })
  const editor = new EditorPage(page)

  await test.step('bring it in', async () => {
    await page.goto(app.address)
    await expect(page.getByRole('region', { name: 'How to begin' })).toBeVisible()
    await page.getByRole('button', { name: 'New project', exact: true }).click()
    await page.getByTestId('picker').setInputFiles(clip)
    const row = page.getByRole('row', { name: /back garden\.mp4/ })
    for (const fact of ['640 × 360', '24 fps', '48', '2.00 s', 'H.264', 'BT.709 limited', 'AAC'])
      await expect(row).toContainText(fact)
    await page.getByRole('main').getByRole('link', { name: 'Trace' }).click()
    await editor.shows(0)
  })

  await test.step('trace it: heel, tip, and the playhead steps on', async () => {
    await page.getByRole('button', { name: /Frames that the playhead goes on/ }).click()
    await page.getByRole('option', { name: 'step 4', exact: true }).click()
    await expect(editor.hint).toContainText('Click the heel')
    for (let frame = 0; frame < 48; frame += 4) {
      await expect(editor.frame).toHaveValue(String(frame))
      const [hx, hy, tx, ty] = rodAt(frame, size)
      await editor.click(hx, hy)
      await expect(editor.hint).toContainText('Click the tip')
      await editor.click(tx, ty)
    }
    // The last frame: the ghost waits there; one key accepts it, a drag puts its tip right.
    await expect(editor.frame).toHaveValue('47')
    await expect(editor.hint).toContainText('Ghost')
    await page.keyboard.press('Enter')
    await expect(editor.keys).toHaveText('13')
    await expect(editor.keeping).toHaveText('All changes kept')
    const key = (await editor.records()).find((record) => record.type === 'key' && record.frame === 47) as unknown as {
      points: number[]
    }
    const truth = rodAt(47, size)
    await editor.drag([key.points[2]!, key.points[3]!], [truth[2], truth[3]])
    await expect(editor.keeping).toHaveText('All changes kept')
  })

  await test.step('the in-betweens lie on the prop', async () => {
    const keys = (await editor.records()).filter((record) => record.type === 'key') as unknown as {
      frame: number
      points: number[]
    }[]
    expect(keys).toHaveLength(13)
    for (const key of keys) {
      const truth = rodAt(key.frame, size)
      // A click lands on whole screen pixels; the last heel was predicted, not clicked.
      key.points.forEach((value, i) => expect(Math.abs(value - truth[i]!)).toBeLessThan(key.frame === 47 ? 6 : 1.2))
    }
  })

  await test.step('see it burn', async () => {
    await editor.step('Effects')
    await editor.atHalf()
    await page.getByRole('button', { name: 'Let Prop burn' }).click()
    await expect(page.getByRole('article', { name: 'Blade card' })).toContainText('Blade along')
    await editor.go(20)
    await expect(editor.canvas).toHaveAttribute('data-layer', 'result')
    const [hx, hy, tx, ty] = rodAt(20, size)
    // Half size: a pixel of the picture is two of the plate.
    expect(Math.min(...(await editor.pixel((hx + tx) / 4, (hy + ty) / 4)))).toBeGreaterThan(240)
  })

  await test.step('take an MP4 away', async () => {
    await editor.step('Output')
    await page.getByRole('button', { name: /^Render/ }).click()
    // A second one waits in the queue meanwhile.
    await page.getByRole('radio', { name: /PNG pictures in a zip/ }).click()
    await page.getByRole('radio', { name: /Light alone/ }).click()
    await page.getByRole('button', { name: 'Add to the queue' }).click()
    const made = page.getByRole('region', { name: 'What was made' })
    await expect(made.getByRole('listitem')).toHaveCount(2, { timeout: 120_000 })
    const take = async (name: string) => {
      const [download] = await Promise.all([
        page.waitForEvent('download'),
        made.getByRole('listitem', { name }).getByRole('link', { name: 'Download' }).click(),
      ])
      const path = join(folder, download.suggestedFilename())
      await download.saveAs(path)
      return path
    }
    const film = await take('back garden.mp4')
    const { video, sound } = probe(film)
    expect(video).toMatchObject({
      codec_name: 'h264',
      width: 640,
      height: 360,
      avg_frame_rate: '24/1',
      nb_read_frames: '48',
      pix_fmt: 'yuv420p',
    })
    expect(video).toMatchObject({
      color_range: 'tv',
      color_space: 'bt709',
      color_transfer: 'bt709',
      color_primaries: 'bt709',
    })
    expect(sound).toMatchObject({ codec_name: 'aac' })
    expect(Number(sound!.duration)).toBeCloseTo(2, 1)
    expectBladeOnTruth(decodeRgb(film))

    const pictures = unzipSync(await readFile(await take('back garden light.zip')))
    expect(Object.keys(pictures)).toHaveLength(48)
    const png = decode(pictures['back-garden-00020.png']!)
    expect(png).toMatchObject({ width: 640, height: 360, channels: 4, depth: 8 })
    const [hx, hy, tx, ty] = rodAt(20, size)
    const alpha = (x: number, y: number) => png.data[4 * (Math.round(y) * 640 + Math.round(x)) + 3]
    expect(alpha((hx + tx) / 2, (hy + ty) / 2)).toBe(255)
    expect(alpha(5, 355)).toBe(0)
  })

  await test.step('what was rendered is still there on another day', async () => {
    await page.reload()
    await expect(page.getByRole('region', { name: 'What was made' }).getByRole('listitem')).toHaveCount(2)
    await page.getByRole('button', { name: 'Delete back garden.mp4' }).click()
    await expect(page.getByRole('region', { name: 'What was made' }).getByRole('listitem')).toHaveCount(1)
  })
})

/** On every frame the middle of the true rod is white-hot, and a place well off it is not. */
function expectBladeOnTruth(rgb: Buffer): void {
  for (let frame = 0; frame < 48; frame++) {
    const [hx, hy, tx, ty] = rodAt(frame, size)
    const at = (x: number, y: number) => {
      const from = 3 * ((frame * 360 + Math.round(y)) * 640 + Math.round(x))
      return Math.min(rgb[from]!, rgb[from + 1]!, rgb[from + 2]!)
    }
    for (const u of [0.25, 0.5, 0.75]) {
      const [x, y] = [hx + (tx - hx) * u, hy + (ty - hy) * u]
      expect(at(x, y), `frame ${frame} at ${u} of the rod`).toBeGreaterThan(225)
    }
    // Opposite the hand nothing burns.
    expect(at(hx - (tx - hx) * 0.8, hy - (ty - hy) * 0.5), `frame ${frame} behind the hand`).toBeLessThan(140)
  }
}

test('a WebM holds the same frames in VP9, its sound as Opus; a render can be stopped', async ({
  page,
  app,
  folder,
}) => {
  const clip = join(folder, 'short.mp4')
  await makeClip(clip, { width: 320, height: 180, frames: 24, sound: true })
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, clip)
  await editor.step('Output')
  await page.getByRole('radio', { name: /WebM/ }).click()
  await page.getByRole('button', { name: /^Render/ }).click()
  const made = page.getByRole('region', { name: 'What was made' })
  await expect(made.getByRole('listitem')).toHaveCount(1, { timeout: 60_000 })
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    made.getByRole('link', { name: 'Download' }).click(),
  ])
  const file = join(folder, 'made.webm')
  await download.saveAs(file)
  const { video, sound } = probe(file)
  expect(video).toMatchObject({
    codec_name: 'vp9',
    width: 320,
    height: 180,
    nb_read_frames: '24',
    color_range: 'tv',
    color_space: 'bt709',
  })
  expect(sound).toMatchObject({ codec_name: 'opus' })

  await page.getByRole('button', { name: /^Render/ }).click()
  await page.getByRole('button', { name: /^Cancel/ }).click()
  await expect(page.getByRole('region', { name: 'Queue' })).toHaveCount(0)
  await expect(made.getByRole('listitem')).toHaveCount(1)
})
