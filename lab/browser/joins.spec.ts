import { writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { encode } from 'fast-png'
import { decodeRgb, makeClip, probe } from '../support/clips.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { EditorPage, expect, test } from './fixtures.ts'

const size = { width: 320, height: 180 }
/** A clip of one colour with a tone. */
const plainClip = (file: string, colour: string, rate: number) =>
  ffmpeg([
    ...['-f', 'lavfi', '-i', `color=c=${colour}:s=320x180:r=24:d=1`, '-f', 'lavfi', '-i', `sine=f=880:r=${rate}:d=1`],
    ...['-vf', 'scale=out_color_matrix=bt709:out_range=tv', '-colorspace', 'bt709', '-color_range', 'tv'],
    ...['-c:v', 'libx264', '-crf', '12', '-pix_fmt', 'yuv420p', '-g', '12', '-c:a', 'aac', file],
  ])
const png = (colour: number[], { width, height } = size) =>
  encode({
    width,
    height,
    channels: 4,
    data: Uint8Array.from({ length: 4 * width * height }, (_, i) => colour[i % 4]!),
  })
const near = (found: readonly number[], wanted: readonly number[], within = 4) =>
  wanted.forEach((level, c) =>
    expect(Math.abs(found[c]! - level), `${found} for ${wanted}`).toBeLessThanOrEqual(within),
  )
/** The blue of the second clip, as ffmpeg codes 0x2050c8. */
const blue = [32, 80, 200]

test('two shots are joined: the next one takes over in the picture and in the rendered film', async ({
  page,
  app,
  folder,
}) => {
  const editor = new EditorPage(page)
  await makeClip(join(folder, 'first.mp4'), { ...size, frames: 24, sound: true })
  plainClip(join(folder, 'second.mp4'), '0x2050c8', 22_050)
  await editor.newProjectWith(app, join(folder, 'first.mp4'))
  await editor.step('Footage')
  await page.getByTestId('picker').setInputFiles(join(folder, 'second.mp4'))
  const first = page.getByRole('listitem', { name: 'first' })
  const over = first.getByLabel('Joined to the next shot over frames')
  await over.fill('soon')
  await over.press('Enter')
  await expect(page.getByText('The join takes a number')).toBeVisible()
  await over.fill('8')
  await over.press('Enter')
  await expect(first).toContainText('the next shot takes over in the last')

  await first.getByRole('link', { name: 'Trace' }).click()
  await editor.step('Effects')
  await editor.atHalf()
  const card = page.getByRole('article', { name: 'Take over card' })
  await expect(card).toContainText('second over 8 frames')
  await card.click({ position: { x: 6, y: 6 } })
  await editor.go(16)
  const before = await editor.pixel(10, 10)
  expect(before[2] - before[0]).toBeLessThan(40)
  await editor.go(23)
  near(await editor.pixel(10, 10), blue)
  near(await editor.pixel(80, 60), blue)

  // By noise some places are there before others.
  await card.getByRole('button', { name: 'By', exact: true }).click()
  await page.getByRole('option', { name: 'noise' }).click()
  await editor.go(20)
  await expect
    .poll(() =>
      editor.canvas.evaluate((canvas) => {
        const { data } = (canvas as HTMLCanvasElement).getContext('2d')!.getImageData(0, 0, 160, 90)
        let taken = 0
        for (let i = 0; i < data.length; i += 4) if (data[i + 2]! > 150 && data[i]! < 60) taken++
        return taken / (data.length / 4)
      }),
    )
    .toBeGreaterThan(0.1)

  await editor.step('Output')
  await page.getByRole('button', { name: /^How much/ }).click()
  await page.getByRole('option', { name: /the whole film/ }).click()
  await expect(page.getByText('2 lanes, as AAC')).toBeVisible()
  await page.getByRole('button', { name: 'Render the film' }).click()
  const made = page.getByRole('region', { name: 'What was made' })
  await expect(made.getByRole('listitem')).toHaveCount(1, { timeout: 120_000 })
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    made.getByRole('link', { name: 'Download' }).click(),
  ])
  const film = join(folder, 'film.mp4')
  await download.saveAs(film)
  // 24 and 24 frames of which 8 run together.
  const { video, sound } = probe(film)
  expect(video).toMatchObject({ nb_read_frames: '40', width: 320, height: 180 })
  expect(sound).toMatchObject({ codec_name: 'aac' })
  const rgb = decodeRgb(film)
  const at = (frame: number, x: number, y: number) => [
    ...rgb.subarray(3 * (frame * 320 * 180 + y * 320 + x)).subarray(0, 3),
  ]
  near(at(16, 20, 20), before, 8)
  near(at(23, 20, 20), blue, 8)
  near(at(39, 200, 100), blue, 8)
})

