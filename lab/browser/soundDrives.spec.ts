import { join } from 'node:path'
import { makeClip } from '../support/clips.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { add, made } from '../support/sounds.ts'
import { EditorPage, expect, test } from './fixtures.ts'

test('a picture grows lighter with what is heard in it, also when that moves, and in the file', async ({
  page,
  app,
  folder,
}) => {
  const clip = join(folder, 'still.mp4')
  await makeClip(clip, { width: 320, height: 180, frames: 48 })
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, clip)
  const pick = async (label: string, option: string) => {
    await page
      .getByRole('button', { name: new RegExp(`^${label}`) })
      .first()
      .click()
    await page.getByRole('option', { name: option }).click()
  }
  await editor.step('Sound')
  await editor.go(12)
  await add(page, /^Thud/)
  await expect(page.getByRole('article', { name: 'Thud card' })).toContainText('at frames 12')

  await editor.step('Effects')
  await editor.atHalf()
  await editor.addCard('Grade')
  await page.getByRole('button', { name: 'Drive Exposure by motion' }).click()
  const drive = page.getByRole('region', { name: 'Drive of Exposure' })
  await pick('Signal', 'loudness')
  await pick('Of', 'all sounds here')
  await drive.getByRole('textbox', { name: 'Number to' }).fill('2')
  await drive.getByRole('textbox', { name: 'Smoothing' }).fill('0')
  await drive.getByRole('textbox', { name: 'Smoothing' }).press('Enter')
  /** Mean of the picture's red, 0 to 255, on a frame. */
  async function light(frame: number): Promise<number> {
    await editor.go(frame)
    await editor.shows(frame)
    return editor.canvas.evaluate((canvas) => {
      const { data } = (canvas as HTMLCanvasElement).getContext('2d')!.getImageData(0, 0, 160, 90)
      return data.reduce((sum, v, i) => sum + (i % 4 ? 0 : v), 0) / (data.length / 4)
    })
  }
  const lighter = async (one: number, other: number) => (await light(one)) / (await light(other))
  await expect.poll(() => lighter(12, 8)).toBeGreaterThan(1.3)
  await test.step('a sound that is put elsewhere takes the light along', async () => {
    await editor.step('Sound')
    const sheet = (await page.getByTestId('sheet').boundingBox())!
    const x = (frame: number) => sheet.x + 178 + (frame * (sheet.width - 194)) / 47
    await page.mouse.move(x(12), sheet.y + 26 + 29)
    await page.mouse.down()
    await page.mouse.move(x(30), sheet.y + 26 + 29, { steps: 4 })
    await page.mouse.up()
    await expect(page.getByRole('article', { name: 'Thud card' })).toContainText('at frames 30')
    await editor.step('Effects')
    await expect.poll(() => lighter(30, 12)).toBeGreaterThan(1.3)
  })
  await test.step('the file has it as the picture does', async () => {
    await editor.step('Output')
    await page.getByRole('radio', { name: /^MP4 video, H.264/ }).click()
    await page.getByRole('button', { name: /^Render/ }).click()
    const path = await made(page, folder, 'still.mp4')
    const raw = ffmpeg(['-i', path, '-vf', 'scale=1:1', '-pix_fmt', 'gray', '-f', 'rawvideo', '-'])
    expect(raw.length).toBe(48)
    expect(raw[30]! / raw[12]!).toBeGreaterThan(1.2)
  })
})

test('numbers of a sound are keyed in lanes as those of effects are; its lane is cut and carried', async ({
  page,
  app,
  folder,
}) => {
  const clip = join(folder, 'still.mp4')
  await makeClip(clip, { width: 320, height: 180, frames: 48 })
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, clip)
  await editor.step('Sound')
  await add(page, /^Hum/)
  const lanes = page.getByRole('group', { name: 'What the lanes show' })
  await lanes.getByRole('button', { name: 'numbers' }).click()
  await page.getByRole('button', { name: 'Key Level here' }).click()
  await editor.go(24)
  await page.getByRole('textbox', { name: 'Level' }).first().fill('-40')
  await page.getByRole('textbox', { name: 'Level' }).first().press('Enter')
  const hum = async () => (await editor.records()).find((one) => one.type === 'sound')!
  await expect
    .poll(async () => ((await hum()).settings as { level: unknown }).level)
    .toMatchObject({
      keys: [
        { frame: 0, value: -12 },
        { frame: 24, value: -40 },
      ],
    })
  await page.getByRole('button', { name: 'held' }).click()
  await page.getByRole('button', { name: 'More for these keys' }).click()
  await page.getByRole('menuitem', { name: 'Squeeze to half the time' }).click()
  await expect
    .poll(async () => ((await hum()).settings as { level: unknown }).level)
    .toMatchObject({ keys: [{ frame: 0 }, { frame: 12, value: -40, ease: 'held' }] })
  await test.step('a sound that goes on to the end is cut at its beginning, then carried by the line between its fades', async () => {
    await lanes.getByRole('button', { name: 'sounds' }).click()
    const sheet = (await page.getByTestId('sheet').boundingBox())!
    const x = (frame: number) => sheet.x + 178 + (frame * (sheet.width - 194)) / 47
    const drag = async (from: number, to: number, y: number) => {
      await page.mouse.move(x(from), sheet.y + 26 + y)
      await page.mouse.down()
      await page.mouse.move(x(to), sheet.y + 26 + y, { steps: 4 })
      await page.mouse.up()
    }
    const card = page.getByRole('article', { name: 'Hum card' })
    await drag(0, 10, 29)
    await expect(card).toContainText('frames 10 to 47')
    await drag(25, 33, 9)
    await expect(card).toContainText('frames 18 to 47')
  })
})