test('a still and a numbered sequence come in; the still keeps its alpha where it is inserted', async ({
  page,
  app,
  folder,
}) => {
  const editor = new EditorPage(page)
  await makeClip(join(folder, 'plate.mp4'), { ...size, frames: 12 })
  const leaf = Uint8Array.from({ length: 4 * 64 * 64 }, (_, i) => {
    const [x, c] = [(i >> 2) % 64, i % 4]
    // The left half is there, the right half is not.
    return c === 3 ? (x < 32 ? 255 : 0) : [250, 40, 90][c]!
  })
  await writeFile(join(folder, 'leaf.png'), encode({ width: 64, height: 64, channels: 4, data: leaf }))
  await writeFile(join(folder, 'late.png'), png([9, 9, 9, 255]))
  for (let i = 0; i < 3; i++) await writeFile(join(folder, `walk_${i + 9}.png`), png([60 * i + 21, 3, 203, 255]))
  ffmpeg([
    ...['-f', 'lavfi', '-i', 'color=c=0x14c83c:s=64x64:r=24:d=0.5', '-colorspace', 'bt709', '-color_range', 'tv'],
    ...[
      '-vf',
      "scale=out_color_matrix=bt709:out_range=tv,format=yuva420p,geq=lum='p(X,Y)':cb='p(X,Y)':cr='p(X,Y)':a='if(lt(X,32),255,0)'",
    ],
    ...['-c:v', 'libvpx-vp9', '-b:v', '1M', join(folder, 'half.webm')],
  ])
  await editor.newProjectWith(app, join(folder, 'plate.mp4'))
  await editor.step('Footage')
  await page
    .getByTestId('picker')
    .setInputFiles(
      ['leaf.png', 'half.webm', 'walk_10.png', 'walk_11.png', 'walk_9.png'].map((name) => join(folder, name)),
    )
  const row = (name: string) => page.getByRole('row', { name })
  await expect(row('leaf.png')).toContainText('still')
  await expect(row('walk_9-11.png')).toContainText('0.13 s')
  const rate = page.getByRole('textbox', { name: 'Rate of walk_9-11.png' })
  // What is being typed stays, whatever comes in meanwhile.
  await rate.fill('12')
  await page.getByTestId('picker').setInputFiles(join(folder, 'late.png'))
  await expect(row('late.png')).toContainText('still')
  await expect(rate).toHaveValue('12')
  await rate.press('Enter')
  await expect(row('walk_9-11.png')).toContainText('0.25 s')
  await rate.fill('500')
  await rate.press('Enter')
  await expect(page.getByText('The rate is 1 to 240')).toBeVisible()
  await expect(rate).toHaveValue('12')

  // The sequence is a shot like any, its pixels those of its files.
  await page.getByRole('listitem', { name: /^walk/ }).getByRole('link', { name: 'Trace' }).click()
  await editor.go(2)
  expect(await editor.pixel(100, 50)).toEqual([141, 3, 203])

  await editor.step('Footage')
  await page.getByRole('listitem', { name: 'plate' }).getByRole('link', { name: 'Trace' }).click()
  await editor.step('Effects')
  await editor.atHalf()
  // Until then the other step's picture stands there, with other places.
  await expect(editor.canvas).toHaveAttribute('width', '160')
  await editor.shows(0)
  const beside = await editor.pixel(120, 45)
  await editor.addCard('Insert', 'insert')
  const card = page.getByRole('article', { name: 'Insert card' })
  await expect(card).toContainText('no clip yet')
  await card.getByRole('button', { name: 'Clip', exact: true }).click()
  await page.getByRole('option', { name: 'leaf.png' }).click()
  await expect.poll(() => editor.pixel(40, 45)).toEqual([250, 40, 90])
  expect(await editor.pixel(120, 45)).toEqual(beside)

  // A video with alpha likewise: its left half is there.
  await card.getByRole('button', { name: 'Clip', exact: true }).click()
  await page.getByRole('option', { name: 'half.webm' }).click()
  await expect.poll(async () => (await editor.pixel(40, 45))[1]).toBeGreaterThan(150)
  near(await editor.pixel(40, 45), [20, 200, 60], 6)
  expect(await editor.pixel(120, 45)).toEqual(beside)

  // Words take what their face has, and say what it has not.
  await editor.addCard('Text', 'faces')
  const text = page.getByRole('article', { name: 'Text card' }).getByRole('textbox', { name: 'Words' })
  await text.fill('IIII ж')
  await text.blur()
  await expect(page.getByRole('article', { name: 'Text card' })).toContainText('has no ж; it is left out')
  await expect(editor.keeping).toHaveText('All changes kept')
})

test('a number is driven by the loudness of the clip’s sound', async ({ page, app, folder }) => {
  const editor = new EditorPage(page)
  const file = join(folder, 'tone.mp4')
  await makeClip(file, { ...size, frames: 24, sound: true, extra: ['-af', "volume=enable='lt(t,0.5)':volume=0"] })
  await editor.newProjectWith(app, file)
  await editor.step('Effects')
  await editor.atHalf()
  await editor.addCard('Fill', 'fill')
  await page.getByLabel('Colour', { exact: true }).fill('#ffffff')
  await page.getByLabel('Colour', { exact: true }).press('Enter')
  await page.getByRole('button', { name: 'Drive Light by motion' }).click()
  const drive = page.getByRole('region', { name: 'Drive of Light' })
  await drive.getByRole('button', { name: /^Signal:/ }).click()
  await page.getByRole('option', { name: 'loudness' }).click()
  await expect(drive.getByRole('textbox', { name: 'Signal from' })).toHaveValue('-50.0')
  await drive.getByRole('textbox', { name: 'Smoothing' }).fill('0')
  await drive.getByRole('textbox', { name: 'Smoothing' }).press('Enter')
  // Silence at first, then a tone.
  await editor.go(4)
  await expect.poll(() => editor.pixel(40, 40)).toEqual([0, 0, 0])
  await editor.go(18)
  await expect.poll(async () => (await editor.pixel(40, 40))[0]).toBeGreaterThan(100)
})
